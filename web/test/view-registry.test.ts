import { describe, expect, test } from 'vitest';
import { z } from 'zod';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import type { Overview } from '../src/lib/api/picture.ts';
import type { UnderlyingSummary } from '../src/lib/api/underlying.ts';
import { keyActions } from '../src/lib/shell/key-actions.ts';
import { LeftViews } from '../src/lib/shell/left-views.ts';
import { railEntries } from '../src/lib/shell/rail-entries.ts';
import { searchEntries } from '../src/lib/shell/search-entries.ts';
import { switchUnderlying } from '../src/lib/shell/switch-underlying.ts';
import { pagesOf, viewHref } from '../src/lib/shell/view-address.ts';
import { pageTitle, type ViewDefinition, viewOfPath } from '../src/lib/shell/view-definition.ts';
import { VIEWS } from '../src/lib/views/index.ts';

/* A view is said once. One that exists only here shows that nothing else has to know of it. */

const TIDES: ViewDefinition = {
  id: 'tides',
  label: 'Tides',
  key: '8',
  subject: 'underlying',
  parameters: z.object({ moon: z.string().optional(), strike: z.string().optional() }),
  ofAnyUnderlying: ['moon'],
  leftBehind: { strike: 'the strike of the tide' },
  resources: ['surface'],
};
const ATLAS: ViewDefinition = { ...TIDES, id: 'atlas', label: 'Atlas', key: '1', subject: 'universe', leftBehind: {} };
const views = [...VIEWS, TIDES, ATLAS];
const ofUnderlying = VIEWS.filter((v) => v.subject === 'underlying' && !v.isAside);
const byId = (id: string) => views.find((v) => v.id === id) as ViewDefinition;
const at = (symbol: string, query = '') => ({ symbol, parameters: new URLSearchParams(query) });

describe('a view that is defined', () => {
  test('stands in the rail, is found, opened by its key and named in titles', () => {
    const { questions, asides } = railEntries(views, '/tides/KELPA', at('KELPA', 'asOf=live'), new LeftViews());
    expect(questions.map((e) => e.href)).toEqual(
      [...ofUnderlying.map((v) => v.id), 'tides'].map((id) => `/${id}/KELPA?asOf=live`).concat('/atlas'),
    );
    expect(questions.filter((e) => e.isHere).map((e) => e.view.id)).toEqual(['tides']);
    expect(asides.map((e) => e.view)).toEqual(VIEWS.filter((v) => v.isAside));
    expect(searchEntries(views, [], 'tid')).toMatchObject([{ kind: 'view', name: 'Tides', view: TIDES }]);
    expect(keyActions(views).tides).toEqual({ key: '8', label: 'Tides' });
    expect(pageTitle(TIDES, 'KELPA')).toBe('KELPA · Tides · Umwelt');
    expect(viewOfPath(views, '/tides/KELPA')).toBe(TIDES);
    // The look at the accessibility of all views goes through these.
    expect(pagesOf(views, 'VM50').map((p) => p.address)).toEqual(
      views.map((v) => (v.subject === 'underlying' ? `/${v.id}/VM50` : `/${v.id}`)),
    );
  });

  test('is asked of another underlying by what it says of its parameters', () => {
    const url = new URL('http://localhost/tides/KELPA?moon=full&strike=95');
    expect(switchUnderlying(views, url, 'MERRO', { expiries: [] } as unknown as Overview)).toEqual({
      href: '/tides/MERRO?moon=full',
      leftBehind: ['the strike of the tide'],
    });
  });

  test('is not shown where there is nothing to show of it', () => {
    const { questions, asides } = railEntries(views, '/data', undefined, new LeftViews());
    expect(questions.map((e) => e.href)).toEqual(['/atlas']);
    expect(asides.map((e) => e.href)).toEqual(['/pricer', '/data']);
  });
});

test('search finds underlyings in any case before views, and views only by what is typed', () => {
  const kelpa = { symbol: 'KELPA', name: 'Kelpa Foods', sector: 'food' } as UnderlyingSummary;
  expect(searchEntries(VIEWS, [kelpa], '').map((e) => e.id)).toEqual(['KELPA']);
  expect(searchEntries(VIEWS, [kelpa], 'kElPa').map((e) => e.id)).toEqual(['KELPA']);
  expect(searchEntries(VIEWS, [kelpa], 'chain').map((e) => e.id)).toEqual(['view chain']);
});

describe('from view to view', () => {
  test('instant, expiries and assumptions go along; what is of one view alone does not', () => {
    const shared = 'asOf=live&expiries=2031-04-18&carry=known&restored=2031-03-21/125/call';
    const here = at('KELPA', `${shared}&lines=wings&compare=MERRO&workings=atm30&skew=replay`);
    for (const view of VIEWS.filter((v) => v.subject === 'underlying'))
      expect(viewHref(view, here, new LeftViews()), view.id).toBe(`/${view.id}/KELPA?${shared}`);
  });

  test('a view entered again stands as it was left, of another underlying as far as that has a meaning', () => {
    const left = new LeftViews();
    left.leave(byId('skew'), 'KELPA', new URLSearchParams('asOf=live&skew=replay&axis=delta&workings=atm30'));
    left.leave(byId('pricer'), 'KELPA', new URLSearchParams('strike=95&panel=decay&expiry=2031-04-18'));
    expect(viewHref(byId('skew'), at('KELPA'), left)).toBe('/skew/KELPA?skew=replay&axis=delta&workings=atm30');
    expect(viewHref(byId('skew'), at('MERRO'), left)).toBe('/skew/MERRO?skew=replay&axis=delta');
    expect(viewHref(byId('pricer'), at('KELPA'), left)).toBe('/pricer/KELPA?strike=95&panel=decay');
    expect(viewHref(byId('pricer'), at('MERRO'), left)).toBe('/pricer/MERRO?panel=decay');
  });

  test('where nothing is shown of an underlying, the last one is what is gone back to', () => {
    const kept = new Map<string, string>();
    const keeper = {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => void kept.set(k, v),
    };
    new LeftViews(keeper).leave(byId('term'), 'KELPA', new URLSearchParams('asOf=live&lines=wings'));
    // The page was loaded anew.
    const left = new LeftViews(keeper);
    expect(viewHref(byId('term'), left.last, left)).toBe('/term/KELPA?asOf=live&lines=wings');
    expect(viewHref(byId('chain'), left.last, left)).toBe('/chain/KELPA?asOf=live');
    kept.set('left-views', '{"views":7}');
    expect(new LeftViews(keeper).last).toBeUndefined();
  });
});

test('no two views share an id or a key, and none calls a parameter as the shared context does unless it means its own', () => {
  expect(new Set(VIEWS.map((v) => v.id)).size).toBe(VIEWS.length);
  const keys = Object.values(keyActions(VIEWS)).map((a) => a.key);
  expect(new Set(keys).size).toBe(keys.length);
  const clashes = VIEWS.flatMap((v) => Object.keys(v.parameters.shape).filter((name) => name in asOfContext.shape));
  // The Pricer counts by position, too.
  expect(clashes).toEqual(['basis']);
});
