import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  boundedWings,
  centralRange,
  humpsOf,
  lawAbove,
  lawDensity,
  lawQuantile,
  meanAbsolute,
  oneDeviation,
  type PriceLaw,
  priceLaw,
  STEEPEST_TAIL,
  symmetricMove,
  varianceMove,
  wingError,
} from '../../src/probability/index.ts';
import { gaussLegendre, normalCdf, normalDensity } from '../../src/math/index.ts';
import { black76Price, impliedVolatility } from '../../src/pricing/index.ts';
import { durrleman, type Smile, type SviRawParameters, sviRawSmile } from '../../src/surface/index.ts';
import { loadReference } from '../reference/load.ts';

interface Row {
  forward: number;
  years: number;
  parameters: SviRawParameters;
  points: { strike: number; probabilityAbove: number; density: number }[];
}
const rows = loadReference<Row>('risk-neutral-density.json').cases;

const hundredths = (min: number, max: number) => fc.integer({ min, max }).map((n) => n / 100);

/** Mass and mean of a law's density over log-moneyness, in panels from where nothing is left to where nothing is left. */
function mass(law: PriceLaw): { mass: number; mean: number } {
  const { nodes, weights } = gaussLegendre(16);
  const deviation = Math.sqrt(law.smile.totalVariance(0));
  let sum = { mass: 0, mean: 0 };
  // Kinks of the second derivative lie at the quotes' ends: panels begin there.
  for (const [start, side] of [
    [law.range[0], -1],
    [law.range[1], 1],
  ] as const) {
    let step = 0.05 * deviation;
    for (let at: number = start, n = 0; n < 4000; n++, at += side * step, step *= 1.06) {
      const part = panel(law, Math.min(at, at + side * step), Math.max(at, at + side * step));
      sum = { mass: sum.mass + part.mass, mean: sum.mean + part.mean };
      if (Math.abs(at) > 4 * deviation && part.mass < 1e-15 && part.mean < 1e-15) break;
    }
  }
  const inner = 60;
  const width = (law.range[1] - law.range[0]) / inner;
  for (let n = 0; n < inner; n++) {
    const part = panel(law, law.range[0] + n * width, law.range[0] + (n + 1) * width);
    sum = { mass: sum.mass + part.mass, mean: sum.mean + part.mean };
  }
  return sum;
  function panel({ forward, ...rest }: PriceLaw, low: number, high: number) {
    const [middle, half] = [(low + high) / 2, (high - low) / 2];
    const out = { mass: 0, mean: 0 };
    nodes.forEach((node, i) => {
      const price = forward * Math.exp(middle + half * node);
      const m = half * weights[i] * price * lawDensity({ forward, ...rest }, price);
      out.mass += m;
      out.mean += (m * price) / forward;
    });
    return out;
  }
}

describe('the law of a smile', () => {
  test('agrees with mpmath between the quotes (risk-neutral-density.json), and is whole with its wings cut anywhere', () => {
    for (const { forward, years, parameters, points } of rows) {
      const smile = sviRawSmile(parameters, years);
      const deviation = Math.sqrt(smile.totalVariance(0));
      for (const reach of [1, 2, 4]) {
        const range = [-reach * deviation, reach * deviation] as const;
        const law = priceLaw({ smile, forward, range });
        for (const p of points) {
          const k = Math.log(p.strike / forward);
          if (k < range[0] || k > range[1]) continue;
          expect(Math.abs(lawAbove(law, p.strike) - p.probabilityAbove)).toBeLessThan(1e-12);
          expect(Math.abs(lawDensity(law, p.strike) / p.density - 1)).toBeLessThan(1e-12);
        }
        const whole = mass(law);
        expect(Math.abs(whole.mass - 1), JSON.stringify(parameters)).toBeLessThan(1e-8);
        expect(Math.abs(whole.mean - 1), JSON.stringify(parameters)).toBeLessThan(1e-8);
      }
    }
  });

  test('wings that would allow arbitrage are bent until they do not, and stay as told where they join', () => {
    const wings = fc.record({
      // Slopes at the quotes' ends in deviations: those that fall would end below nothing.
      left: hundredths(-60, 120),
      right: hundredths(-60, 120),
      level: hundredths(1, 20),
    });
    let bent = 0;
    fc.assert(
      fc.property(wings, ({ left, right, level }) => {
        const deviation = Math.sqrt(level);
        const h = deviation;
        const smile = joined(level, h, left * deviation, right * deviation);
        const law = boundedWings(smile, [-h, h]);
        for (const k of [-h, 0, h]) {
          expect(law.smile.totalVariance(k)).toBeCloseTo(smile.totalVariance(k), 12);
          expect(law.smile.slope(k)).toBeCloseTo(smile.slope(k), 12);
        }
        expect(law.wings).not.toContain('arbitrage');
        if (law.wings.includes('settling')) bent++;
        for (const at of [-60, 60]) expect(Math.abs(law.smile.slope(at))).toBeLessThanOrEqual(STEEPEST_TAIL + 1e-9);
        for (let k = 1.0001 * h; k < 40 * deviation; k *= 1.1)
          for (const at of [-k, k]) {
            expect(law.smile.totalVariance(at)).toBeGreaterThan(0);
            const d = Math.sqrt(law.smile.totalVariance(at));
            if (Math.abs(-at / d - 0.5 * d) < 8) expect(durrleman(law.smile, at)).toBeGreaterThanOrEqual(-1e-8);
          }
        const whole = mass(priceLaw({ smile, forward: 50, range: [-h, h] }));
        expect(Math.abs(whole.mass - 1)).toBeLessThan(1e-6);
      }),
      { numRuns: 150 },
    );
    expect(bent).toBeGreaterThan(50);
    // Steeper than prices allow of decades: the slope settles at what they do.
    const steep = joined(20, 4.4, 1.95, 2.2);
    const settled = boundedWings(steep, [-4.4, 4.4]);
    expect(settled.wings).toEqual(['settling', 'settling']);
    for (const k of [-50, 50]) expect(Math.abs(settled.smile.slope(k))).toBeLessThanOrEqual(STEEPEST_TAIL + 1e-9);
    // So steep at the last quote that no wing is free of arbitrage: said, not hidden.
    expect(boundedWings(joined(0.05, 0.22, 2 * 0.22, 0), [-0.22, 0.22]).wings).toEqual(['arbitrage', 'own']);
  });

  test('says how far a wing beyond the quotes may be wrong, and nothing of the sort between them', () => {
    const { forward, years, parameters } = rows[3];
    const smile = sviRawSmile(parameters, years);
    const deviation = Math.sqrt(smile.totalVariance(0));
    const law = priceLaw({ smile, forward, range: [-deviation, deviation] });
    expect(wingError(law, forward)).toBe(0);
    for (const n of [1.2, 1.5, 2, 3]) {
      const price = forward * Math.exp(-n * deviation);
      const told = 1 - lawAbove(law, price);
      const error = wingError(law, price);
      expect(error).toBeGreaterThanOrEqual(told);
      // What is told never lies beyond what the last quote allows.
      const strike = forward * Math.exp(-deviation);
      const put = black76Price({
        ...{ side: 'put' as const, forward, strike, timeToExpiry: years, discountFactor: 1 },
        volatility: Math.sqrt(smile.totalVariance(-deviation) / years),
      });
      expect(told).toBeLessThanOrEqual(put / (strike - price) + 1e-12);
      expect(error).toBeLessThanOrEqual(put / (strike - price) + 1e-12);
    }
  });

  test('a mixture of two lognormal laws comes back: its quantiles, and both its humps', () => {
    const parts = [
      { weight: 0.5, forward: 80, deviation: 0.06 },
      { weight: 0.5, forward: 120, deviation: 0.06 },
    ];
    const law = priceLaw({ smile: mixtureSmile(parts, 0.1), forward: 100, range: [-0.5, 0.5] });
    const below = (price: number) =>
      parts.reduce(
        (sum, p) => sum + p.weight * normalCdf(Math.log(price / p.forward) / p.deviation + p.deviation / 2),
        0,
      );
    for (const p of [0.05, 0.25, 0.75, 0.95]) expect(below(lawQuantile(law, p))).toBeCloseTo(p, 8);
    const humps = humpsOf(law);
    expect(humps).toHaveLength(2);
    // The mode of a lognormal law: forward exp(-3/2 deviation^2).
    const modes = humps.map((h) => h.price).sort((a, b) => a - b);
    expect(modes[0]).toBeCloseTo(80 * Math.exp(-1.5 * 0.0036), 3);
    expect(modes[1]).toBeCloseTo(120 * Math.exp(-1.5 * 0.0036), 3);
    const single = priceLaw({ smile: flat(0.2, 0.25), forward: 100, range: [-0.3, 0.3] });
    expect(humpsOf(single).map((h) => h.price)).toEqual([expect.closeTo(100 * Math.exp(-1.5 * 0.01), 4)]);
  });
});

describe('expected moves', () => {
  const law = priceLaw({ smile: flat(0.2, 0.25), forward: 100, range: [-0.3, 0.3] });

  test('of constant volatility: 0.80 of a deviation is the mean, inside which 58 % end; one holds 68 % (common practice, no source)', () => {
    expect(oneDeviation(law)).toBeCloseTo(10, 12);
    expect(meanAbsolute(law) / oneDeviation(law)).toBeCloseTo(0.797, 2);
    expect(symmetricMove(law, meanAbsolute(law)).coverage).toBeCloseTo(0.576, 2);
    expect(symmetricMove(law, oneDeviation(law)).coverage).toBeCloseTo(0.683, 2);
    expect(varianceMove(law)).toBeCloseTo(10, 6);
    const middle = centralRange(law, 0.68);
    expect(lawAbove(law, middle.low) - lawAbove(law, middle.high)).toBeCloseTo(0.68, 8);
    // Wider than the price is high: nothing lies below 0.
    expect(symmetricMove(law, 150).coverage).toBeCloseTo(1, 12);
  });

  test('a drift moves the law and not its shape', () => {
    const moved = priceLaw({ smile: flat(0.2, 0.25), forward: 100, range: [-0.3, 0.3], drift: 0.03 });
    for (const p of [0.1, 0.5, 0.9]) expect(lawQuantile(moved, p) / lawQuantile(law, p)).toBeCloseTo(Math.exp(0.03), 9);
  });
});

function flat(volatility: number, years: number): Smile {
  const w = volatility * volatility * years;
  return { timeToExpiry: years, totalVariance: () => w, slope: () => 0, curvature: () => 0 };
}

/** Level in its middle, leaves the quotes' ends at -h and h by slopes outward, and goes on from there in straight lines. */
function joined(level: number, h: number, left: number, right: number): Smile {
  const end = (k: number) => (k < 0 ? left : right);
  const share = (k: number) => Math.min(1, Math.abs(k) / h);
  return {
    timeToExpiry: 0.25,
    totalVariance: (k) => level + (end(k) * h * share(k) ** 3) / 3 + end(k) * Math.max(0, Math.abs(k) - h),
    slope: (k) => Math.sign(k) * end(k) * share(k) ** 2,
    curvature: (k) => (Math.abs(k) > h ? 0 : (2 * end(k) * share(k)) / h),
  };
}

/** Smile of a mixture of lognormal laws, with the derivatives that its distribution and density give. */
function mixtureSmile(parts: { weight: number; forward: number; deviation: number }[], years: number): Smile {
  const forward = parts.reduce((sum, p) => sum + p.weight * p.forward, 0);
  const at = (k: number) => {
    const strike = forward * Math.exp(k);
    const side = k > 0 ? ('call' as const) : ('put' as const);
    let [price, below, density] = [0, 0, 0];
    for (const p of parts) {
      const z = Math.log(strike / p.forward) / p.deviation + p.deviation / 2;
      const volatility = p.deviation / Math.sqrt(years);
      price +=
        p.weight *
        black76Price({ side, forward: p.forward, strike, timeToExpiry: years, volatility, discountFactor: 1 });
      below += p.weight * normalCdf(z);
      density += (p.weight * normalDensity(z)) / (strike * p.deviation);
    }
    const found = impliedVolatility({ side, forward, strike, timeToExpiry: years, price, discountFactor: 1 });
    if (!found.ok) throw new Error(found.reason);
    const w = found.volatility ** 2 * years;
    const deviation = Math.sqrt(w);
    const d2 = -k / deviation - deviation / 2;
    const slope = ((normalCdf(d2) - (1 - below)) * 2 * deviation) / normalDensity(d2);
    const g = (density * strike * deviation) / normalDensity(d2);
    const tilt = 1 - (k * slope) / (2 * w);
    const curvature = 2 * (g - tilt * tilt + 0.25 * slope * slope * (1 / w + 0.25));
    return { w, slope, curvature };
  };
  return {
    timeToExpiry: years,
    totalVariance: (k) => at(k).w,
    slope: (k) => at(k).slope,
    curvature: (k) => at(k).curvature,
  };
}
