import { probabilityAbove } from '@umwelt/core/surface';
import { dateText, keptDays, sessionsUpTo, TODAY_DAY } from '@umwelt/market/veldmar';
import { beforeAll, describe, expect, test } from 'vitest';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import {
  type ForecastRecord,
  forecastRecordResponse,
  type Level,
  levelChoice,
  levelResponse,
} from '../../src/lib/api/level.ts';
import { storeDemoChains, storeDemoMeasures } from '../../src/lib/server/demo/demo-chains.ts';
import { eventSessions } from '../../src/lib/server/derive/event-sessions.ts';
import { endedSession, sessionBars } from '../../src/lib/server/derive/session-bars.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { forecastRecordText, levelText } from '../../src/lib/server/services/level.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { surfaceAgain } from '../../src/lib/market/index.ts';
import { derivedValue, explainPastFigure, pastFigure } from '../../src/lib/measures/index.ts';
import { gapAreas } from '../../src/lib/views/level/gap-areas.ts';
import { levelReading } from '../../src/lib/views/level/level-reading.ts';
import type { Sentence } from '../../src/lib/shell/reading/sentence.ts';
import { demoStore } from './demo-store.ts';

/* Implied volatility against its past and against what the underlying did. */

/** The freight line whose implied is far over realized, the miner whose realized is over implied, the food maker at its low. */
const STORIES = ['PELAG', 'ORVEN', 'KELPA'] as const;
const [YEAR_AGO] = sessionsUpTo(TODAY_DAY, 252);
const EARLIER = dateText(keptDays('KELPA').at(-30) ?? 0);
/** A session whose chains within are kept. */
const WITHIN = '2031-03-12';

const store = demoStore();
beforeAll(async () => {
  const tick = () => Promise.resolve();
  const dayOf = (date: string) => Date.parse(date) / 86_400_000;
  for (const symbol of STORIES)
    await storeDemoMeasures(store.connection, { symbol, from: YEAR_AGO, to: TODAY_DAY - 1 }, tick);
  await storeDemoChains(store.connection, { symbol: 'KELPA', from: dayOf(EARLIER), to: dayOf(EARLIER) }, tick);
  await storeDemoChains(store.connection, { symbol: 'MERRO', from: dayOf(WITHIN), to: dayOf(WITHIN) }, tick);
});

async function asked(symbol: string, asOf: string | undefined, choice: Record<string, unknown>) {
  const { database } = store.connection;
  const context = asOfContext.parse({ asOf });
  const loaded = await loadPicture(database, symbol, context);
  const stored = await findUnderlying(database, symbol);
  if (!loaded.ok || !stored) throw new Error(symbol);
  return { stored, picture: loaded.picture, context, choice: levelChoice.parse(choice), expiry: '2031-04-18' };
}

async function levelAt(symbol: string, asOf?: string, choice: Record<string, unknown> = {}): Promise<Level> {
  const text = await levelText(store.connection.database, await asked(symbol, asOf, choice));
  return levelResponse.parse(JSON.parse(text));
}

async function recordAt(symbol: string, asOf?: string, choice: Record<string, unknown> = {}): Promise<ForecastRecord> {
  const text = await forecastRecordText(store.connection.database, await asked(symbol, asOf, choice));
  return forecastRecordResponse.parse(JSON.parse(text));
}

const words = (sentences: Sentence[]) =>
  sentences.map((s) => s.map((part) => (typeof part === 'string' ? part : part.text)).join('')).join(' ');

/** What the Reading says of the ratio alone, from where it stands in its past. */
function placeWords({ ratioPlace }: Level): string {
  const { percentile, count } = ratioPlace ?? { percentile: NaN, count: NaN };
  const side = percentile >= 0.75 ? 'high' : percentile <= 0.25 ? 'low' : 'neither high nor low';
  return `Among its own past options are ${side}: its ratio to realized exceeds ${(100 * percentile).toFixed(0)} % of ${count} sessions.`;
}

test('the freight line and the miner read by their own past, beside the reference; the food maker at its low of the year', async () => {
  const [freight, miner, food] = await Promise.all(STORIES.map((symbol) => levelAt(symbol)));
  expect(freight.ratioNow).toBeGreaterThan(1.15);
  expect(words(levelReading(freight, undefined, undefined))).toContain(placeWords(freight));
  expect(miner.ratioNow).toBeLessThan(1);
  expect(words(levelReading(miner, undefined, undefined))).toContain(placeWords(miner));
  expect(food.place?.percentile).toBeLessThan(0.02);
  expect(words(levelReading(food, undefined, undefined))).toContain('at its low of that time');
  // By expiry as well, of those with a month and more to go.
  const ratios = (level: Level) => level.expiries.flatMap((e) => (e.days > 30 && e.ratio !== null ? [e.ratio] : []));
  expect(Math.min(...ratios(freight))).toBeGreaterThan(1.15);
  expect(Math.max(...ratios(miner))).toBeLessThan(1);
});

test('every figure of the Reading opens Workings with its value, and closed forms give it', async () => {
  const level = await levelAt('KELPA');
  const record = await recordAt('KELPA');
  const subject = { level, record, words: { implied: 'at the money, 30 days', realized: 'Yang–Zhang, 21 sessions' } };
  const ids = levelReading(level, record, undefined).flatMap((s) =>
    s.flatMap((part) => (typeof part === 'object' && 'figure' in part ? [part.figure] : [])),
  );
  expect(ids.length).toBeGreaterThan(5);
  for (const id of [...ids, pastFigure('rank'), pastFigure('difference'), pastFigure('expiryRatio', '2031-05-16')]) {
    const workings = explainPastFigure(subject, id);
    expect(workings?.value, id).not.toBeNull();
    expect(workings?.id, id).toBe(id);
    if (!workings || workings.core) continue;
    const value = derivedValue({ kind: 'formula', text: workings.formula }, workings.inputs)?.value;
    if (workings.formula !== 'as stored') expect(value, id).toBeCloseTo(workings.value ?? NaN, 12);
  }
  expect(explainPastFigure(subject, pastFigure('nothing'))).toBeUndefined();
});

test('the session under way does not count as a day, and is said to be left out', async () => {
  const level = await levelAt('VM50', undefined, { estimator: 'close-to-close', window: 5 });
  expect(level.realizedNow).toMatchObject({ isTodayLeftOut: true, until: '2031-03-13' });
  expect(words(levelReading(level, undefined, undefined))).toContain('the session under way is left out');
  const bars = await store.connection.sql<{ close: number }[]>`
    select close from daily_bars b join underlyings u on u.id = b.underlying_id
    where symbol = 'VM50' and session < '2031-03-14' order by session desc limit 6`;
  const returns = bars.slice(0, 5).map((b, i) => Math.log(b.close / bars[i + 1].close));
  const mean = returns.reduce((s, r) => s + r / 5, 0);
  const variance = returns.reduce((s, r) => s + (r - mean) ** 2 / 4, 0);
  expect(level.realizedNow.volatility).toBeCloseTo(Math.sqrt(252 * variance), 12);
});

test('sessions of scheduled events can be left out, of realized and of implied', async () => {
  const [with_, without] = await Promise.all(
    ['no', 'yes'].map((withoutEvents) => levelAt('KELPA', undefined, { withoutEvents, window: 126 })),
  );
  expect(without.realizedNow.eventSessions).toBeGreaterThan(2);
  expect(with_.realizedNow.eventSessions).toBe(0);
  expect(without.realizedNow.volatility).not.toBe(with_.realizedNow.volatility);
  expect(without.now ?? NaN).toBeLessThanOrEqual(with_.now ?? NaN);
  const events = new Set(without.events.map((e) => e.session));
  // A session that is left out shows the estimate of the one before it.
  const at = without.sessions.findIndex((s, i) => i > 100 && events.has(s.session));
  expect(without.sessions[at].realized).toBe(without.sessions[at - 1].realized);
});

test('what is kept of an instant: straddles near four fifths of a deviation, quantiles in order, events with their intervals', async () => {
  const { sql } = store.connection;
  const rows = await sql<
    {
      atm: number[];
      straddles: { years: number; forward: number; straddle: number }[];
      quantiles: number[];
      moves: { move: number; interval: [number, number] }[];
      quality: number;
      ex_event30: number;
    }[]
  >`
    select atm_by_tenor as atm, straddles, quantiles, event_moves as moves, quality, ex_event30
    from derived_measures m join underlyings u on u.id = m.underlying_id where symbol in ('KELPA', 'VM50')`;
  expect(rows.length).toBeGreaterThan(20);
  for (const row of rows) {
    expect(row.quality).toBeGreaterThan(20);
    expect(row.ex_event30).toBeLessThanOrEqual(row.atm[2] + 1e-12);
    // Common practice, no source: a straddle costs about 0.8 of a deviation to expiry.
    const month = row.straddles.find((s) => s.years > 0.05 && s.years < 0.2);
    if (month) {
      const deviation = row.atm[2] * Math.sqrt(month.years) * month.forward;
      expect(month.straddle / deviation).toBeGreaterThan(0.7);
      expect(month.straddle / deviation).toBeLessThan(0.9);
    }
    // Six quantiles at each of seven numbers of days.
    expect(row.quantiles).toHaveLength(42);
    for (let tenor = 0; tenor < 42; tenor += 6) {
      const own = row.quantiles.slice(tenor, tenor + 6);
      expect(own).toEqual([...own].sort((x, y) => x - y));
    }
    for (const { move, interval } of row.moves) expect(interval[0] <= move && move <= interval[1]).toBe(true);
  }
});

test.each(['KELPA', 'VM50'])(
  '%s: below the quantiles that are kept ends as much as they say, by the smile at 30 days',
  async (symbol) => {
    const { connection } = store;
    const loaded = await loadPicture(connection.database, symbol, asOfContext.parse({}));
    if (!loaded.ok) throw new Error(symbol);
    const smile = surfaceAgain(loaded.picture)?.smileAt(30 / 365);
    if (!smile) throw new Error('no surface');
    const [row] = await connection.sql<{ quantiles: number[] }[]>`
    select quantiles from derived_measures m join underlyings u on u.id = m.underlying_id
    where symbol = ${symbol} and instant = ${loaded.picture.asOf}`;
    const at30 = row.quantiles.slice(12, 18);
    for (const [i, share] of [0.05, 0.16, 0.25, 0.75, 0.84, 0.95].entries())
      expect(1 - probabilityAbove(smile, at30[i])).toBeCloseTo(share, 8);
  },
);

test('a split moves neither the price that is drawn nor realized volatility', async () => {
  const { sql } = store.connection;
  const { sessions, realized } = await levelAt('FJORA', undefined, { window: 252 });
  const stored = await sql<{ session: string; close: number; ratio: number | null }[]>`
    select b.session::text, close, s.ratio from daily_bars b join underlyings u on u.id = b.underlying_id
    left join splits s on s.underlying_id = b.underlying_id and s.session = b.session
    where symbol = 'FJORA' order by b.session`;
  const at = stored.findIndex((b) => b.ratio !== null);
  expect(stored[at - 1].close / stored[at].close).toBeGreaterThan(2.5);
  const price = new Map(sessions.map((s) => [s.session, s.price]));
  expect(price.get(stored[at - 1].session)).toBeCloseTo(stored[at - 1].close / 3, 10);
  // As dear a share as 46 % a year makes it, not the jump of a third.
  expect(realized[0].volatility).toBeLessThan(0.8);
  expect(realized[0].window).toBe(252);
});

test('bars within sessions tell jumps only of sessions that have ended', async () => {
  const { jumps } = await levelAt('MERRO', `${WITHIN}T17:30:00+01:00`);
  // Of the last five with bars within, those from the 13th on come after what is stored of it.
  expect(jumps?.sessions).toBe(3);
  expect(jumps?.standardError).toBeGreaterThan(0.04);
  expect((await levelAt('KELPA')).jumps).toBeNull();
});

describe('what came later', () => {
  const moments: [symbol: string, asOf: string | undefined][] = [
    ['MERRO', `${WITHIN}T17:30:00+01:00`],
    ['MERRO', `${WITHIN}T11:15:00+01:00`],
    ['KELPA', `${EARLIER}T17:30:00+01:00`],
  ];
  const choices = [{}, { implied: 'expiry', estimator: 'ewma' }, { implied: 'put', withoutEvents: 'yes', window: 63 }];

  test('changes nothing of an instant: figures, record, judgement', async () => {
    const before: { level: Level; record: ForecastRecord }[] = [];
    for (const [symbol, asOf] of moments) {
      for (const choice of choices)
        before.push({ level: await levelAt(symbol, asOf, choice), record: await recordAt(symbol, asOf, choice) });
    }
    expect(before.every(({ level }) => level.realizedNow.volatility !== null)).toBe(true);
    expect(before[0].record.records.find((r) => r.model === 'har')?.count).toBeGreaterThan(100);
    let i = 0;
    for (const [symbol, asOf] of moments) {
      await cutAt(symbol, asOf ?? '');
      for (const choice of choices) {
        expect(await levelAt(symbol, asOf, choice)).toEqual(before[i].level);
        expect(await recordAt(symbol, asOf, choice)).toEqual(before[i++].record);
      }
    }
  });
});

/** Takes out of the database whatever nobody can have known at an instant; what is announced stays. */
async function cutAt(symbol: string, asOf: string): Promise<void> {
  const { sql } = store.connection;
  const [{ id }] = await sql<{ id: number }[]>`select id from underlyings where symbol = ${symbol}`;
  const session = asOf.slice(0, 10);
  const isOver = asOf.slice(11, 16) >= '17:30';
  for (const table of ['slices', 'derived_measures', 'intraday_bars', 'futures_curves', 'trades', 'listed_spreads'])
    await sql.text(`delete from ${table} where underlying_id = $1 and instant > $2`, [id, asOf]);
  await sql`delete from daily_bars where underlying_id = ${id} and (session > ${session} or (session = ${session} and not ${isOver}))`;
  await sql`delete from splits where underlying_id = ${id} and session > ${session}`;
}

test('bars in columns: a session with quotes but no bar and a long pause are gaps, a dividend and a split are taken out', () => {
  const bar = (session: string, close: number) => ({ session, open: close, high: close, low: close, close });
  const { sessions, bars, shares } = sessionBars({
    bars: [bar('2031-03-03', 100), bar('2031-03-05', 99), bar('2031-03-06', 49), bar('2031-03-28', 50)],
    dividends: [{ exDate: '2031-03-06', amount: 1 }],
    splits: [{ session: '2031-03-06', ratio: 2 }],
    quoted: ['2031-03-03', '2031-03-04', '2031-03-05', '2031-04-01'],
  });
  expect(sessions).toEqual(['2031-03-03', '2031-03-04', '2031-03-05', '2031-03-06', '2031-03-07', '2031-03-28']);
  expect([...bars.previousClose]).toEqual([NaN, NaN, NaN, 49, NaN, NaN]);
  expect([...shares]).toEqual([2, 2, 2, 1, 1, 1]);
  const close = { zone: '+01:00', sessionClose: '17:30' };
  expect(endedSession(new Date('2031-03-14T16:30:00Z'), close)).toEqual({ session: '2031-03-14', isOver: true });
  expect(endedSession(new Date('2031-03-14T16:29:00Z'), close)).toEqual({ session: '2031-03-14', isOver: false });
});

test('an event belongs to the session whose return knows of it first', () => {
  const dates = ['2031-03-13', '2031-03-14', '2031-03-17'];
  const at = (text: string) => ({ instant: new Date(text) });
  const events = [at('2031-03-13T18:00:00+01:00'), at('2031-03-14T08:00:00+01:00'), at('2031-03-14T17:30:00+01:00')];
  const found = eventSessions([...events, at('2031-03-15T09:00:00+01:00'), at('2031-03-18T09:00:00+01:00')], dates, {
    zone: '+01:00',
    sessionClose: '17:30',
  });
  expect(found).toEqual(['2031-03-14', '2031-03-14', '2031-03-14', '2031-03-17', undefined]);
});

test('areas between two lines end where they cross and where one is broken', () => {
  const areas = gapAreas([1, 3, null, 2, 2], [2, 2, 2, 1, 1]);
  expect(areas.map((a) => [a.isAbove, a.points.map((p) => p.x)])).toEqual([
    [false, [0, 0.5]],
    [true, [0.5, 1]],
    [true, [3, 4]],
  ]);
});
