import { flushSync } from 'svelte';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { marketInputs } from '../../src/lib/theory/index.ts';
import { Changes } from '../../src/lib/shell/changes.svelte.ts';
import { PricerState } from '../../src/lib/views/pricer/pricer-state.svelte.ts';
import type { LiveState } from '../../src/lib/shell/live-state.svelte.ts';
import { ViewState } from '../../src/lib/shell/view-state.svelte.ts';
import type { Picture } from '../../src/lib/api/picture.ts';
import { madePicture } from '../made-picture.ts';
import { went } from './app/navigation.ts';
import { page } from './app/state.svelte.ts';

/* The Pricer's inputs: the market's, with the user's own over them; all that is one's own stands in the address and can be undone. */

const picture = madePicture();
let leave: (() => void) | undefined;
beforeEach(() => {
  vi.useFakeTimers();
  went.length = 0;
  vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ state: null, expiries: {} })));
});
afterEach(() => {
  leave?.();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

function pricerAt(query: string, o: { isAlone?: boolean; changes?: Changes } = {}): PricerState {
  page.url = new URL(`http://localhost/pricer/FJRD${query === '' ? '' : `?${query}`}`);
  let pricer: PricerState | undefined;
  leave = $effect.root(() => {
    const view = o.isAlone ? undefined : new ViewState<Picture>(() => picture, {} as LiveState);
    pricer = new PricerState(view, page.url.searchParams, o.changes);
  });
  flushSync();
  if (!pricer) throw new Error('not made');
  return pricer;
}
const query = () => Object.fromEntries(page.url.searchParams);
const written = () => {
  vi.advanceTimersByTime(1000);
  flushSync();
  return query();
};

describe('inputs', () => {
  test('are those of the expiry in focus at the strike nearest to the forward, and follow it', () => {
    const pricer = pricerAt('');
    const focus = pricer.view?.focus;
    expect(focus?.date).toBe('2031-04-18');
    if (!focus) return;
    expect(pricer.inputs).toEqual(marketInputs(picture, focus, { inForce: { source: 'smile', level: null } }));
    expect(pricer.inputs).toMatchObject({ strike: 100, multiplier: 10, exercise: 'european', contracts: 1 });
    page.url = new URL('http://localhost/pricer/FJRD?expiry=2031-06-20');
    flushSync();
    expect(pricer.inputs.days).toBeCloseTo(picture.expiries[3].days, 9);
  });

  test('that are typed stand over them and in the address, the others go on following', () => {
    const pricer = pricerAt('strike=104&volatility=0.3&side=put');
    expect(pricer.inputs).toMatchObject({ strike: 104, volatility: 0.3, side: 'put' });
    pricer.set({ days: 12 });
    expect(written()).toEqual({ strike: '104', volatility: '0.3', side: 'put', days: '12' });
    expect(went.at(-1)?.isReplaced).toBe(true);
    pricer.reset('volatility');
    const [focus] = picture.expiries.filter((e) => e.date === '2031-04-18');
    const inForce = { source: 'smile', level: null } as const;
    expect(pricer.inputs.volatility).toBe(
      marketInputs(picture, focus, { side: 'put', strike: 104, inForce }).volatility,
    );
    pricer.reset();
    expect(written()).toEqual({});
  });

  test('of no market are plain ones', () => {
    const pricer = pricerAt('strike=90', { isAlone: true });
    expect(pricer.inputs).toMatchObject({ strike: 90, underlying: 100 });
    expect([pricer.stamp, pricer.decimals, pricer.valueDecimals]).toEqual(['typed inputs', 2, 4]);
  });
});

describe('undo', () => {
  test('takes changes back one by one, those of a drag as one', () => {
    const pricer = pricerAt('');
    expect(pricer.canUndo).toBe(false);
    pricer.set({ strike: 96 });
    vi.advanceTimersByTime(2000);
    for (const volatility of [0.3, 0.31, 0.32]) {
      pricer.set({ volatility });
      vi.advanceTimersByTime(100);
    }
    pricer.pin();
    pricer.set({ days: 5 });
    const seen: unknown[] = [];
    while (pricer.canUndo) {
      pricer.undo();
      seen.push({ ...pricer.own, pinned: pricer.pinned?.volatility });
    }
    expect(seen).toEqual([
      { strike: 96, volatility: 0.32, pinned: 0.32 },
      { strike: 96, volatility: 0.32, pinned: undefined },
      { strike: 96, pinned: undefined },
      { pinned: undefined },
    ]);
    pricer.undo();
    expect(written()).toEqual({});
  });

  test('what was taken back is done again, and another page knows nothing of it', () => {
    const changes = new Changes();
    const pricer = pricerAt('', { changes });
    const path = page.url.pathname;
    pricer.set({ strike: 96 });
    pricer.reset('strike');
    expect([changes.undo(path), pricer.own, changes.undo(path), pricer.own]).toEqual([
      'own inputs',
      { strike: 96 },
      'strike',
      {},
    ]);
    expect([changes.redo(path), pricer.own]).toEqual(['strike', { strike: 96 }]);
    expect(changes.last('/term/VM50')).toBeUndefined();
    changes.forget(pricer);
    expect(changes.undo(path)).toBeUndefined();
  });
});

describe('the address', () => {
  test('holds the pinned state and how it is looked at, and gives both back', () => {
    const pricer = pricerAt('volatility=0.4');
    pricer.pin();
    pricer.choose({ panel: 'decay', decayDays: 3, basis: 'position' });
    pricer.set({ volatility: 0.5 });
    const { pinned, ...rest } = written();
    expect(rest).toEqual({ volatility: '0.5', panel: 'decay', decayDays: '3', basis: 'position' });
    const again = pricerAt(new URLSearchParams({ pinned, ...rest }).toString());
    expect(again.pinned).toEqual({ ...pricer.pinned });
    expect(again.settings).toMatchObject({ panel: 'decay', decayDays: 3, basis: 'position' });
    again.unpin();
    expect(written()).toEqual(rest);
  });

  test('that was changed by Back or a link is followed, its own writing is not read again', () => {
    const pricer = pricerAt('strike=96');
    const to = { url: new URL('http://localhost/pricer/FJRD?strike=92&panel=market') };
    pricer.follow({ type: 'goto', to } as never);
    expect(pricer.own).toEqual({ strike: 96 });
    pricer.set({ strike: 98 });
    pricer.follow({ type: 'popstate', to } as never);
    expect([pricer.own, pricer.settings.panel]).toEqual([{ strike: 92 }, 'market']);
    // What was about to be written is of the state that was left.
    vi.advanceTimersByTime(1000);
    expect(went).toEqual([]);
  });

  test('what is malformed in it is the default, one by one', () => {
    const pricer = pricerAt('strike=low&volatility=-1&panel=tides&decayDays=0&days=20');
    expect(pricer.own).toEqual({ days: 20 });
    expect(pricer.settings).toMatchObject({ panel: 'curve', decayDays: 1 });
  });
});

test('the later expiry beside it is the next of the market, or as long again where none is', () => {
  const pricer = pricerAt('expiry=2031-04-18');
  expect(pricer.far.date).toBe('2031-05-16');
  expect(pricer.far.days).toBeCloseTo(picture.expiries[2].days, 9);
  pricer.choose({ farDays: 300, farVolatility: 0.6 });
  expect(pricer.far).toMatchObject({ days: 300, volatility: 0.6 });
  const alone = pricerAt('days=40&volatility=0.2', { isAlone: true });
  expect(alone.far).toMatchObject({ days: 80, volatility: 0.2 });
});

test('targets of the searches are made of the value, and of what is typed', () => {
  const pricer = pricerAt('side=put');
  expect(pricer.targets).toMatchObject({ targetPrice: undefined, targetDelta: -0.25, decayDays: 1 });
  expect(pricer.solveRequest).toBeUndefined();
  pricer.choose({ targetPrice: 2.5, targetValue: 1, targetDelta: 0.4 });
  expect(pricer.targets).toMatchObject({ targetPrice: 2.5, targetDelta: -0.4, targetValue: 1 });
  expect(pricer.solveRequest).toMatchObject({ targetPrice: 2.5, inputs: { side: 'put' } });
});
