import { normalQuantile } from '../math/index.ts';
import { lawAbove, type PriceLaw } from '../probability/index.ts';

/** A day on the way to the last. */
export interface ReachDay {
  law: PriceLaw;
  /** Variance from now to this day, of the law's middle; does not fall */
  variance: number;
}

export interface ReachInput {
  /** Ascending, the last the horizon; now is not among them */
  days: readonly ReachDay[];
  /** Of the underlying now */
  price: number;
  /** Ascending; profits between them are on a line */
  prices: Float64Array;
  /** One a price, row after row: now first, then the days in their order */
  profits: Float64Array;
  /** Reached at this profit or more; above today's */
  target?: number;
  /** Reached at this profit or less; below today's */
  limit?: number;
  paths: number;
  /** On [0, 1), from a seeded source */
  random: () => number;
}

/** A chance from drawn paths. */
export interface DrawnChance {
  chance: number;
  /** One standard deviation of its error */
  standardError: number;
}

export interface ReachChances {
  /** At any moment up to the horizon; undefined of what is not asked for */
  target: DrawnChance | undefined;
  limit: DrawnChance | undefined;
  /** Of both: which comes first */
  targetFirst: DrawnChance | undefined;
  limitFirst: DrawnChance | undefined;
}

/** Prices at which something is reached, in deviations of the path from now; none where it is nowhere. */
type Reached = readonly (readonly [low: number, high: number])[];

/** Shares of a law beyond this are as far out as any path goes. */
const FAR = 1e-12;

/**
 * The chance that a profit reaches a target, or a loss its limit, at any moment before a day. Paths are drawn whose price has, on each
 * day, the law of that day: a Brownian motion that runs by the variance of the surface, put through the law's quantiles. Between two
 * days the path is a Brownian bridge, whose chance to have crossed a line between what has to be reached at either end is known in
 * closed form, so that no touch between days is missed. Every path comes with its mirror image.
 * @throws RangeError where nothing is asked for, or the profits are not one a price and day
 * @see Karatzas, I. & Shreve, S. E. (1991). Brownian Motion and Stochastic Calculus, 2nd edition, section 4.3 (crossing of a line by a
 *   bridge); Glasserman, P. (2003). Monte Carlo Methods in Financial Engineering, sections 4.2 (mirrored paths) and 6.4.
 */
export function reachChance(o: ReachInput): ReachChances {
  const { days, prices, profits, target, limit, paths } = o;
  if (target === undefined && limit === undefined) throw new RangeError('neither a target nor a limit is given');
  if (profits.length !== prices.length * (days.length + 1))
    throw new RangeError(
      `${profits.length} profits are given for ${prices.length} prices now and on ${days.length} days`,
    );
  // Now the price is known: places are those of the first day, at as much of its forward, from where the path begins.
  const first = days[0].law.forward / o.price;
  const begin = scoreOf(days[0], days[0].law.forward);
  const reachedBy = (isReached: ((profit: number) => number) | undefined) =>
    isReached &&
    [0, ...days.keys()].map((day, row) => {
      const column = profits.subarray(row * prices.length, (row + 1) * prices.length);
      const law = days[day];
      const [carried, start] = row === 0 ? [first, begin] : [1, 0];
      return intervalsOf(prices, column, isReached).map(
        ([low, high]) => [scoreOf(law, low * carried) - start, scoreOf(law, high * carried) - start] as const,
      );
    });
  const up = reachedBy(target === undefined ? undefined : (profit) => profit - target);
  const down = reachedBy(limit === undefined ? undefined : (profit) => limit - profit);
  const steps = days.map(({ variance }, i) => Math.sqrt(Math.max(0, variance - (i === 0 ? 0 : days[i - 1].variance))));
  const draws = new Float64Array(days.length);
  const sums = { target: [0, 0], limit: [0, 0], targetFirst: [0, 0], limitFirst: [0, 0] };
  const half = Math.max(1, Math.round(paths / 2));
  for (let path = 0; path < half; path++) {
    for (let i = 0; i < draws.length; i++) draws[i] = normalQuantile(Math.max(Number.MIN_VALUE, o.random()));
    const [one, other] = [walk(1, draws, steps, up, down), walk(-1, draws, steps, up, down)];
    for (const name of ['target', 'limit', 'targetFirst', 'limitFirst'] as const) {
      const mean = 0.5 * (one[name] + other[name]);
      sums[name][0] += mean;
      sums[name][1] += mean * mean;
    }
  }
  const drawn = ([sum, squares]: number[]): DrawnChance => {
    const chance = sum / half;
    return { chance, standardError: Math.sqrt(Math.max(0, squares / half - chance * chance) / half) };
  };
  const both = up && down;
  return {
    target: up && drawn(sums.target),
    limit: down && drawn(sums.limit),
    targetFirst: both && drawn(sums.targetFirst),
    limitFirst: both && drawn(sums.limitFirst),
  };
}

interface Walked {
  target: number;
  limit: number;
  targetFirst: number;
  limitFirst: number;
}

/** What one path reaches: chances, since its way between days is open. @param sign -1 of its mirror image */
function walk(
  sign: 1 | -1,
  draws: Float64Array,
  steps: readonly number[],
  up: readonly Reached[] | undefined,
  down: readonly Reached[] | undefined,
): Walked {
  // Not reached so far: the target, the limit, neither.
  let [noTarget, noLimit, neither] = [1, 1, 1];
  let [targetFirst, limitFirst] = [0, 0];
  let from = 0;
  for (let i = 0; i < steps.length && (noTarget > 0 || noLimit > 0); i++) {
    const step = steps[i];
    const to = from + sign * step * draws[i];
    const [byTarget, byLimit] = [
      up ? crossed(from, to, step, up[i], up[i + 1]) : 0,
      down ? crossed(from, to, step, down[i], down[i + 1]) : 0,
    ];
    // Where both are crossed within a day, either may have come first.
    targetFirst += neither * byTarget * (1 - 0.5 * byLimit);
    limitFirst += neither * byLimit * (1 - 0.5 * byTarget);
    noTarget *= 1 - byTarget;
    noLimit *= 1 - byLimit;
    neither *= (1 - byTarget) * (1 - byLimit);
    from = to;
  }
  return { target: 1 - noTarget, limit: 1 - noLimit, targetFirst, limitFirst };
}

/** Chance that a bridge between two places has been where something is reached, whose ends move on lines. */
function crossed(from: number, to: number, step: number, before: Reached, after: Reached): number {
  if (isInside(from, before) || isInside(to, after)) return 1;
  const [above, below] = [nextAbove(from, before), nextBelow(from, before)];
  const [endAbove, endBelow] = [nextAbove(to, after), nextBelow(to, after)];
  let missed = 1;
  // What is there at one end alone counts as if it had stood there all day.
  const [u0, u1] = [above ?? endAbove, endAbove ?? above];
  if (u0 !== undefined && u1 !== undefined) missed *= 1 - bridge(u0 - from, u1 - to, step);
  const [l0, l1] = [below ?? endBelow, endBelow ?? below];
  if (l0 !== undefined && l1 !== undefined) missed *= 1 - bridge(from - l0, to - l1, step);
  return 1 - missed;
}

/** That a bridge reaches a line, by its distance at either end; below 0 it is beyond. */
function bridge(first: number, last: number, step: number): number {
  if (first <= 0 || last <= 0) return 1;
  return step > 0 ? Math.exp((-2 * first * last) / (step * step)) : 0;
}

const isInside = (x: number, reached: Reached) => reached.some(([low, high]) => x >= low && x <= high);
function nextAbove(x: number, reached: Reached): number | undefined {
  for (const [low] of reached) if (low > x) return low;
  return undefined;
}
function nextBelow(x: number, reached: Reached): number | undefined {
  for (let i = reached.length - 1; i >= 0; i--) if (reached[i][1] < x) return reached[i][1];
  return undefined;
}

/** Where a path has to stand on a day for the price to be there. */
function scoreOf({ law, variance }: ReachDay, price: number): number {
  if (price === 0) return -Infinity;
  if (price === Infinity) return Infinity;
  const below = Math.min(1 - FAR, Math.max(FAR, 1 - lawAbove(law, price)));
  return normalQuantile(below) * Math.sqrt(variance);
}

/** Prices at which a function of the profit is at least 0, ascending; what holds at an end holds beyond it. */
function intervalsOf(
  prices: Float64Array,
  profits: Float64Array,
  over: (profit: number) => number,
): [low: number, high: number][] {
  const intervals: [number, number][] = [];
  let low: number | undefined = over(profits[0]) >= 0 ? 0 : undefined;
  for (let i = 1; i < prices.length; i++) {
    const [a, b] = [over(profits[i - 1]), over(profits[i])];
    if (a >= 0 === b >= 0) continue;
    const at = prices[i - 1] + (a / (a - b)) * (prices[i] - prices[i - 1]);
    if (low === undefined) low = at;
    else {
      intervals.push([low, at]);
      low = undefined;
    }
  }
  if (low !== undefined) intervals.push([low, Infinity]);
  return intervals;
}
