import { constantOdds, coverageBetween, STEEPEST_TAIL } from '@umwelt/core/probability';
import { dateText, sessionsUpTo, TODAY_DAY } from '@umwelt/market/veldmar';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../src/lib/api/picture.ts';
import { recordChoice } from '../src/lib/api/odds-record.ts';
import { probabilityRoute } from '../src/lib/api/contract/views.ts';
import { freezeRequest, oddsChoice, type OddsKind, type SourceOddsRow, strikesChoice } from '../src/lib/api/range.ts';
import { storeDemoBase } from '../src/lib/server/demo/demo-base.ts';
import { storeDemoMeasures, storeDemoToday } from '../src/lib/server/demo/demo-chains.ts';
import { frozenVerdict } from '../src/lib/server/derive/frozen-verdict.ts';
import { closeComputePool } from '../src/lib/server/derive/pool.ts';
import { sessionBars } from '../src/lib/server/derive/session-bars.ts';
import { findUnderlying } from '../src/lib/server/repositories/underlyings.ts';
import { freezeLevels, frozenUntil, thawLevels } from '../src/lib/server/services/frozen-levels.ts';
import { oddsRecord } from '../src/lib/server/services/odds-record.ts';
import { oddsOf, strikesFor } from '../src/lib/server/services/odds.ts';
import { loadPicture } from '../src/lib/server/services/picture.ts';
import { barsBefore, rangeExpiries } from '../src/lib/server/services/range.ts';
import { surfaceAgain } from '../src/lib/market/index.ts';
import { derivedValue, explainRangeFigure, rangeFigure } from '../src/lib/measures/index.ts';
import { expiryLaw, listedValues, ON_SMILE, rangeOf, sourcesOf } from '../src/lib/theory/index.ts';
import { oddsRows as matrixRows } from '../src/lib/views/range/odds-rows.ts';
import { testDatabase } from './database.ts';

/* How far the price is thought to go, and how likely: of an index, a share with dividends, and one before a readout. */

const SYMBOLS = ['VM50', 'KELPA', 'MERRO', 'TERN', 'RYE'] as const;
let store: Awaited<ReturnType<typeof testDatabase>>;
beforeAll(async () => {
  store = await testDatabase();
  await storeDemoBase(store.connection);
  for (const symbol of SYMBOLS) await storeDemoToday(store.connection, symbol);
}, 120_000);
afterAll(async () => {
  await closeComputePool();
  await store.drop();
});

async function pictureOf(symbol: string): Promise<Picture> {
  const loaded = await loadPicture(store.connection.database, symbol, asOfContext.parse({}));
  if (!loaded.ok) throw new Error(symbol);
  return loaded.picture;
}

async function asked(symbol: string, date: string) {
  const picture = await pictureOf(symbol);
  const stored = await findUnderlying(store.connection.database, symbol);
  const expiry = picture.expiries.find((e) => e.date === date);
  if (!stored || !expiry) throw new Error(`${symbol} ${date}`);
  return { stored, owner: 'local', picture, expiry, context: asOfContext.parse({}) };
}

async function odds(symbol: string, date: string, kind: OddsKind, level: number[], o: object = {}) {
  const rows = await oddsOf(
    store.connection.database,
    await asked(symbol, date),
    oddsChoice.parse({ kind, level, ...o }),
  );
  return Object.fromEntries(rows.map((row) => [row.source, row])) as Record<SourceOddsRow['source'], SourceOddsRow>;
}

describe('expected moves', () => {
  test.each(SYMBOLS)(
    '%s: of every expiry in line, ordered, covering what they say, with the strikes beside',
    async (symbol) => {
      const picture = await pictureOf(symbol);
      const rows = await rangeExpiries(picture, picture.expiries, { coverages: [0.5, 0.68, 0.95] });
      expect(rows.map((r) => r.date)).toEqual(picture.expiries.map((e) => e.date));
      let told = 0;
      for (const [i, row] of rows.entries()) {
        const expiry: ExpiryPicture = picture.expiries[i];
        const law = expiryLaw(expiry);
        if (!law || expiry.outlier || expiry.smile?.model === 'flat') continue;
        told++;
        for (const { coverage, low, high, lowListed, highListed } of row.ranges) {
          // By the law itself, between both ends as much as was asked for.
          expect(coverageBetween(law, low ?? NaN, high ?? NaN)).toBeCloseTo(coverage, 6);
          expect(lowListed[0] ?? -Infinity).toBeLessThanOrEqual(low ?? NaN);
          expect(lowListed[1] ?? Infinity).toBeGreaterThanOrEqual(low ?? NaN);
          for (const k of [...lowListed, ...highListed]) if (k !== null) expect(expiry.strikes).toContain(k);
        }
        // Common practice, no source: the mean move is about 0.8 of a deviation, which holds two thirds or somewhat more.
        const ratio = (row.meanAbsolute ?? NaN) / (row.oneSigma ?? NaN);
        expect(ratio).toBeGreaterThan(0.76);
        expect(ratio).toBeLessThan(0.8);
        const { oneSigma, meanAbsolute } = row.coverages;
        expect(oneSigma.coverage ?? NaN).toBeGreaterThan(0.62);
        expect(oneSigma.coverage ?? NaN).toBeLessThan(0.85);
        expect(meanAbsolute.coverage ?? NaN).toBeLessThan(oneSigma.coverage ?? NaN);
        // The straddle pays for the mean absolute move, within the width of two quotes.
        if (row.straddle !== null && row.days > 2) {
          expect(row.straddle / (row.meanAbsolute ?? NaN)).toBeGreaterThan(0.85);
          expect(row.straddle / (row.meanAbsolute ?? NaN)).toBeLessThan(1.15);
        }
        expect(row.dailyMove).toBeCloseTo((expiry.forward * (expiry.atm ?? NaN)) / Math.sqrt(252), 9);
        expect(row.wings?.every((w) => w === 'own' || w === 'settling')).toBe(true);
        for (const k of [-30, 30]) expect(Math.abs(law.smile.slope(k))).toBeLessThanOrEqual(STEEPEST_TAIL + 1e-9);
      }
      expect(told).toBeGreaterThan(3);
    },
  );

  test('the readout lies before all expiries but the nearest two, and by itself moves less than they do', async () => {
    const picture = await pictureOf('MERRO');
    const rows = await rangeExpiries(picture, picture.expiries, { coverages: [0.68] });
    const moves = rows.map((r) => r.events.find((e) => /readout/i.test(e.label)));
    expect(moves.filter((m) => m === undefined).length).toBeLessThanOrEqual(2);
    for (const [i, event] of moves.entries()) {
      if (!event?.move) continue;
      expect(event.move).toBeLessThan(rows[i].oneSigma ?? NaN);
      expect(event.move).toBeGreaterThan(0.02 * rows[i].forward);
    }
  });
});

describe('probabilities', () => {
  const DATE = '2031-05-16';

  test('above and below make one, between is what is left, from every source that answers', async () => {
    const [below, above, between] = await Promise.all([
      odds('VM50', DATE, 'below', [4600]),
      odds('VM50', DATE, 'above', [5000]),
      odds('VM50', DATE, 'between', [4600, 5000]),
    ]);
    for (const source of ['smile', 'own', 'atm', 'index', 'realized', 'forecast', 'history'] as const) {
      const parts = [below, above, between].map((rows) => rows[source].probability ?? NaN);
      expect(
        parts.reduce((a, b) => a + b),
        source,
      ).toBeCloseTo(1, 9);
    }
    expect(below.typed).toMatchObject({ probability: null, reason: 'no volatility is typed' });
    expect(below.borrowed).toMatchObject({ probability: null, reason: 'no smile is borrowed' });
    expect(below.history.standardError).toBeGreaterThan(0);
    expect(below.smile.standardError).toBeUndefined();
    expect(below.smile.volatility).toBeGreaterThan(above.smile.volatility ?? NaN);
  });

  test('touching is never less than ending beyond, and about twice it (common practice, no source)', async () => {
    const [below, touch] = await Promise.all([
      odds('VM50', DATE, 'below', [4600], { volatility: 0.2 }),
      odds('VM50', DATE, 'touch', [4600], { volatility: 0.2 }),
    ]);
    for (const source of ['smile', 'own', 'atm', 'index', 'realized', 'forecast', 'typed', 'history'] as const) {
      const finish = below[source].probability ?? NaN;
      expect(touch[source].probability, source).toBeGreaterThan(finish);
      // The rule is of one volatility: the slope of a smile takes from ending there, and not from being there.
      const plain = source === 'smile' ? (below.own.probability ?? NaN) : finish;
      const ratio = (touch[source].probability ?? NaN) / plain;
      expect(ratio, source).toBeGreaterThan(1.6);
      expect(ratio, source).toBeLessThan(2.4);
    }
    const picture = await pictureOf('VM50');
    const expiry = picture.expiries.find((e) => e.date === DATE);
    const { underlyingPrice: spot, forward, years } = expiry ?? { underlyingPrice: NaN, forward: NaN, years: NaN };
    const closed = constantOdds({
      spot,
      timeToExpiry: years,
      volatility: 0.2,
      drift: Math.log(forward / spot) / years,
    });
    expect(below.typed.probability).toBeCloseTo(closed.below(4600), 12);
    expect(touch.typed.probability).toBeCloseTo(closed.touch({ lower: 4600 }), 12);
  });

  test('two levels on one side are touched as the nearer one is; a drift moves every source the same way', async () => {
    const [near, both, drifted] = await Promise.all([
      odds('VM50', DATE, 'touch', [5000]),
      odds('VM50', DATE, 'touch', [5100, 5000]),
      odds('VM50', DATE, 'above', [5000], { drift: 0.1 }),
    ]);
    const still = await odds('VM50', DATE, 'above', [5000]);
    for (const source of ['smile', 'atm', 'history'] as const) {
      expect(both[source].probability).toBe(near[source].probability);
      expect(drifted[source].probability ?? NaN).toBeGreaterThan(still[source].probability ?? NaN);
    }
    // Either of two strikes has its own volatility.
    expect(both.own.probability).toBe(near.own.probability);
    expect((await odds('VM50', DATE, 'touch', [4500, 5000])).own.probability).toBeNull();
  });

  test('a kind takes as many levels as it needs', () => {
    const parse = (kind: string, level: string[]) => probabilityRoute.query.safeParse({ kind, level });
    expect(parse('between', ['100']).success).toBe(false);
    expect(parse('above', ['100', '110']).success).toBe(false);
    expect(parse('touch', ['100', '110', '120']).success).toBe(false);
    expect(parse('touch', ['90', '110']).success).toBe(true);
    expect(parse('below', ['-1']).success).toBe(false);
  });
});

describe('strikes for a probability', () => {
  test.each(['VM50', 'KELPA'])(
    '%s: come back to it, stand between listed ones, and cost what theory says',
    async (symbol) => {
      const picture = await pictureOf(symbol);
      const { date } = picture.expiries.find((e) => e.days > 50) ?? { date: '' };
      const base = await asked(symbol, date);
      const { database } = store.connection;
      const found = await strikesFor(database, base, strikesChoice.parse({ probability: 0.2 }));
      for (const side of ['put', 'call'] as const) {
        const strike = found[side];
        if (!strike) throw new Error(side);
        const kind = side === 'put' ? 'below' : 'above';
        expect((await odds(symbol, date, kind, [strike.strike])).smile.probability).toBeCloseTo(0.2, 7);
        const { listedBelow, listedAbove } = strike;
        if (listedBelow === null || listedAbove === null) throw new Error('not listed');
        expect(listedBelow).toBeLessThanOrEqual(strike.strike);
        expect(listedAbove).toBeGreaterThanOrEqual(strike.strike);
        expect(base.expiry.strikes.indexOf(listedAbove) - base.expiry.strikes.indexOf(listedBelow)).toBe(1);
        const [theory] = listedValues(base.expiry, [{ side, strike: listedBelow }], ON_SMILE);
        expect(strike.premiumBelow).toBeCloseTo(theory?.price ?? NaN, 12);
        // The premium lies between those of its neighbors.
        const ends = [strike.premiumBelow ?? NaN, strike.premiumAbove ?? NaN].sort((a, b) => a - b);
        expect(strike.premium).toBeGreaterThanOrEqual(ends[0]);
        expect(strike.premium).toBeLessThanOrEqual(ends[1]);
      }
      const own = await strikesFor(database, base, strikesChoice.parse({ probability: 0.2, source: 'own' }));
      expect(own).toEqual({ put: null, call: null });
      const touch = await strikesFor(database, base, strikesChoice.parse({ probability: 0.2, kind: 'touch' }));
      expect(touch.put?.strike).toBeLessThan(found.put?.strike ?? NaN);
    },
  );
});

test('daily bars end with the last session that has ended, each within its own high and low', async () => {
  const { database } = store.connection;
  const stored = await findUnderlying(database, 'VM50');
  if (!stored) throw new Error('VM50');
  const bars = await barsBefore(database, stored, { instant: new Date('2031-03-14T13:00:00Z'), count: 60 });
  expect(bars).toHaveLength(60);
  expect(bars.at(-1)?.session).toBe('2031-03-13');
  for (const b of bars) {
    expect(b.low).toBeLessThanOrEqual(Math.min(b.open, b.close));
    expect(b.high).toBeGreaterThanOrEqual(Math.max(b.open, b.close));
  }
});

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
    const picture = await pictureOf('MERRO');
    const stored = await findUnderlying(database, 'MERRO');
    if (!stored) throw new Error('MERRO');
    const request = freezeRequest.parse({ name: ' before the readout ', move: 'oneSigma', expiries: ['2031-03-28'] });
    const kept = await freezeLevels(database, stored, { owner: 'local', picture, request });
    if (!kept.ok) throw new Error(kept.reason);
    const [range] = await rangeExpiries(
      picture,
      picture.expiries.filter((e) => e.date === '2031-03-28'),
      { coverages: [0.68] },
    );
    expect(kept.set).toMatchObject({ name: 'before the readout', levels: [{ state: 'open', left: null }] });
    expect(kept.set.levels[0].high - kept.set.levels[0].low).toBeCloseTo(2 * (range.oneSigma ?? NaN), 9);
    const at = (owner: string, instant: Date) => frozenUntil(database, stored, { owner, instant });
    const now = new Date(picture.asOf);
    expect(await at('local', now)).toHaveLength(1);
    expect(await at('somebody else', now)).toEqual([]);
    // An earlier instant does not know of them.
    expect(await at('local', new Date(now.getTime() - 1))).toEqual([]);
    const thaw = (owner: string) => thawLevels(database, { owner, symbol: 'MERRO', id: kept.set.id });
    expect(await thaw('somebody else')).toBe(false);
    expect(await thaw('local')).toBe(true);
    expect(await at('local', now)).toEqual([]);
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
  beforeAll(async () => {
    for (const day of starts.slice(0, -1))
      await storeDemoMeasures(store.connection, { symbol: 'KELPA', from: day, to: day, ofAll: true }, () =>
        Promise.resolve(),
      );
  }, 120_000);

  async function record(instant: Date, o: object = {}) {
    const stored = await findUnderlying(store.connection.database, 'KELPA');
    if (!stored) throw new Error('KELPA');
    return oddsRecord(store.connection.database, stored, { instant, choice: recordChoice.parse(o) });
  }

  test('counts windows that do not overlap, and holds what was told against what came', async () => {
    const now = new Date('2031-03-14T13:00:00Z');
    const found = await record(now);
    expect(found).toMatchObject({ days: 30, sessions: 21, windows: 22, to: '2031-03-13' });
    for (const { inside, count, low, high } of found.coverages) {
      expect(count).toBe(22);
      expect(low).toBeLessThan(inside / count + 1e-12);
      expect(high).toBeGreaterThan(inside / count - 1e-12);
    }
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

test('every figure of moves and odds opens Workings that give it, and its parts add up to what tells it from the smile', async () => {
  const picture = await pictureOf('VM50');
  const focus = picture.expiries.find((e) => e.date === '2031-05-16');
  if (!focus) throw new Error('no expiry');
  const ranges = picture.expiries.filter((e) => e.smile).map((e) => rangeOf(picture, e, [0.68]));
  const sources = sourcesOf({
    ...{ expiry: focus, index30: picture.index30, history: null, typed: 0.3, drift: 0.02 },
    forecast: { volatility: 0.2, model: 'garch' },
  });
  let told = 0;
  for (const level of [4500, 4800, 5200]) {
    const side = level >= focus.forward ? ('above' as const) : ('below' as const);
    const smile30 = surfaceAgain(picture)?.smileAt(30 / 365);
    const rows = matrixRows(focus, sources, {
      ...{ level, side, smile30, drift: 0.02 },
      told: { level: NaN, finish: undefined, touch: undefined },
    });
    const smile = rows.find((r) => r.source === 'smile')?.finish ?? NaN;
    const subject = {
      ...{ picture, expiries: picture.expiries, ranges, focus, drift: 0.02 },
      rows: rows.map((row) => ({ ...row, level, side })),
    };
    for (const row of rows) {
      if (row.finish === null) continue;
      const parts = row.steps.reduce((sum, s) => sum + s.change, 0);
      // Parts of less than half a tenth of a point are left out.
      if (row.source !== 'smile') expect(Math.abs(parts - (row.finish - smile)), row.source).toBeLessThan(2e-3);
      for (const figure of ['finish', 'touch'] as const) {
        const workings = explainRangeFigure(subject, rangeFigure(figure, row.source));
        expect(workings?.value ?? null).toBe(row[figure]);
        if (figure !== 'finish' || !workings || workings.core) continue;
        told++;
        const value = derivedValue({ kind: 'formula', text: workings.formula }, workings.inputs)?.value;
        expect(value, `${row.source} ${level}`).toBeCloseTo(row.finish, 9);
      }
    }
    for (const range of ranges)
      for (const id of ['straddle', 'oneSigma', 'meanAbsolute', 'varianceMove', 'dailyMove', 'low', 'high']) {
        const workings = explainRangeFigure(subject, rangeFigure(id, range.date));
        if (!workings || workings.value === null || workings.core) continue;
        told++;
        const value = derivedValue({ kind: 'formula', text: workings.formula }, workings.inputs)?.value;
        expect((value ?? NaN) / workings.value, `${id} ${range.date}`).toBeCloseTo(1, 9);
      }
    expect(explainRangeFigure(subject, rangeFigure('nothing', 'smile'))).toBeUndefined();
  }
  expect(told).toBeGreaterThan(100);
});
