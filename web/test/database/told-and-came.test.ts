import { dateText, sessionsUpTo, TODAY_DAY } from '@umwelt/market/veldmar';
import { beforeAll, describe, expect, test } from 'vitest';
import { recordChoice } from '../../src/lib/api/odds-record.ts';
import { freezeRequest } from '../../src/lib/api/range.ts';
import { storeDemoChains, storeDemoMeasures } from '../../src/lib/server/demo/demo-chains.ts';
import { frozenVerdict } from '../../src/lib/server/derive/frozen-verdict.ts';
import { LEAD, REACH } from '../../src/lib/server/derive/interest-record.ts';
import { sessionBars } from '../../src/lib/server/derive/session-bars.ts';
import { freezeLevels, frozenUntil, restoreLevels, thawLevels } from '../../src/lib/server/services/frozen-levels.ts';
import { interestRecordOf, oddsRecord } from '../../src/lib/server/services/odds-record.ts';
import { expectedRanges } from '../../src/lib/server/services/range.ts';
import { demoStore } from './demo-store.ts';

/* What was told of the price before, held against what came: levels that were kept, odds, moves of events, open interest. */

const store = demoStore();

describe('frozen levels', () => {
  const bar = (session: string, close: number) => ({ session, open: close, high: close + 1, low: close - 1, close });
  const level = { date: '2031-01-10', forward: 100, low: 95, high: 105, coverage: 0.6 };
  const bars = (closes: [string, number][], splits: { session: string; ratio: number }[] = []) =>
    sessionBars({ bars: closes.map(([session, close]) => bar(session, close)), dividends: [], splits });

  test('are judged by closes alone, up to the expiry, from the session that they were kept in', () => {
    const at = (closes: [string, number][]) =>
      frozenVerdict(level, { session: '2031-01-06', isOver: false }, bars(closes));
    const held = at([
      ['2031-01-03', 80],
      ['2031-01-06', 100],
      ['2031-01-08', 106],
      ['2031-01-10', 104],
      ['2031-01-13', 50],
    ]);
    expect(held).toMatchObject({ state: 'inside', settled: 104, left: '2031-01-08' });
    expect(held.distance).toBeCloseTo(1 / 105, 12);
    const lost = at([
      ['2031-01-06', 100],
      ['2031-01-10', 90],
    ]);
    expect(lost).toMatchObject({ state: 'outside', settled: 90, left: '2031-01-10' });
    expect(lost.distance).toBeCloseTo(-5 / 95, 12);
    // At the end of its session that close is what it was kept at.
    const late = frozenVerdict(level, { session: '2031-01-06', isOver: true }, bars([['2031-01-06', 200]]));
    expect(late).toMatchObject({ state: 'open', settled: null, left: null });
    // Before the expiry has come nothing is settled; before any session has ended nothing is known.
    expect(at([['2031-01-06', 100]])).toMatchObject({ state: 'open', settled: 100, left: null });
    expect(at([['2031-01-03', 80]])).toMatchObject({ state: 'open', settled: null, distance: null });
  });

  test('a split in between leaves them as they were', () => {
    const split = frozenVerdict(
      level,
      { session: '2031-01-06', isOver: false },
      bars(
        [
          ['2031-01-06', 100],
          ['2031-01-10', 52],
        ],
        [{ session: '2031-01-10', ratio: 2 }],
      ),
    );
    expect(split).toMatchObject({ state: 'inside', settled: 104 });
  });

  test('are kept with their owner, listed from their instant on, and gone once deleted', async () => {
    const { database } = store.connection;
    const picture = await store.picture('MERRO');
    const stored = await store.underlying('MERRO');
    const request = freezeRequest.parse({ name: ' before the readout ', move: 'oneSigma', expiries: ['2031-03-28'] });
    const kept = await freezeLevels(database, stored, { owner: 'local', picture, request });
    if (!kept.ok) throw new Error(kept.reason);
    const [range] = (await expectedRanges(picture, { dates: ['2031-03-28'], coverages: [0.68] })).expiries;
    expect(kept.set).toMatchObject({ name: 'before the readout', levels: [{ state: 'open', left: null }] });
    expect(kept.set.levels[0].high - kept.set.levels[0].low).toBeCloseTo(2 * (range.oneSigma ?? NaN), 9);
    const at = (owner: string, instant: Date) => frozenUntil(database, stored, { owner, instant });
    const now = new Date(picture.asOf);
    expect(await at('local', now)).toHaveLength(1);
    expect(await at('somebody else', now)).toEqual([]);
    // An earlier instant does not know of them.
    expect(await at('local', new Date(now.getTime() - 1))).toEqual([]);
    const set = (owner: string) => ({ owner, symbol: 'MERRO', id: kept.set.id });
    const thaw = (owner: string, when: Date) => thawLevels(database, { ...set(owner), now: when });
    expect(await thaw('somebody else', now)).toBe(false);
    expect(await restoreLevels(database, set('local'))).toBe(false);
    expect(await thaw('local', now)).toBe(true);
    expect(await thaw('local', now)).toBe(false);
    expect(await at('local', now)).toEqual([]);
    // Deleted by mistake: it comes back as it was, for its owner alone, until it is forgotten.
    expect(await restoreLevels(database, set('somebody else'))).toBe(false);
    expect(await restoreLevels(database, set('local'))).toBe(true);
    expect(await at('local', now)).toEqual([kept.set]);
    expect(await thaw('local', now)).toBe(true);
    const later = await freezeLevels(database, stored, { owner: 'local', picture, request });
    if (!later.ok) throw new Error(later.reason);
    const dayAfter = new Date(now.getTime() + 2 * 86_400_000);
    expect(await thawLevels(database, { ...set('local'), id: later.set.id, now: dayAfter })).toBe(true);
    expect(await restoreLevels(database, set('local'))).toBe(false);
    const none = freezeRequest.parse({ name: 'x', expiries: ['2040-01-01'] });
    expect(await freezeLevels(database, stored, { owner: 'local', picture, request: none })).toEqual({
      ok: false,
      reason: 'nothing',
    });
  });
});

describe('the record', () => {
  /** Twenty-two windows of a month, back from the last session that has ended. */
  const starts = sessionsUpTo(TODAY_DAY - 1, 1 + 22 * 21).filter((_, i) => i % 21 === 0);
  const storePast = async (symbol: string) => {
    for (const day of starts.slice(0, -1))
      await storeDemoMeasures(store.connection, { symbol, from: day, to: day }, () => Promise.resolve());
  };
  beforeAll(() => storePast('KELPA'));

  async function record(instant: Date, o: object = {}) {
    return oddsRecord(store.connection.database, await store.underlying('KELPA'), {
      instant,
      choice: recordChoice.parse(o),
    });
  }

  test('counts windows that do not overlap, and holds what was told against what came', async () => {
    const now = new Date('2031-03-14T13:00:00Z');
    const found = await record(now);
    expect(found).toMatchObject({ days: 30, sessions: 21, windows: 22, independent: 22, to: '2031-03-13' });
    expect(found.underlyings).toEqual(['KELPA']);
    expect(found.coverages.map((c) => c.count)).toEqual([22, 22, 22]);
    const inside = found.coverages.map((c) => c.inside);
    expect(inside).toEqual([...inside].sort((a, b) => a - b));
    expect(found.from).toBe(dateText(starts[0]));
    for (const source of found.sources) {
      expect(source.windows).toBeLessThanOrEqual(22);
      expect(source.brier === null).toBe(source.windows < 20);
      if (source.brier !== null) expect(source.brier).toBeLessThan(0.3);
    }
    expect(found.sources.find((s) => s.source === 'smile')?.windows).toBe(22);
    const [withEvents, without] = await Promise.all([
      record(now, { eventful: 'with' }),
      record(now, { eventful: 'without' }),
    ]);
    expect(withEvents.windows + without.windows).toBe(22);
    expect(withEvents.windows).toBeGreaterThan(3);
    // Too few of either to say anything of a source.
    expect(withEvents.sources.every((s) => s.brier === null)).toBe(true);
  });

  test('pooled with its sector it counts every window, but those over the same sessions as one', async () => {
    const now = new Date('2031-03-14T13:00:00Z');
    const own = await record(now);
    const sector = await record(now, { pool: 'sector' });
    expect(sector.underlyings).toContain('KELPA');
    expect(sector.underlyings.length).toBeGreaterThan(1);
    // Nothing is kept here of the others' past but of the one beside it.
    const beside = sector.underlyings.find((s) => s !== 'KELPA') ?? '';
    await storePast(beside);
    const pooled = await record(now, { pool: 'sector' });
    expect(pooled).toMatchObject({ windows: own.windows + 22, independent: 22 });
    expect(pooled.coverages[1].count).toBe(44);
    const smile = pooled.sources.find((s) => s.source === 'smile');
    expect(smile).toMatchObject({ windows: 44, chance: null, bins: null });
    expect(smile?.brier).toBeGreaterThan(0);
  });

  test('drawn history has a record of windows that had enough past, the same at every asking', async () => {
    const now = new Date('2031-03-14T13:00:00Z');
    const weeks = await record(now, { days: 30 });
    const history = weeks.sources.find((s) => s.source === 'history');
    // A year of bars comes before the first that can be drawn.
    expect(history?.windows).toBeGreaterThan(8);
    expect(history?.windows).toBeLessThan(22);
    expect(history?.brier).toBeNull();
  });

  test('events: the move that was priced the evening before stands beside what came, and is not known where nothing was kept', async () => {
    const now = new Date('2031-03-14T13:00:00Z');
    const evenings = sessionsUpTo(TODAY_DAY - 1, 30).map(dateText);
    const all = (await record(now)).events;
    expect(all.length).toBeGreaterThan(3);
    expect([...all].sort((a, b) => b.instant.localeCompare(a.instant))).toEqual(all);
    expect(evenings.length).toBe(30);
    for (const event of all) {
      expect(Date.parse(event.instant)).toBeLessThan(now.getTime());
      if (event.evening === null) expect(event.move).toBeNull();
      else expect(Date.parse(event.evening)).toBeLessThan(Date.parse(event.instant));
      if (event.move !== null) expect(event.low ?? NaN).toBeLessThanOrEqual(event.move);
    }
  });

  test('no look-ahead: a cut of what is stored leaves the record of an instant before as it was', async () => {
    const { sql } = store.connection;
    const earlier = new Date(`${dateText(starts[15])}T20:00:00Z`);
    const before = await record(earlier);
    expect(before.windows).toBeGreaterThan(10);
    await sql`delete from daily_bars where session > ${dateText(starts[15])}
      and underlying_id = (select id from underlyings where symbol = 'KELPA')`;
    await sql`delete from derived_measures where instant > ${earlier.toISOString()}
      and underlying_id = (select id from underlyings where symbol = 'KELPA')`;
    expect(await record(earlier)).toEqual(before);
  });
});

test('open interest: an expiry that is over is held against the price at which its options were worth least a week before', async () => {
  const date = '2031-02-21';
  const sessions = sessionsUpTo(TODAY_DAY - 1, 40);
  const end = sessions.findIndex((day) => dateText(day) === date);
  const lead = sessions[end - LEAD];
  await storeDemoChains(store.connection, { symbol: 'MERRO', from: lead, to: lead }, () => Promise.resolve());
  const { database, sql } = store.connection;
  const merro = await store.underlying('MERRO');
  const found = await interestRecordOf(database, merro, new Date('2031-03-14T13:00:00Z'));
  expect(found).toMatchObject({ count: 1, sessions: LEAD, reach: REACH });
  const [expiry] = found.expiries;
  expect(expiry.date).toBe(date);
  expect(expiry.seen.slice(0, 10)).toBe(dateText(lead));
  const [bar] = await sql<{ close: number }[]>`select close from daily_bars
    where session = ${date} and underlying_id = ${merro.id}`;
  expect(expiry.settled).toBe(bar.close);
  expect(expiry.isNear).toBe(Math.abs(expiry.settled - expiry.level) <= expiry.reach);
  // Worth by settlement, counted anew in the database: nowhere is it less than at that level.
  const worths = await sql<{ settled: number; worth: number }[]>`
    with open as (
      select unnest(strikes) as strike, unnest(call_open_interest) as calls, unnest(put_open_interest) as puts from slices
      where underlying_id = ${merro.id} and instant = ${expiry.seen} and (expiry at time zone 'Etc/GMT-1')::date = ${date}
    )
    select s.strike as settled,
      sum(greatest(s.strike - o.strike, 0) * nullif(o.calls, 'NaN') + greatest(o.strike - s.strike, 0) * nullif(o.puts, 'NaN')) as worth
    from open s cross join open o group by s.strike order by worth limit 1`;
  expect(worths[0].settled).toBe(expiry.level);
  // Chance near the level: about the share of a deviation that is near, since the level is not far from the price.
  expect(found.expected).toBeGreaterThan(0.02);
  expect(found.expected).toBeLessThan(0.25);
  // Before the expiry has ended nothing is known of it.
  expect(await interestRecordOf(database, merro, new Date('2031-02-21T12:00:00Z'))).toMatchObject({
    count: 0,
    near: 0,
  });
});
