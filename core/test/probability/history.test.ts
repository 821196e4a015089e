import { describe, expect, test } from 'vitest';
import {
  historyOdds,
  historyPaths,
  learnHistory,
  strikeForProbability,
  constantOdds,
  smileOdds,
  priceLaw,
} from '../../src/probability/index.ts';
import { sviRawSmile } from '../../src/surface/index.ts';
import { dailyBars, type DailyBars } from '../../src/volatility/index.ts';
import { normalNumbers, uniformNumbers } from '../volatility/normal-numbers.ts';

const SESSIONS = 1500;

/** Sessions of a lognormal price at 20 % a year, each of 40 steps so that highs and lows are its own. */
function walk(seed: number, volatility = 0.2): DailyBars {
  const normal = normalNumbers(seed);
  const step = volatility / Math.sqrt(252 * 40);
  let x = Math.log(100);
  const bars = Array.from({ length: SESSIONS }, () => {
    const open = x;
    let [low, high] = [x, x];
    for (let n = 0; n < 40; n++) {
      x += step * normal() - 0.5 * step * step;
      [low, high] = [Math.min(low, x), Math.max(high, x)];
    }
    return { open: Math.exp(open), high: Math.exp(high), low: Math.exp(low), close: Math.exp(x) };
  });
  return dailyBars(bars);
}

function known<T>(value: T | undefined): T {
  if (value === undefined) throw new Error('no paths');
  return value;
}

describe('odds of the own history', () => {
  const bars = walk(5);
  const past = known(learnHistory(bars));
  const horizons = [0.5, 5.5, 21.5];
  const drawn = horizons.map((sessions) =>
    historyPaths({ past, sessions, growth: 0, paths: 20_000, uniform: uniformNumbers(1) }),
  );

  test('of a lognormal past are those of its volatility, at every horizon, within their error', () => {
    for (const [i, sessions] of horizons.entries()) {
      const odds = historyOdds(drawn[i], 100);
      const exact = constantOdds({ spot: 100, timeToExpiry: sessions / 252, volatility: 0.2, drift: 0 });
      for (const p of [0.05, 0.2, 0.5, 0.8, 0.95]) {
        const price = exact.quantile(p);
        // The past's own volatility is known to 1 / sqrt(2 x 1500), 1.8 %: at most 0.6 points of a probability; three of both.
        expect(Math.abs(odds.below(price) - p), `${sessions} ${p}`).toBeLessThan(
          3 * (0.006 + (odds.errorOf?.(p) ?? NaN)),
        );
        // Half a session has no more places than there are sessions to draw.
        expect(Math.abs(odds.below(odds.quantile(p)) - p)).toBeLessThan(2 / SESSIONS);
      }
    }
  });

  test('bring the highs and lows of sessions with them: touching is near the closed form, and never under ending beyond', () => {
    const odds = historyOdds(drawn[2], 100);
    const exact = constantOdds({ spot: 100, timeToExpiry: 21.5 / 252, volatility: 0.2, drift: 0 });
    for (const lower of [90, 94, 97]) {
      expect(odds.touch({ lower })).toBeGreaterThanOrEqual(odds.below(lower));
      // Forty steps a session see a little less than every moment does.
      expect(Math.abs(odds.touch({ lower }) - exact.touch({ lower }))).toBeLessThan(0.05);
    }
  });

  test('are recentred to the growth that is stated, the same for a seed, and absent of a short past', () => {
    const grown = (seed: number) =>
      historyPaths({ past, sessions: 21, growth: 0.02, paths: 2000, uniform: uniformNumbers(seed) });
    const mean = grown(3).end.reduce((sum, x) => sum + Math.exp(x) / 2000, 0);
    expect(mean).toBeCloseTo(Math.exp(0.02), 12);
    expect(grown(3)).toEqual(grown(3));
    expect(grown(3)).not.toEqual(grown(4));
    const short = dailyBars(Array.from({ length: 100 }, () => ({ open: 1, high: 1, low: 1, close: 1 })));
    expect(learnHistory(short)).toBeUndefined();
    // A fit of before is carried on: of the same bars it comes to the same.
    expect(learnHistory(bars, past.fit)).toEqual(past);
  });
});

test('a strike for a probability comes back to it, by every goal and source that has it', () => {
  const smile = sviRawSmile({ a: 0.002, b: 0.03, rho: -0.5, m: 0, sigma: 0.1 }, 60 / 365);
  const law = priceLaw({ smile, forward: 100.4, range: [-0.25, 0.2] });
  const sources = [
    smileOdds(law, 100),
    constantOdds({ spot: 100, timeToExpiry: 60 / 365, volatility: 0.2, drift: 0.02 }),
  ];
  for (const odds of sources)
    for (const probability of [0.1, 0.2, 0.3]) {
      const at = (side: 'put' | 'call', goal: 'itm' | 'touch' | 'delta') =>
        strikeForProbability(odds, { side, goal, probability, spot: 100 });
      expect(odds.below(at('put', 'itm'))).toBeCloseTo(probability, 7);
      expect(1 - odds.below(at('call', 'itm'))).toBeCloseTo(probability, 7);
      expect(odds.touch({ lower: at('put', 'touch') })).toBeCloseTo(probability, 4);
      expect(odds.touch({ upper: at('call', 'touch') })).toBeCloseTo(probability, 4);
      // Delta of a call is above its chance in the money: its strike lies below (common practice, no source).
      expect(at('call', 'delta')).toBeGreaterThan(at('call', 'itm'));
      // Touching is likelier than ending there: the level of equal odds lies farther out.
      expect(at('put', 'touch')).toBeLessThan(at('put', 'itm'));
      expect(at('call', 'touch')).toBeGreaterThan(at('call', 'itm'));
    }
  for (const probability of [0, 1, NaN])
    expect(strikeForProbability(sources[0], { side: 'put', goal: 'itm', probability, spot: 100 })).toBeNaN();
});
