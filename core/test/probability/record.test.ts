import { describe, expect, test } from 'vitest';
import {
  askWindow,
  atLeastChance,
  binomialInterval,
  brierScore,
  evenness,
  groupedInterval,
  leastWorthLevel,
  levelRecord,
  logScore,
  outEarnsDecay,
  quantileLaw,
  reliability,
  reliabilityOf,
  scoreSources,
  settledWorths,
  type ToldOdds,
  type ToldWindow,
} from '../../src/probability/index.ts';
import { chiSquaredTail, normalCdf, normalQuantile } from '../../src/math/index.ts';
import { black76Price } from '../../src/pricing/index.ts';
import { normalNumbers, uniformNumbers } from '../volatility/normal-numbers.ts';

describe('how often odds came true', () => {
  test("the binomial interval is Wilson's, and holds the truth about as often as it says", () => {
    // Worked from the published formula by hand: p = 0.8, n = 10, z = 1.959964.
    const [low, high] = binomialInterval(8, 10);
    expect(low).toBeCloseTo(0.4902, 4);
    expect(high).toBeCloseTo(0.9433, 4);
    expect(binomialInterval(0, 0)).toEqual([0, 1]);
    const uniform = uniformNumbers(3);
    let held = 0;
    const draws = 4000;
    for (let n = 0; n < draws; n++) {
      let hits = 0;
      for (let t = 0; t < 40; t++) if (uniform() < 0.3) hits++;
      const [from, to] = binomialInterval(hits, 40);
      if (from <= 0.3 && 0.3 <= to) held++;
    }
    // Its own coverage at p = 0.3, n = 40 lies near 95 %; four errors of the draw.
    expect(Math.abs(held / draws - 0.95)).toBeLessThan(0.015 + 4 * Math.sqrt((0.95 * 0.05) / draws));
  });

  test('trials that hang together count for less: the interval holds the truth as often as it says, where the plain one does not', () => {
    const uniform = uniformNumbers(17);
    const [draws, groups, size] = [2000, 40, 6];
    let [held, plain] = [0, 0];
    for (let n = 0; n < draws; n++) {
      // Half of each group goes with one draw that all of it shares.
      const drawn = Array.from({ length: groups }, () => {
        const shared = uniform() < 0.3 ? 1 : 0;
        let hits = 0;
        for (let t = 0; t < size; t++) hits += t % 2 === 0 ? shared : uniform() < 0.3 ? 1 : 0;
        return { hits, trials: size };
      });
      const covers = ([low, high]: readonly [number, number]) => low <= 0.3 && 0.3 <= high;
      if (covers(groupedInterval(drawn))) held++;
      const hits = drawn.reduce((sum, g) => sum + g.hits, 0);
      if (covers(binomialInterval(hits, groups * size))) plain++;
    }
    const error = Math.sqrt((0.95 * 0.05) / draws);
    // Forty groups tell their own spread to a ninth, which costs up to two points of coverage (Student's law).
    expect(held / draws).toBeGreaterThan(0.93 - 4 * error);
    expect(plain / draws).toBeLessThan(0.9);
    // Of one trial each it is never narrower than the plain one, and never wider than each group counted once.
    const single = Array.from({ length: 40 }, (_, i) => ({ hits: i < 12 ? 1 : 0, trials: 1 }));
    expect(groupedInterval(single)[0]).toBeLessThanOrEqual(binomialInterval(12, 40)[0] + 1e-12);
    expect(groupedInterval([{ hits: 5, trials: 5 }])).toEqual(binomialInterval(1, 1));
  });

  test('at least so many of trials with chances of their own: the binomial law where they are one, and sure at none', () => {
    const half = Array<number>(10).fill(0.5);
    // 1 - (1 + 10 + 45) / 1024
    expect(atLeastChance(half, 3)).toBeCloseTo(968 / 1024, 12);
    expect(atLeastChance([0.2, 0.9], 2)).toBeCloseTo(0.18, 12);
    expect(atLeastChance([0.2, 0.9], 0)).toBeCloseTo(1, 12);
    expect(atLeastChance([], 1)).toBe(0);
  });

  test('Brier and logarithmic scores of a small worked case, and the bins of its reliability', () => {
    const told: ToldOdds[] = [
      { probability: 0.9, cameTrue: true },
      { probability: 0.8, cameTrue: false },
      { probability: 0.1, cameTrue: false },
      { probability: 1, cameTrue: true },
    ];
    expect(brierScore(told)).toBeCloseTo((0.01 + 0.64 + 0.01 + 0) / 4, 12);
    expect(logScore(told)).toBeCloseTo(-(Math.log(0.9) + Math.log(0.2) + Math.log(0.9) + Math.log(1 - 1e-6)) / 4, 12);
    expect(brierScore([])).toBeNaN();
    const bins = reliability(told);
    expect(bins.map((b) => b.count)).toEqual([0, 1, 0, 0, 0, 0, 0, 0, 1, 2]);
    expect(bins[9]).toMatchObject({ came: 1, told: 0.95 });
    expect(bins[8]).toMatchObject({ came: 0, told: 0.8 });
    expect(bins[0].came).toBeNaN();
  });

  test('chi-squared tails are those of printed tables, and even places pass while crowded ones fail', () => {
    // Abramowitz & Stegun (1964), table 26.8, upper 5 % and 0.1 % points.
    for (const [degrees, five, tenth] of [
      [1, 3.84146, 10.828],
      [9, 16.919, 27.877],
      [30, 43.773, 59.703],
    ] as const) {
      expect(chiSquaredTail(five, degrees)).toBeCloseTo(0.05, 5);
      expect(chiSquaredTail(tenth, degrees)).toBeCloseTo(0.001, 5);
    }
    // Of an even number of degrees, 2 n, the tail is a Poisson law's sum: exp(-x / 2) times (x / 2)^k / k! for k below n (26.4.21).
    for (const halfOfDegrees of [1, 2, 5, 40]) {
      for (const value of [0.001, 0.3, 2, 7, 60, 120]) {
        let [term, sum] = [Math.exp(-value / 2), 0];
        for (let k = 1; k <= halfOfDegrees; k++) [sum, term] = [sum + term, (term * value) / 2 / k];
        expect(Math.abs(chiSquaredTail(value, 2 * halfOfDegrees) - sum)).toBeLessThan(1e-12 * Math.max(sum, 1e-3));
      }
    }
    const uniform = uniformNumbers(11);
    const even = evenness(Array.from({ length: 1000 }, uniform));
    expect(even.counts.reduce((a, b) => a + b)).toBe(1000);
    expect(even.chance).toBeGreaterThan(1e-3);
    expect(evenness(Array.from({ length: 1000 }, () => 0.2 + 0.6 * uniform())).chance).toBeLessThan(1e-10);
    // Nine bins, eight degrees of freedom: a chance that can be summed by hand.
    const uneven = evenness(
      [9, 3, 4, 6, 5, 2, 7, 5, 4].flatMap((count, bin) => new Array<number>(count).fill((bin + 0.5) / 9)),
      9,
    );
    expect(uneven.chiSquared).toBeCloseTo((16 + 4 + 1 + 1 + 0 + 9 + 4 + 0 + 1) / 5, 12);
    const half = 36 / 5 / 2;
    expect(uneven.chance).toBeCloseTo(Math.exp(-half) * (1 + half + half ** 2 / 2 + half ** 3 / 6), 12);
  });
});

describe('what open options are worth by settlement', () => {
  test('a small worked case: the sum is least where neither side has much to lose', () => {
    const worths = settledWorths({ strikes: [90, 100, 110], call: [10, 20, NaN], put: [0, 30, 10] });
    // At 90: puts (100 - 90) 30 + (110 - 90) 10 = 500. At 100: calls 10 x 10, puts 10 x 10. At 110: calls 20 x 10 + 10 x 20.
    expect(worths).toEqual([
      { price: 90, calls: 0, puts: 500 },
      { price: 100, calls: 100, puts: 100 },
      { price: 110, calls: 400, puts: 0 },
    ]);
    expect(leastWorthLevel(worths)?.price).toBe(100);
    expect(leastWorthLevel(settledWorths({ strikes: [90, 100], call: [0, NaN], put: [0, 0] }))).toBeUndefined();
  });

  test('prices that are drawn to the level are found out, and those that are not are as often near it as chance has it', () => {
    const [normal, uniform] = [normalNumbers(5), uniformNumbers(6)];
    const trials = (pull: number) =>
      Array.from({ length: 300 }, () => {
        const level = 100 + 4 * normal();
        const free = 100 + 4 * normal();
        return {
          ...{ level, reach: 1, below: (price: number) => normalCdf((price - 100) / 4) },
          settled: uniform() < pull ? level + 0.5 * normal() : free,
        };
      });
    const free = levelRecord(trials(0));
    expect(free.chance).toBeGreaterThan(1e-3);
    expect(Math.abs(free.near - free.expected)).toBeLessThan(4 * Math.sqrt(free.expected));
    expect(levelRecord(trials(0.2)).chance).toBeLessThan(1e-3);
    expect(levelRecord([])).toEqual({ count: 0, near: 0, expected: 0, chance: 1 });
  });
});

test('an option out-earns a day of decay where the move passes the price that makes up for it', () => {
  const [spot, years, volatility] = [100, 30 / 365, 0.25];
  const value = (forward: number, time: number, v = volatility) =>
    black76Price({ side: 'call', forward, strike: 100, timeToExpiry: time, volatility: v, discountFactor: 1 });
  const day = 1 / 365;
  const deviation = volatility * Math.sqrt(day);
  const now = value(spot, years);
  const found = outEarnsDecay({ spot, forward: spot, deviation, value: now, valueThen: (s) => value(s, years - day) });
  expect(value(found.price, years - day)).toBeCloseTo(now, 6);
  expect(found.price).toBeGreaterThan(100);
  expect(found.probability).toBeCloseTo(1 - normalCdf(Math.log(found.price / spot) / deviation + deviation / 2), 8);
  // Above the money decay is small against a day's move: somewhat under a half.
  expect(found.probability).toBeGreaterThan(0.35);
  expect(found.probability).toBeLessThan(0.5);
  const calmer = outEarnsDecay({
    spot,
    forward: spot,
    deviation,
    value: now,
    valueThen: (s) => value(s, years - day, 0.24),
  });
  expect(calmer.probability).toBeLessThan(found.probability);
  const never = outEarnsDecay({ spot, forward: spot, deviation, value: 1000, valueThen: (s) => value(s, years - day) });
  expect(never.probability).toBe(0);
});

describe('a record of odds', () => {
  /** Windows of a lognormal price, with sources that know its volatility, and that think it a fifth higher or lower. */
  function windows(count: number, together = 1): ToldWindow[] {
    const normal = normalNumbers(21);
    return Array.from({ length: count }, (_, i) => {
      const deviation = 0.03 + 0.05 * Math.abs(normal());
      const law = (factor: number) => (x: number) =>
        normalCdf((x + 0.5 * (factor * deviation) ** 2) / (factor * deviation));
      const outcome = deviation * normal() - 0.5 * deviation * deviation;
      const laws = { right: law(1), high: law(1.3), low: law(0.7) };
      return askWindow({ laws, outcome, scale: deviation }, String(Math.floor(i / together)));
    });
  }

  test('the source that is right scores best by every measure, and only its outcomes fall evenly', () => {
    const [right, high, low] = scoreSources(windows(2000), ['right', 'high', 'low']).map((r) => r.scores);
    for (const wrong of [high, low]) {
      expect(right?.brier ?? NaN).toBeLessThan(wrong?.brier ?? NaN);
      expect(right?.logScore ?? NaN).toBeLessThan(wrong?.logScore ?? NaN);
      expect(wrong?.evenness?.chance ?? NaN).toBeLessThan(1e-6);
    }
    expect(right?.evenness?.chance ?? NaN).toBeGreaterThan(1e-3);
    // What was told came about as often: within four errors of each band, seven chances of a window hanging together.
    const told = reliabilityOf(windows(2000), 'right').filter((bin) => bin.count > 0);
    expect(told.length).toBeGreaterThan(4);
    for (const bin of told)
      expect(Math.abs(bin.came - bin.told)).toBeLessThan(4 * Math.sqrt((7 * bin.told * (1 - bin.told)) / bin.count));
  });

  test('says nothing of a source with fewer than twenty windows, or one that is not there', () => {
    expect(scoreSources(windows(19), ['right', 'other'])).toEqual([
      { source: 'right', windows: 19 },
      { source: 'other', windows: 0 },
    ]);
    expect(scoreSources(windows(20), ['right'])[0].scores?.evenness?.counts).toHaveLength(4);
    // Forty of two underlyings over twenty stretches of time: scored, but not judged by how evenly they fall; of nineteen, nothing.
    const pooled = scoreSources(windows(40, 2), ['right'])[0];
    expect(pooled.windows).toBe(40);
    expect(pooled.scores?.brier).toBeGreaterThan(0);
    expect(pooled.scores).not.toHaveProperty('evenness');
    expect(scoreSources(windows(38, 2), ['right'])[0].scores).toBeUndefined();
  });

  test('a law of which some quantiles are kept is exact for a normal one, and unknown where they do not ascend', () => {
    const shares = [0.05, 0.16, 0.25, 0.75, 0.84, 0.95];
    const law = quantileLaw(
      shares.map((p) => 0.01 + 0.2 * normalQuantile(p)),
      shares,
    );
    for (const x of [-1, -0.3, 0.01, 0.2, 0.9]) expect(law?.(x)).toBeCloseTo(normalCdf((x - 0.01) / 0.2), 12);
    expect(quantileLaw([0, NaN, 1, 2, 3, 4], shares)).toBeUndefined();
    expect(quantileLaw([0, 2, 1, 3, 4, 5], shares)).toBeUndefined();
  });
});
