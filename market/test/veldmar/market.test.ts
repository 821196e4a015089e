import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { optionPrice } from '@umwelt/core/pricing';
import {
  CURRENCIES,
  curveOn,
  dateText,
  DEMO_SEED,
  dividendsOf,
  FAULT_RATES,
  type FaultKind,
  isSession,
  keptDays,
  keptInstants,
  LEAST_TICKS,
  SCHEDULED_EVENTS,
  sessionInstant,
  type SimulatedSlice,
  TODAY_DAY,
  UNIVERSE,
  VeldmarMarket,
} from '../../src/veldmar/index.ts';
import { market } from './derived.ts';

/** Checksum of everything but quotes, and of the quotes of every twentieth kept session of every underlying. */
function checksum(m: VeldmarMarket, every: number): string {
  const hash = createHash('sha256');
  const add = (value: unknown) => hash.update(JSON.stringify(value));
  add(SCHEDULED_EVENTS);
  for (const currency of CURRENCIES) add(curveOn(currency, TODAY_DAY - 100));
  for (const u of UNIVERSE) {
    add(u);
    add(dividendsOf(u));
    add(m.bars(u.symbol));
    for (const day of keptDays(u.symbol).filter((_, i) => i % every === 0)) {
      for (const slice of m.slices(u.symbol, sessionInstant(day))) {
        for (const column of Object.values(slice)) {
          if (column instanceof Float64Array) hash.update(new Uint8Array(column.buffer));
        }
      }
    }
  }
  return hash.digest('hex');
}

/** Every kept session in the long runs, the first of each year else. */
const EVERY = process.env.SOAK ? 1 : 252;

test('one seed gives the same market in two runs, another seed another', () => {
  const first = checksum(new VeldmarMarket(DEMO_SEED), EVERY);
  expect(checksum(new VeldmarMarket(DEMO_SEED), EVERY)).toBe(first);
  expect(checksum(new VeldmarMarket(DEMO_SEED + 1), EVERY)).not.toBe(first);
});

test('quotes of an instant do not hang on what was asked before', () => {
  const m = new VeldmarMarket(DEMO_SEED);
  const [early, late] = [keptDays('RYE')[40], keptDays('RYE')[200]].map(sessionInstant);
  const first = m.slices('RYE', late);
  m.slices('RYE', early);
  m.slices('VM50', late);
  expect(m.slices('RYE', late)).toEqual(first);
});

test('forty underlyings of five kinds in eight sectors, two years of bars that hold together', () => {
  expect(UNIVERSE.length).toBeGreaterThanOrEqual(38);
  expect(new Set(UNIVERSE.map((u) => u.symbol)).size).toBe(UNIVERSE.length);
  expect(new Set(UNIVERSE.map((u) => u.kind)).size).toBe(5);
  expect(new Set(UNIVERSE.map((u) => u.sector)).size).toBe(8);
  for (const u of UNIVERSE) {
    const bars = market.bars(u.symbol);
    expect(bars).toHaveLength(504);
    for (const b of bars) {
      expect(b.low).toBeLessThanOrEqual(Math.min(b.open, b.close));
      expect(b.high).toBeGreaterThanOrEqual(Math.max(b.open, b.close));
      expect(isSession(Date.parse(b.date) / 86_400_000)).toBe(true);
    }
    expect(bars[503].date).toBe('2031-03-14');
    expect(bars[503].close).toBeCloseTo(u.character.price, 6);
  }
});

test('no expiry and no session falls on a holiday; today has a fortnight of quarter-hours behind it where they are kept', () => {
  for (const u of UNIVERSE) {
    for (const slice of market.slices(u.symbol, sessionInstant(TODAY_DAY))) {
      expect(isSession(Math.floor((slice.expiry + 3_600_000) / 86_400_000))).toBe(true);
      expect(new Date(slice.expiry).toISOString().slice(11)).toBe('16:30:00.000Z');
    }
  }
  expect(keptInstants('MERRO', TODAY_DAY)).toHaveLength(20);
  expect(keptInstants('MERRO', keptDays('MERRO')[250])).toHaveLength(34);
  expect(keptInstants('KELPA', TODAY_DAY)).toHaveLength(1);
});

test('smiles are free of static arbitrage before noise is added, in every underlying and month', () => {
  for (const u of UNIVERSE) {
    const days = keptDays(u.symbol).filter((_, i) => i % 60 === 0);
    for (const day of days) {
      const { tilt, strength } = market.stateAt(u.symbol, sessionInstant(day));
      // Sufficient for the power-law surface (Gatheral & Jacquier 2014, remark 4.4), with a tilt common to all expiries.
      expect(strength * (1 + Math.abs(tilt)), u.symbol).toBeLessThanOrEqual(2);
      const slices = market.slices(u.symbol, sessionInstant(day)).filter((s) => !s.truth.isWrongExpiry);
      const atm = slices.map((s) => totalVarianceAtTheMoney(s));
      atm.forEach((w, i) => expect(w, `${u.symbol} ${dateText(day)}`).toBeGreaterThan(i > 0 ? atm[i - 1] : 0));
    }
  }
});

function totalVarianceAtTheMoney(s: SimulatedSlice): number {
  const { forward, volatilities } = s.truth;
  const i = Math.max(
    1,
    s.strikes.findIndex((k) => k >= forward),
  );
  const share = Math.log(forward / s.strikes[i - 1]) / Math.log(s.strikes[i] / s.strikes[i - 1]);
  const [a, b] = [volatilities[i - 1] ** 2, volatilities[i] ** 2];
  return (a + share * (b - a)) * ((s.expiry - s.instant) / 31_536_000_000);
}

test('clean quotes hold the fair value between them, also of American options with cash dividends', () => {
  const kelpa = UNIVERSE.find((u) => u.symbol === 'KELPA');
  if (!kelpa) throw new Error('KELPA');
  const now = sessionInstant(TODAY_DAY);
  const slice = market.slices('KELPA', now).find((s) => dateText(Math.floor(s.expiry / 86_400_000)) === '2031-06-20');
  if (!slice) throw new Error('no June expiry');
  const years = (to: number) => (to - now) / 31_536_000_000;
  const dividends = dividendsOf(kelpa)
    .filter((d) => d.instant > now && d.instant < slice.expiry)
    .map((d) => ({ time: years(d.instant), amount: d.amount }));
  expect(dividends).toHaveLength(1);
  const rate = -Math.log(discountOf(slice, dividends[0])) / years(slice.expiry);
  const i = slice.strikes.findIndex((k) => k >= slice.truth.forward);
  for (const [side, bid, ask] of [
    ['call', slice.callBid[i], slice.callAsk[i]],
    ['put', slice.putBid[i], slice.putAsk[i]],
  ] as const) {
    const option = {
      side,
      model: 'spot',
      underlying: slice.underlyingPrice,
      strike: slice.strikes[i],
      timeToExpiry: years(slice.expiry),
      rate,
      volatility: slice.truth.volatilities[i],
      dividends,
    } as const;
    const fair = optionPrice({ ...option, exercise: 'american' }, 'fine');
    // The premium is interpolated between strikes and the volatility is Black's on the forward: a tick or two.
    expect(fair).toBeGreaterThan(bid - 0.03);
    expect(fair).toBeLessThan(ask + 0.03);
  }
});

/** Discount factor to expiry that makes the forward of spot and dividend the slice's. */
function discountOf(slice: SimulatedSlice, dividend: { time: number; amount: number }): number {
  const years = (slice.expiry - slice.instant) / 31_536_000_000;
  let rate = 0.03;
  for (let step = 0; step < 50; step++) {
    const forward =
      slice.underlyingPrice * Math.exp(rate * years) - dividend.amount * Math.exp(rate * (years - dividend.time));
    rate += (slice.truth.forward - forward) / (slice.underlyingPrice * years);
  }
  return Math.exp(-rate * years);
}

/** As docs/veldmar.md states them, so that neither moves without the other. */
const STATED_RATES = { stale: 0.0012, crossed: 0.0008, 'zero-bid': 0.0008 };

test('faults come at the stated rates', () => {
  expect(FAULT_RATES).toEqual(STATED_RATES);
  const count: Record<FaultKind, number> = { stale: 0, crossed: 0, 'zero-bid': 0 };
  let eligible = 0;
  for (const u of UNIVERSE.slice(0, 12)) {
    const tick = (price: number) => (price < u.tickChange ? u.optionTick : u.wideTick);
    for (const day of keptDays(u.symbol).filter((_, i) => i % 16 === 0)) {
      const slices = market.slices(u.symbol, sessionInstant(day)).filter((s) => !s.truth.isWrongExpiry);
      slices.forEach((s) => {
        for (const side of ['call', 'put'] as const) {
          s[`${side}Bid`].forEach((bid, i) => {
            const ask = s[`${side}Ask`][i];
            if (Math.min(bid, ask) >= LEAST_TICKS * tick(Math.min(bid, ask))) eligible++;
          });
        }
        for (const fault of s.truth.faults) count[fault.kind]++;
      });
    }
  }
  for (const kind of ['crossed', 'zero-bid'] as const) {
    const expected = STATED_RATES[kind] * eligible;
    // Four standard deviations of a Poisson count.
    expect(Math.abs(count[kind] - expected), kind).toBeLessThan(4 * Math.sqrt(expected));
  }
  // A stale quote that would not show is left as it was, so there are fewer than drawn, but not few.
  expect(count.stale).toBeGreaterThan(0.3 * STATED_RATES.stale * eligible);
  expect(count.stale).toBeLessThan(FAULT_RATES.stale * eligible + 4 * Math.sqrt(FAULT_RATES.stale * eligible));
});

test('quotes stand on their ticks, never bid above offer unless a fault says so', () => {
  fc.assert(
    fc.property(fc.nat(UNIVERSE.length - 1), fc.nat(24), (u, ago) => {
      const listed = UNIVERSE[u];
      const days = keptDays(listed.symbol);
      for (const s of market.slices(listed.symbol, sessionInstant(days[days.length - 1 - ago]))) {
        for (const side of ['call', 'put'] as const) {
          s[`${side}Bid`].forEach((bid, i) => {
            const ask = s[`${side}Ask`][i];
            expect(Math.abs(bid / listed.optionTick - Math.round(bid / listed.optionTick))).toBeLessThan(1e-6);
            const isFaulty = s.truth.faults.some((f) => f.side === side && f.index === i);
            if (!isFaulty) expect(ask).toBeGreaterThan(bid);
          });
        }
      }
    }),
    { numRuns: 40 },
  );
});
