import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { LiveState } from '../../src/lib/shell/live-state.svelte.ts';
import { contextKeys } from '../../src/lib/shell/context-keys.ts';
import { KeySettings } from '../../src/lib/shell/keys.svelte.ts';
import type { PageState } from '../../src/lib/shell/page-state.svelte.ts';
import type { ViewState } from '../../src/lib/shell/view-state.svelte.ts';
import { VIEWS } from '../../src/lib/views/index.ts';
import { CHAIN_COLUMNS } from '../../src/lib/views/chain/chain-columns.ts';
import { LEAST_WIDTH, MOST_WIDTH } from '../../src/lib/ui/table/table-column.ts';
import { TableLayout } from '../../src/lib/ui/table/table-layout.svelte.ts';

/* Settings that stay in the browser: what is kept comes back, what cannot be read is the default, keys do what they say. */

let kept: Map<string, string>;
beforeEach(() => {
  kept = new Map();
  vi.stubGlobal('localStorage', {
    getItem: (name: string) => kept.get(name) ?? null,
    setItem: (name: string, value: string) => void kept.set(name, value),
  });
  vi.stubGlobal('HTMLElement', Map);
  vi.stubGlobal('document', { querySelector: () => null });
});
afterEach(() => vi.unstubAllGlobals());

const press = (key: string, o: Partial<KeyboardEvent> = {}) => ({ key, target: null, ...o }) as KeyboardEvent;
const loaded = () => {
  const keys = new KeySettings(VIEWS);
  keys.load();
  return keys;
};

describe('keys', () => {
  test('open views and do what is fixed, unless they are off or another key is held with them', () => {
    const keys = loaded();
    for (const view of VIEWS) expect(keys.actionOf(press(view.key))).toBe(view.id);
    expect(keys.actionOf(press('['))).toBe('previousInstant');
    for (const held of ['ctrlKey', 'metaKey'] as const)
      expect(keys.actionOf(press('3', { [held]: true }))).toBeUndefined();
    keys.isOn = false;
    expect(keys.actionOf(press('3'))).toBeUndefined();
    // The arrows with Alt step all the same.
    expect(keys.actionOf(press('ArrowLeft', { altKey: true }))).toBe('previousInstant');
  });

  test('that were changed are kept, and the old one does nothing then', () => {
    const keys = loaded();
    keys.changed.term = 'x';
    keys.isOn = true;
    keys.save();
    const again = loaded();
    expect([again.actionOf(press('x')), again.actionOf(press('3'))]).toEqual(['term', undefined]);
  });

  test('whatever is kept, nothing but known actions and single keys comes back', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.json(), fc.string(), fc.constant('{"changed":{"term":"long","tides":"x","skew":"y"}}')),
        (text) => {
          kept.set('keys', text);
          const keys = loaded();
          for (const [action, key] of Object.entries(keys.changed)) {
            expect(keys.actions).toHaveProperty(action);
            expect(key).toHaveLength(1);
          }
          expect(typeof keys.isOn).toBe('boolean');
        },
      ),
    );
  });

  test('of instants, expiries and the feed reach what they are about, those of the feed only while live', () => {
    const did: string[] = [];
    const note =
      (name: string) =>
      (...args: unknown[]) => {
        did.push([name, ...args.map((a) => JSON.stringify(a))].join(' '));
        return Promise.resolve();
      };
    const isLive = { now: false };
    const view = {
      stepping: {
        instant: note('instant'),
        session: note('session'),
        expiry: note('expiry'),
        showExpiries: note('show'),
      },
      live: {
        get isLive() {
          return isLive.now;
        },
        toggle: note('toggle'),
      },
    } as unknown as ViewState;
    const live = {
      command: note('feed'),
      status: { feed: { state: 'stopped', isToRun: true } },
    } as unknown as LiveState;
    const shell = { keys: loaded(), isGoToOpen: false } as unknown as PageState;
    let prevented = 0;
    const strike = (key: string) =>
      contextKeys(press(key, { preventDefault: () => void prevented++ }), shell, view, live);
    for (const key of ['[', ']', '{', '}', ',', '.', 'm', 'a', 'n', 'l', 'f', 's', 'g', '7']) strike(key);
    expect(did).toEqual([
      'instant -1',
      'instant 1',
      'session -1',
      'session 1',
      'expiry -1',
      'expiry 1',
      'show "monthly"',
      'show "all"',
      'show "none"',
      'toggle',
    ]);
    expect([shell.isGoToOpen, prevented]).toEqual([true, 11]);
    isLive.now = true;
    for (const key of ['f', 's']) strike(key);
    expect(did.slice(-2)).toEqual(['feed {"action":"pause"}', 'feed {"action":"step"}']);
    // An open dialog has the keys for itself.
    vi.stubGlobal('document', { querySelector: () => ({}) });
    strike('[');
    expect(did).toHaveLength(12);
  });
});

describe('the columns of a table', () => {
  const fixed = { id: 'strike', isFixed: true };
  const ids = CHAIN_COLUMNS.map((c) => c.id);
  const layoutOf = () => new TableLayout('chain-columns', [fixed, ...CHAIN_COLUMNS]);
  const usually = CHAIN_COLUMNS.filter((c) => !c.isExtra).map((c) => c.id);

  test('come and go, move, take a width, and are kept so', () => {
    const layout = layoutOf();
    layout.load();
    expect([layout.isUsual, layout.shown]).toEqual([true, usually]);
    layout.toggle('gamma');
    layout.toggle('bid');
    layout.move('gamma', -1);
    layout.resize('strike', 91.4);
    const again = layoutOf();
    again.load();
    const usual = usually.filter((id) => id !== 'bid');
    expect(again.shown).toEqual([...usual.slice(0, -1), 'gamma', usual[usual.length - 1]]);
    expect(again.widths).toEqual({ strike: 91 });
    expect(again.isUsual).toBe(false);
    again.reset();
    expect([again.shown, again.widths]).toEqual([usually, {}]);
  });

  test('are taken back and done again as they were', () => {
    const noted: { undo(): void; redo(): void }[] = [];
    const layout = new TableLayout('chain-columns', CHAIN_COLUMNS, (change) => noted.push(change));
    layout.toggle('gamma');
    layout.resize('gamma', 120);
    noted[1].undo();
    noted[0].undo();
    expect([layout.shown, layout.widths]).toEqual([usually, {}]);
    noted[0].redo();
    noted[1].redo();
    expect([layout.shown.at(-1), layout.widths]).toEqual(['gamma', { gamma: 120 }]);
  });

  test('are known ones, each once, never none and never too narrow, whatever is done and whatever was kept', () => {
    const kinds = fc.constantFrom('toggle', 'before', 'after', 'resize');
    const steps = fc.array(fc.tuple(kinds, fc.constantFrom(...ids), fc.double()), { maxLength: 60 });
    const names = fc.array(fc.oneof(fc.constantFrom<string>(...ids), fc.string()));
    const before = fc.oneof(
      names,
      fc.record({ shown: names, widths: fc.dictionary(fc.string(), fc.double()) }),
      fc.json(),
    );
    fc.assert(
      fc.property(steps, fc.option(before), (done, was) => {
        kept.clear();
        if (was) kept.set('chain-columns', typeof was === 'string' ? was : JSON.stringify(was));
        const layout = layoutOf();
        layout.load();
        for (const [what, id, width] of done) {
          if (what === 'toggle') layout.toggle(id);
          else if (what === 'resize') layout.resize(id, width);
          else layout.move(id, what === 'before' ? -1 : 1);
        }
        expect(layout.shown.length).toBeGreaterThan(0);
        expect(new Set(layout.shown).size).toBe(layout.shown.length);
        expect(ids).toEqual(expect.arrayContaining([...layout.shown]));
        for (const width of Object.values(layout.widths)) {
          expect(width).toBeGreaterThanOrEqual(LEAST_WIDTH);
          expect(width).toBeLessThanOrEqual(MOST_WIDTH);
        }
      }),
    );
  });
});
