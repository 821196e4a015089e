import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { constantOdds, finishAbove, touchOnSmile, touchProbability } from '../../src/probability/index.ts';
import { black76Price } from '../../src/pricing/index.ts';
import { probabilityAbove, type Smile, smileVolatility, sviRawSmile } from '../../src/surface/index.ts';
import { loadReference } from '../reference/load.ts';

interface TouchCase {
  spot: number;
  years: number;
  rate: number;
  dividendYield: number;
  volatility: number;
  lower: number;
  upper: number;
  touchLower: number;
  touchUpper: number;
  touchEither: number;
  finishBelowLower: number;
  finishAboveUpper: number;
  finishBetween: number;
}

const lawOf = (c: Omit<TouchCase, 'lower'>) => ({
  spot: c.spot,
  timeToExpiry: c.years,
  volatility: c.volatility,
  drift: c.rate - c.dividendYield,
});

test('touching and ending beyond levels agree with mpmath (touch-probability.json)', () => {
  for (const c of loadReference<TouchCase>('touch-probability.json').cases) {
    const law = lawOf(c);
    const { lower, upper } = c;
    const found = {
      touchLower: touchProbability(law, { lower }),
      touchUpper: touchProbability(law, { upper }),
      touchEither: touchProbability(law, { lower, upper }),
      finishBelowLower: constantOdds(law).below(lower),
      finishAboveUpper: finishAbove(law, upper),
      finishBetween: constantOdds(law).below(upper) - constantOdds(law).below(lower),
    };
    for (const [name, value] of Object.entries(found)) {
      const told = c[name as keyof typeof found];
      // The tolerance the data state: what is correctly rounded there is not here, by a few roundings of 1.
      const allowed = Math.max(1e-13, 1e-10 * told);
      expect(Math.abs(value - told), `${name} of ${JSON.stringify(c)}: ${value}`).toBeLessThanOrEqual(allowed);
    }
  }
});

describe('touching under a smile', () => {
  const flat = (volatility: number, years: number): Smile => ({
    timeToExpiry: years,
    totalVariance: () => volatility * volatility * years,
    slope: () => 0,
    curvature: () => 0,
  });
  const law = fc.record({
    volatility: fc.double({ min: 0.05, max: 1, noNaN: true }),
    years: fc.double({ min: 0.01, max: 2, noNaN: true }),
    drift: fc.double({ min: -0.1, max: 0.1, noNaN: true }),
    down: fc.double({ min: 0.2, max: 3, noNaN: true }),
    up: fc.double({ min: 0.2, max: 3, noNaN: true }),
  });

  test('comes to the closed form where the smile is flat', () => {
    fc.assert(
      fc.property(law, ({ volatility, years, drift, down, up }) => {
        const deviation = volatility * Math.sqrt(years);
        const path = { spot: 100, forward: 100 * Math.exp(drift * years), smile: flat(volatility, years) };
        const lower = 100 * Math.exp(-down * deviation);
        const upper = 100 * Math.exp(up * deviation);
        const closed = { spot: 100, timeToExpiry: years, volatility, drift };
        for (const levels of [{ lower }, { upper }, { lower, upper }])
          expect(Math.abs(touchOnSmile(path, levels) - touchProbability(closed, levels))).toBeLessThan(1e-5);
      }),
      { numRuns: 60 },
    );
  });

  test('of a skewed smile lies above its finish, and below what no price can exceed', () => {
    // A touch can be hedged by put(K) / (K - level) for every K above it, whatever the path: Brown, H., Hobson, D. & Rogers, L. C. G.
    // (2001). Robust hedging of barrier options. Mathematical Finance 11(3), 285-314.
    const smile = sviRawSmile({ a: 0.004, b: 0.04, rho: -0.5, m: 0.01, sigma: 0.1 }, 0.25);
    const path = { spot: 100, forward: 100, smile };
    const put = (strike: number) => {
      const volatility = smileVolatility(smile, Math.log(strike / 100));
      return black76Price({ side: 'put', forward: 100, strike, timeToExpiry: 0.25, volatility, discountFactor: 1 });
    };
    for (const lower of [80, 85, 90, 95, 98]) {
      const touch = touchOnSmile(path, { lower });
      const most = Math.min(
        ...Array.from({ length: 400 }, (_, i) => lower + 0.1 * (i + 1)).map((k) => put(k) / (k - lower)),
      );
      expect(touch, String(lower)).toBeGreaterThan(1 - probabilityAbove(smile, Math.log(lower / 100)));
      expect(touch, String(lower)).toBeLessThan(most);
    }
  });

  test('agrees with paths drawn under the local volatility of the smile', () => {
    // Steps of a Brownian bridge: between two of them a level is reached with its own probability.
    const smile = sviRawSmile({ a: 0.004, b: 0.05, rho: -0.4, m: 0, sigma: 0.15 }, 0.5);
    const found = touchOnSmile({ spot: 100, forward: 100, smile }, { lower: 90 });
    const drawn = drawnTouch(smile, Math.log(0.9));
    expect(Math.abs(found - drawn.probability)).toBeLessThan(4 * drawn.standardError + 1e-3);
  });
});

/** Touching by paths of local volatility on the way to a smile, 20,000 of 200 steps. */
function drawnTouch(smile: Smile, level: number): { probability: number; standardError: number } {
  const [paths, steps] = [20_000, 200];
  let seed = 12345;
  const uniform = () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) | 0;
    return ((seed >>> 0) + 0.5) / 2 ** 32;
  };
  let hits = 0;
  for (let p = 0; p < paths; p++) {
    let x = 0;
    let missed = 1;
    for (let n = 0; n < steps; n++) {
      const share = (n + 0.5) / steps;
      const [w, d, b] = [smile.totalVariance(x), smile.slope(x), smile.curvature(x)];
      // Gatheral (2006), equation 1.10, for the smile with the share of its variance.
      const density =
        (1 - (x * d) / (2 * w)) ** 2 - 0.25 * share * share * d * d * (1 / (share * w) + 0.25) + 0.5 * share * b;
      const variance = w / density / steps;
      const normal = Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
      const next = x - 0.5 * variance + Math.sqrt(variance) * normal;
      if (next <= level) {
        missed = 0;
        break;
      }
      missed *= 1 - Math.exp((-2 * (x - level) * (next - level)) / variance);
      x = next;
    }
    hits += 1 - missed;
  }
  const probability = hits / paths;
  return { probability, standardError: Math.sqrt((probability * (1 - probability)) / paths) };
}
