import { expect, test } from 'vitest';
import { impliedYield, smileVolatility, termVolatility } from '@umwelt/core/surface';
import {
  CURRENCIES,
  dateText,
  dividendsOf,
  intradayDays,
  keptDays,
  sessionInstant,
  sessionsUpTo,
  TODAY,
  TODAY_DAY,
  UNIVERSE,
} from '../../src/veldmar/index.ts';
import { derived, market, monthSmile, realized } from './derived.ts';

/* What each flagship is there to teach, read from its quotes and bars; told in docs/veldmar.md. */

const FLAGSHIPS = [
  'VM50',
  'VFUND',
  'VMQ',
  'KELPA',
  'MERRO',
  'TYNDA',
  'SKALD',
  'TERN',
  'RYE',
  'ORVEN',
  'PELAG',
  'TIDEW',
];
const today = dateText(TODAY_DAY);
const listed = (symbol: string) => {
  const found = UNIVERSE.find((u) => u.symbol === symbol);
  if (!found) throw new Error(symbol);
  return found;
};
const year = keptDays('VM50');
const monthly = year.filter((_, i) => i % 21 === 0);

test('the flagships stand first, in the order of the design', () => {
  expect(UNIVERSE.slice(0, 12).map((u) => u.symbol)).toEqual(FLAGSHIPS);
  expect(UNIVERSE.filter((u) => u.isFlagship)).toHaveLength(12);
});

test('VM50: ordinary downside skew all year, daily and weekly expiries, one that expires today', () => {
  for (const day of monthly) {
    const { atm, riskReversal25 } = monthSmile(derived('VM50', day));
    expect(riskReversal25 / atm, dateText(day)).toBeLessThan(-0.2);
  }
  const { slices } = derived('VM50', TODAY_DAY);
  const days = slices.map((s) => (s.expiry - TODAY) / 86_400_000);
  expect(days[0]).toBeCloseTo(3.5 / 24, 6);
  expect(days.filter((d) => d < 14).length).toBeGreaterThanOrEqual(8);
  expect(days[days.length - 1]).toBeGreaterThan(600);
});

test('VFUND: the same thing as VM50, thinly quoted, with a quarterly distribution', () => {
  const width = (symbol: string) => {
    const { slices, expiries } = derived(symbol, TODAY_DAY);
    // Of the expiry in five weeks, in volatility, near the money.
    const i = slices.findIndex((s) => dateText(Math.floor((s.expiry + 3_600_000) / 86_400_000)) === '2031-04-18');
    const { volatilities, slice } = expiries[i];
    const call = volatilities('call');
    const at = slice.strikes.findIndex((k) => k >= slices[i].truth.forward);
    return call.ask[at] - call.bid[at];
  };
  expect(width('VFUND')).toBeGreaterThan(3 * width('VM50'));
  expect(dividendsOf(listed('VFUND')).filter((d) => d.exDate.startsWith('2031'))).toHaveLength(4);
  const [fund, index] = [realized('VFUND', 250, today), realized('VM50', 250, today)];
  expect(Math.abs(fund - index)).toBeLessThan(0.01);
});

test('VMQ: delivery months that carry like the index, a smaller contract, the same smile', () => {
  const curve = market.futuresCurve('VMQ', TODAY, TODAY_DAY);
  const index = market.stateAt('VM50', TODAY).price;
  curve?.prices.forEach((price) => expect(Math.abs(price / index - 1)).toBeLessThan(0.03));
  expect(curve?.prices.length).toBeGreaterThanOrEqual(4);
  expect(listed('VMQ').multiplier).toBeLessThan(listed('VM50').multiplier);
  const [a, b] = [monthSmile(derived('VMQ', TODAY_DAY)), monthSmile(derived('VM50', TODAY_DAY))];
  expect(Math.abs(a.atm - b.atm)).toBeLessThan(0.006);
  expect(Math.abs(a.riskReversal25 - b.riskReversal25)).toBeLessThan(0.01);
});

test("KELPA: pays dividends, and its 30-day volatility is at the year's low", () => {
  expect(dividendsOf(listed('KELPA')).filter((d) => d.exDate.startsWith('2031'))).toHaveLength(2);
  const past = year.filter((_, i) => i % 7 === 0).map((day) => derived('KELPA', day).atm30);
  const now = derived('KELPA', TODAY_DAY).atm30;
  expect(past.filter((v) => v < now).length / past.length).toBeLessThanOrEqual(0.02);
});

test('MERRO: the readout on 27 March, nine sessions away, lifts the front more than 10 points over the third month', () => {
  expect(sessionsUpTo(Math.floor(Date.UTC(2031, 2, 27) / 86_400_000), 10)[0]).toBe(TODAY_DAY);
  const { term } = derived('MERRO', TODAY_DAY);
  const front = Math.max(...term.filter((p) => p.timeToExpiry * 365 < 30).map((p) => p.volatility));
  expect(front - termVolatility(term, 90 / 365)).toBeGreaterThan(0.1);
  // Before the readout's date there is nothing of it.
  expect(front - term[1].volatility).toBeGreaterThan(0.2);
});

test('TYNDA: the readout two weeks ago took 15 points of 30-day volatility and a fifth of the price in one day', () => {
  const readout = sessionsUpTo(TODAY_DAY, 11)[0];
  expect(dateText(readout)).toBe('2031-02-28');
  const before = sessionsUpTo(readout, 2)[0];
  expect(derived('TYNDA', before).atm30 - derived('TYNDA', readout).atm30).toBeGreaterThan(0.15);
  const bars = market.bars('TYNDA');
  const i = bars.findIndex((b) => b.date === '2031-02-28');
  expect(bars[i].close / bars[i - 1].close).toBeLessThan(0.83);
  // Every quarter of an hour of the day is kept for replay.
  expect(intradayDays('TYNDA')).toContain(readout);
});

test('SKALD: calls above are dearer than puts below, all year; one expiry holds the quotes of another', () => {
  for (const day of monthly)
    expect(monthSmile(derived('SKALD', day)).riskReversal25, dateText(day)).toBeGreaterThan(0.02);
  const { slices, expiries } = derived('SKALD', TODAY_DAY);
  const wrong = slices.findIndex((s) => s.truth.isWrongExpiry);
  const atm = expiries.map((e) => e.measures?.atm ?? NaN);
  expect(atm[wrong] - Math.max(atm[wrong - 1], atm[wrong + 1])).toBeGreaterThan(0.1);
  expect(expiries.flatMap((e, i) => (e.outlier ? [i] : []))).toEqual([wrong]);
  expect(slices.filter((s) => s.truth.isWrongExpiry)).toHaveLength(1);
});

test('TERN: the skew changed side within the year', () => {
  const first = year.slice(0, 60).filter((_, i) => i % 10 === 0);
  const last = year.slice(-40).filter((_, i) => i % 10 === 0);
  for (const day of first) expect(monthSmile(derived('TERN', day)).riskReversal25, dateText(day)).toBeLessThan(-0.003);
  for (const day of last) expect(monthSmile(derived('TERN', day)).riskReversal25, dateText(day)).toBeGreaterThan(0.003);
});

test('RYE: upside skew, July above March, and old crop dearer than new', () => {
  for (const day of monthly) expect(monthSmile(derived('RYE', day)).riskReversal25, dateText(day)).toBeGreaterThan(0);
  const { term } = derived('RYE', TODAY_DAY);
  expect(termVolatility(term, 130 / 365) - term[1].volatility).toBeGreaterThan(0.03);
  const curve = market.futuresCurve('RYE', TODAY, TODAY_DAY);
  const priceOf = (date: string) =>
    curve?.prices[curve.deliveries.findIndex((d) => dateText(d).startsWith(date))] ?? NaN;
  expect(priceOf('2031-05') / priceOf('2031-09')).toBeGreaterThan(1.03);
});

test('ORVEN: realized volatility above implied', () => {
  const implied = year
    .slice(-60)
    .filter((_, i) => i % 10 === 0)
    .map((day) => derived('ORVEN', day).atm30);
  const mean = implied.reduce((sum, v) => sum + v, 0) / implied.length;
  expect(realized('ORVEN', 60, today) / mean).toBeGreaterThan(1.1);
});

test('PELAG: implied volatility far above realized', () => {
  const implied = year
    .slice(-60)
    .filter((_, i) => i % 10 === 0)
    .map((day) => derived('PELAG', day).atm30);
  const mean = implied.reduce((sum, v) => sum + v, 0) / implied.length;
  expect(mean / realized('PELAG', 60, today)).toBeGreaterThan(1.5);
});

test('TIDEW: an almost flat smile', () => {
  // Since its last dividend: before one, early exercise blurs what parity implies.
  for (const day of year.slice(-85).filter((_, i) => i % 12 === 0)) {
    const { atm, riskReversal25, butterfly25 } = monthSmile(derived('TIDEW', day));
    expect(Math.abs(riskReversal25) / atm, dateText(day)).toBeLessThan(0.05);
    expect(butterfly25).toBeLessThan(0.002);
  }
});

test('GUSTA: a special dividend that nobody has announced is read from its quotes, amount and date', () => {
  expect(dividendsOf(listed('GUSTA'))).toHaveLength(0);
  const { carry, expiries, slices } = derived('GUSTA', TODAY_DAY);
  expect(carry?.dividends).toHaveLength(1);
  const [{ amount, time }] = carry?.dividends ?? [];
  // 2.10 a share on 13 May, 60 days from today.
  expect(Math.abs(amount.value - 2.1)).toBeLessThan(0.05);
  expect(Math.abs(365 * time.value - 60)).toBeLessThan(3);
  expiries.forEach((e, i) => expect(Math.abs(e.forward.forward / slices[i].truth.forward - 1)).toBeLessThan(5e-4));
});

test('NIVVA: the cost to borrow it, 28 % a year, is read from its quotes, and its forwards fall', () => {
  const { carry, expiries, slices } = derived('NIVVA', TODAY_DAY);
  expect(Math.abs((carry?.borrow.value ?? 0) - 0.28)).toBeLessThan(0.01);
  expect(carry?.dividends).toHaveLength(0);
  expect(expiries[expiries.length - 1].forward.forward).toBeLessThan(0.9 * slices[0].underlyingPrice);
  expiries.forEach((e, i) => expect(Math.abs(e.forward.forward / slices[i].truth.forward - 1)).toBeLessThan(1.5e-3));
});

test('AUK: its own rate is published nowhere, and parity tells it', () => {
  expect(CURRENCIES).not.toContain('AUK');
  const { expiries, slices } = derived('AUK', TODAY_DAY);
  const last = expiries[expiries.length - 1];
  const time = last.slice.timeToExpiry;
  // About 6 % a year, in the simulator's own curve.
  expect(Math.abs(impliedYield(last.forward, { spot: slices[0].underlyingPrice }, time) - 0.06)).toBeLessThan(0.004);
});

test('GRAVO and RUNEX: orders that are worked move strikes outside the smooth smile, calls and puts alike, and fade', () => {
  let moved = 0;
  let outside = 0;
  let alike = 0;
  for (const symbol of ['GRAVO', 'RUNEX']) {
    for (const day of keptDays(symbol).filter((_, i) => i % 4 === 0)) {
      const { expiries, slices } = derived(symbol, day);
      expiries.forEach((e, i) => {
        const smile = e.smile?.smile;
        if (!smile) return;
        slices[i].truth.flow.forEach((flow, k) => {
          // A strike by itself that is bid by more than a whole width.
          const isAlone = flow > 2.5 && !(Math.abs(slices[i].truth.flow[k + 1] ?? 0) > 1);
          const call = e.volatilities('call');
          const put = e.volatilities('put');
          if (!isAlone || !(call.mid[k] > 0) || !(put.mid[k] > 0)) return;
          const fitted = smileVolatility(smile, Math.log(e.slice.strikes[k] / e.forward.forward));
          const own = e.telling[k] === 'call' ? call : put;
          moved++;
          if (fitted < own.bid[k]) outside++;
          if (call.mid[k] > fitted && put.mid[k] > fitted) alike++;
        });
      });
    }
  }
  expect(moved).toBeGreaterThan(10);
  expect(outside / moved).toBeGreaterThan(0.8);
  expect(alike / moved).toBeGreaterThan(0.9);
  // From session to session what is left of a bid falls to exp(-1/4) of it, where no other order joins.
  let fading = 0;
  let seen = 0;
  const days = keptDays('GRAVO').slice(-12);
  days.slice(1).forEach((day, n) => {
    const [before, after] = [days[n], day].map((d) => market.slices('GRAVO', sessionInstant(d)));
    for (const slice of before) {
      const next = after.find((s) => s.expiry === slice.expiry);
      slice.truth.flow.forEach((flow, k) => {
        const then = next?.truth.flow[next.strikes.indexOf(slice.strikes[k])];
        if (!(flow > 1) || then === undefined) return;
        seen++;
        if (Math.abs(then / flow - Math.exp(-0.25)) < 1e-9) fading++;
      });
    }
  });
  expect(seen).toBeGreaterThan(20);
  // A sixth of the sessions begin another order, at another strike or in a whole wing.
  expect(fading / seen).toBeGreaterThan(0.5);
});
