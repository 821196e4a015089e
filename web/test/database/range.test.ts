import { constantOdds, coverageBetween, STEEPEST_TAIL } from '@umwelt/core/probability';
import { describe, expect, test } from 'vitest';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import type { ExpiryPicture } from '../../src/lib/api/picture.ts';
import { probabilityRoute } from '../../src/lib/api/contract/views.ts';
import { oddsChoice, type OddsKind, type SourceOddsRow, strikesChoice } from '../../src/lib/api/range.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { oddsOf, strikesFor } from '../../src/lib/server/services/odds.ts';
import { barsBefore, expectedRanges } from '../../src/lib/server/services/range.ts';
import { surfaceAgain } from '../../src/lib/market/index.ts';
import { derivedValue, explainRangeFigure, rangeFigure } from '../../src/lib/measures/index.ts';
import { expiryLaw, listedValues, ON_SMILE, rangeBetween, rangeOf, sourcesOf } from '../../src/lib/theory/index.ts';
import { oddsRows as matrixRows } from '../../src/lib/views/range/odds-rows.ts';
import { demoStore } from './demo-store.ts';

/* How far the price is thought to go, and how likely: of an index, a share with dividends, and one before a readout. */

const SYMBOLS = ['VM50', 'KELPA', 'MERRO', 'TERN', 'RYE'] as const;
const store = demoStore();
const pictureOf = (symbol: string) => store.picture(symbol);

async function asked(symbol: string, date: string) {
  const picture = await pictureOf(symbol);
  const stored = await store.underlying(symbol);
  const expiry = picture.expiries.find((e) => e.date === date);
  if (!expiry) throw new Error(`${symbol} ${date}`);
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
      const dates = picture.expiries.map((e) => e.date);
      const { expiries: rows } = await expectedRanges(picture, { dates, coverages: [0.5, 0.68, 0.95] });
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
    const dates = picture.expiries.map((e) => e.date);
    const { expiries: rows } = await expectedRanges(picture, { dates, coverages: [0.68] });
    const moves = rows.map((r) => r.events.find((e) => /readout/i.test(e.label)));
    expect(moves.filter((m) => m === undefined).length).toBeLessThanOrEqual(2);
    for (const [i, event] of moves.entries()) {
      if (!event?.move) continue;
      expect(event.move).toBeLessThan(rows[i].oneSigma ?? NaN);
      expect(event.move).toBeGreaterThan(0.02 * rows[i].forward);
    }
  });
});

test.each(SYMBOLS)(
  '%s: between expiries the move comes from the surface, as the expiry itself tells it on its own day, and nothing beyond them',
  async (symbol) => {
    const picture = await pictureOf(symbol);
    const fitted = picture.expiries.filter((e) => e.smile && e.smile.model !== 'flat' && e.outlier === null);
    for (const [i, expiry] of fitted.slice(0, -1).entries()) {
      if (i === 0) continue;
      const listed = rangeOf(picture, expiry, [0.68]);
      const own = rangeBetween(picture, expiry.days, [0.68]);
      expect((own?.oneSigma ?? NaN) / (listed.oneSigma ?? NaN), expiry.date).toBeCloseTo(1, 6);
      expect(own?.straddle).toBeNull();
      const next = fitted[i + 1];
      const middle = rangeBetween(picture, (expiry.days + next.days) / 2, [0.68]);
      // Variance grows from one expiry to the next, and so does the move of the days between.
      expect(middle?.oneSigma ?? NaN).toBeGreaterThanOrEqual((listed.oneSigma ?? NaN) * (1 - 1e-9));
      expect(middle?.oneSigma ?? NaN).toBeLessThanOrEqual((rangeOf(picture, next, []).oneSigma ?? NaN) * (1 + 1e-9));
      expect(middle?.events.length).toBeGreaterThanOrEqual(listed.events.length);
    }
    expect(rangeBetween(picture, (picture.expiries.find((e) => e.smile)?.days ?? NaN) / 2, [0.68])).toBeNull();
    expect(rangeBetween(picture, picture.expiries[picture.expiries.length - 1].days + 1, [0.68])).toBeNull();
    const asked = await expectedRanges(picture, { dates: [], coverages: [0.68], days: [9000, 45] });
    expect(asked.expiries).toEqual([]);
    expect(asked.between[0]).toBeNull();
    expect(asked.between[1]).toEqual(rangeBetween(picture, 45, [0.68]));
  },
);

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

  test('touching is never less than ending beyond, and of one volatility what the closed form says', async () => {
    const [below, touch] = await Promise.all([
      odds('VM50', DATE, 'below', [4600], { volatility: 0.2 }),
      odds('VM50', DATE, 'touch', [4600], { volatility: 0.2 }),
    ]);
    const picture = await pictureOf('VM50');
    const expiry = picture.expiries.find((e) => e.date === DATE);
    const { underlyingPrice: spot, forward, years } = expiry ?? { underlyingPrice: NaN, forward: NaN, years: NaN };
    for (const source of ['smile', 'own', 'atm', 'index', 'realized', 'forecast', 'typed', 'history'] as const) {
      expect(touch[source].probability, source).toBeGreaterThan(below[source].probability ?? NaN);
      if (source === 'smile' || source === 'history') continue;
      // What has one volatility says what the closed form says of it.
      const volatility = touch[source].volatility ?? NaN;
      const drift = Math.log(forward / spot) / years;
      const closed = constantOdds({ spot, timeToExpiry: years, volatility, drift });
      expect(below[source].probability, source).toBeCloseTo(closed.below(4600), 12);
      expect(touch[source].probability, source).toBeCloseTo(closed.touch({ lower: 4600 }), 12);
    }
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
