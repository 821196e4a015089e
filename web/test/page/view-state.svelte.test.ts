import { flushSync } from 'svelte';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { BorrowResponse } from '../../src/lib/api/borrow.ts';
import type { Picture } from '../../src/lib/api/picture.ts';
import type { LiveState } from '../../src/lib/shell/live-state.svelte.ts';
import { Changes } from '../../src/lib/shell/changes.svelte.ts';
import { ViewState } from '../../src/lib/shell/view-state.svelte.ts';
import { madePicture } from '../made-picture.ts';
import { preloaded, went } from './app/navigation.ts';
import { page } from './app/state.svelte.ts';

/* What a view stands on: every change goes through the address, and what is shown follows it, the feed, and who lends smiles. */

const HERE = 'http://localhost/skew/FJRD';
let answers: Record<string, BorrowResponse>;
let leave: (() => void) | undefined;
beforeEach(() => {
  page.url = new URL(HERE);
  [went.length, preloaded.length] = [0, 0];
  answers = {};
  vi.stubGlobal('fetch', (address: string) =>
    Promise.resolve(
      Response.json(answers[address.split('?')[0]] ?? ({ state: null, expiries: {} } satisfies BorrowResponse)),
    ),
  );
});
afterEach(() => {
  leave?.();
  vi.unstubAllGlobals();
});

const settle = () => new Promise((resolve) => setTimeout(resolve));
const at = (query: string) => {
  page.url = new URL(query === '' ? HERE : `${HERE}?${query}`);
  flushSync();
};
const query = () => Object.fromEntries(page.url.searchParams);

/** A view of a picture that the test changes, with a feed that it speaks for. */
function viewOf(first: Picture, changes?: Changes) {
  let loaded = $state.raw(first);
  let brought = $state.raw<{ topic: string; picture: Picture; at: number }>();
  const live = {
    get picture() {
      return brought;
    },
  } as LiveState;
  let view: ViewState<Picture> | undefined;
  leave = $effect.root(() => {
    view = new ViewState(() => loaded, live, changes);
  });
  flushSync();
  if (!view) throw new Error('not made');
  return {
    view,
    load(next: Picture) {
      loaded = next;
      flushSync();
    },
    bring(topic: string, picture: Picture) {
      brought = { topic, picture, at: 0 };
      flushSync();
    },
  };
}

const DATES = ['2031-03-28', '2031-04-18', '2031-05-16', '2031-06-20'];
const picture = madePicture();

describe('expiries', () => {
  test('in focus is the first monthly ten days or more away, the chosen one, or the one nearest to a tenor', () => {
    const { view } = viewOf(picture);
    expect(view.focus?.date).toBe('2031-04-18');
    at('expiry=2031-06-20');
    expect(view.focus?.date).toBe('2031-06-20');
    at('tenor=60');
    expect(view.focus?.date).toBe('2031-05-16');
    at('expiries=2031-03-28');
    expect(view.focus?.date).toBe('2031-03-28');
  });

  test('step to the one before and after among those shown, and stay at the ends', async () => {
    const { view } = viewOf(picture);
    const seen: string[] = [];
    for (const step of [1, 1, 1, -1, -1, -1, -1] as const) {
      await view.stepping.expiry(step);
      seen.push(query().expiry);
    }
    expect(seen.map((date) => DATES.indexOf(date))).toEqual([2, 3, 3, 2, 1, 0, 0]);
    expect(went.every((w) => w.isReplaced)).toBe(true);
  });

  test('are shown all, monthly ones or none; the chosen one stays in focus where it is shown', async () => {
    const { view } = viewOf(picture);
    at('expiry=2031-05-16');
    await view.stepping.showExpiries('monthly');
    expect(query()).toEqual({ expiries: 'monthly', expiry: '2031-05-16' });
    expect(view.shown.map((e) => e.date)).toEqual(DATES.slice(1));
    await view.stepping.showExpiries('none');
    expect(query()).toEqual({ expiries: '' });
    expect([view.shown, view.focus]).toEqual([[], undefined]);
    await view.stepping.showExpiries('all');
    expect(query()).toEqual({});
  });

  test('monthly ones come without one that the others contradict, which only its own click brings', async () => {
    const odd = {
      ...picture,
      expiries: picture.expiries.map((e) => (e.date === DATES[2] ? { ...e, outlier: { expected: 0.2 } } : e)),
    };
    const { view } = viewOf(odd);
    await view.stepping.showExpiries('monthly');
    expect(view.shown.map((e) => e.date)).toEqual([DATES[1], DATES[3]]);
    await view.stepping.clickExpiry(DATES[2]);
    expect(view.shown.map((e) => e.date)).toEqual(DATES.slice(1));
  });

  test('are taken back and done again, whatever else was done in between; what is typed is one change', async () => {
    const changes = new Changes();
    const { view } = viewOf(picture, changes);
    const path = page.url.pathname;
    await view.stepping.showExpiries('monthly');
    await view.stepping.clickExpiry(DATES[1]);
    expect(went.every((w) => !w.isReplaced)).toBe(true);
    await view.address.set({ asOf: '2031-03-13T17:00:00Z' }, { isStep: true });
    for (const typed of ['0.2', '0.25', '0.251'])
      await view.address.set({ volatilitySource: 'typed', typedVolatility: typed });
    const asOf = '2031-03-13T17:00:00Z';
    const three = { expiries: `${DATES[2]},${DATES[3]}`, asOf };
    expect(query()).toEqual({ ...three, volatilitySource: 'typed', typedVolatility: '0.251' });
    // Choosing the source was a change, too; the numbers after it are one.
    expect([changes.undo(path), changes.undo(path)]).toEqual(['volatility for theory', 'volatility for theory']);
    expect(query()).toEqual(three);
    expect(changes.undo(path)).toBe('expiries shown');
    expect(query()).toEqual({ expiries: 'monthly', asOf });
    expect(changes.undo('/term/FJRD')).toBeUndefined();
    expect([changes.undo(path), changes.undo(path)]).toEqual(['expiries shown', undefined]);
    expect(query()).toEqual({ asOf });
    for (let i = 0; i < 4; i++) changes.redo(path);
    expect(query()).toEqual({ ...three, volatilitySource: 'typed', typedVolatility: '0.251' });
    changes.undo(path);
    await view.stepping.showExpiries('none');
    expect(changes.redo(path)).toBeUndefined();
  });

  test('that are clicked come in and into focus, and out where they are in focus', async () => {
    const { view } = viewOf(picture);
    at('expiries=2031-04-18&tenor=60');
    await view.stepping.clickExpiry('2031-06-20');
    // A click ends the search for a tenor.
    expect(query()).toEqual({ expiries: '2031-04-18,2031-06-20', expiry: '2031-06-20' });
    await view.stepping.clickExpiry('2031-06-20');
    expect(query()).toEqual({ expiries: '2031-04-18' });
    view.act('show-expiry:2031-03-28');
    await settle();
    expect(query()).toEqual({ expiries: '2031-03-28,2031-04-18', expiry: '2031-03-28' });
  });
});

describe('instants', () => {
  const latest = '2031-03-14T13:00:00Z';
  const around = (o: Partial<Picture>) => ({ ...picture, latest, ...o });
  const before = '2031-03-13T16:30:00Z';

  test('step by one or by a session, fetch the next one ahead, and name the latest by not being named', async () => {
    const { view, load } = viewOf(around({ previous: '2031-03-14T12:45:00Z', previousSession: before }));
    await view.stepping.instant(-1);
    expect(query().asOf).toBe('2031-03-14T12:45:00Z');
    expect(preloaded).toHaveLength(1);
    await view.stepping.session(-1);
    expect(query().asOf).toBe(before);
    expect(went.at(-1)?.isReplaced).toBe(false);
    load(around({ asOf: before, next: latest, nextSession: latest }));
    await view.stepping.session(1);
    expect(query()).toEqual({});
  });

  test('after the latest comes the market as it runs, before the first nothing', async () => {
    const { view } = viewOf(around({}));
    await view.stepping.instant(-1);
    expect(went).toEqual([]);
    await view.stepping.instant(1);
    expect(query()).toEqual({ asOf: 'live' });
    await view.stepping.instant(1);
    expect(went).toHaveLength(1);
    await view.live.toggle();
    expect(query()).toEqual({});
  });

  test("live, the feed's newer picture is shown; one of another topic or older than the page is not", () => {
    at('asOf=live&forwardSource=carry&axis=delta');
    const seen = { ...picture, isLive: true };
    const { view, bring, load } = viewOf(seen);
    expect(view.live.topic).toBe('FJRD?forwardSource=carry');
    const newer = { ...seen, asOf: '2031-03-14T13:00:09Z', price: 101 };
    bring('KELPA', newer);
    expect(view.picture.price).toBe(100);
    bring('FJRD?forwardSource=carry', newer);
    expect([view.picture.price, view.live.minute]).toEqual([101, '2031-03-14T13:00:59Z']);
    load({ ...seen, asOf: '2031-03-14T13:00:20Z', price: 102 });
    expect(view.picture.price).toBe(102);
    at('forwardSource=carry');
    expect([view.live.topic, view.live.isLive]).toEqual([undefined, false]);
  });
});

test('a smile that is lent stands on the expiries it is lent for, and is asked for anew when the link changed', async () => {
  const borrowed: BorrowResponse['expiries'][string] = {
    ...{ donor: 'VM50', donorExpiry: '2031-04-18', isOtherDate: false },
    base: { smile: { model: 'flat', parameters: { volatility: 0.4 } }, years: 0.1 },
    steps: [],
  };
  const { view } = viewOf(picture);
  await settle();
  expect(view.picture).toBe(picture);
  answers['/api/v1/underlyings/FJRD/borrow'] = { state: null, expiries: { '2031-04-18': borrowed } };
  view.borrowing.changed();
  flushSync();
  await settle();
  expect(view.picture.expiries.map((e) => e.borrowed?.donor)).toEqual([undefined, 'VM50', undefined, undefined]);
  expect(view.focus?.borrowed).toEqual(borrowed);
});

test('a quote that is put back stands in the address and is taken out by the same click', async () => {
  const { view } = viewOf(picture);
  await view.toggleRestored('2031-04-18', 92, 'put');
  await view.toggleRestored('2031-05-16', 108, 'call');
  expect(query().restored).toBe('2031-04-18/92/put,2031-05-16/108/call');
  expect([view.isRestored('2031-04-18', 92, 'put'), view.isRestored('2031-04-18', 92, 'call')]).toEqual([true, false]);
  await view.toggleRestored('2031-04-18', 92, 'put');
  expect(query().restored).toBe('2031-05-16/108/call');
  view.act('restore-all');
  await settle();
  expect(query()).toEqual({});
});

test('Workings are opened and closed by the address, and lead to the Pricer with their option', () => {
  const { view } = viewOf(picture);
  view.openWorkings('theory~2031-05-16~96~put');
  flushSync();
  expect(view.workingsId).toBe('theory~2031-05-16~96~put');
  const workings = view.explain('theory~2031-05-16~96~put');
  expect(workings?.value).toBeGreaterThan(1);
  expect(view.explain('theory~2031-05-16~95.5~put')).toBeUndefined();
  expect(view.pricerHref('theory~2031-05-16~96~put')).toBe(
    '/pricer/FJRD?expiry=2031-05-16&strike=96&side=put&panel=market',
  );
  view.closeWorkings();
  flushSync();
  expect([view.workingsId, query()]).toEqual([undefined, {}]);
});

test('theory is stamped by what it is of: by the instant, or the same through all waves while live', () => {
  const { view } = viewOf(picture);
  expect(view.theoryStamp).toBe(`FJRD ${picture.asOf}`);
  at('asOf=live');
  expect(view.theoryStamp).toBe('FJRD live');
});
