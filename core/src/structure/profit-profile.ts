import { findRoot } from '../math/index.ts';

/** Profit by the price of the underlying, at one moment: any function of it. */
export type ProfitAt = (price: number) => number;

/** How a profit behaves beyond the prices that are looked at. */
export interface ProfileReach {
  /** Prices at which the profit may bend: strikes */
  knots: readonly number[];
  /** From the lowest price looked at to the highest, > 0 */
  low: number;
  high: number;
}

/** Where a profit starts, stops and turns. */
export interface ProfitProfile {
  breakEvens: number[];
  /** Highest and lowest among the prices looked at, each with its price */
  highest: { profit: number; price: number };
  lowest: { profit: number; price: number };
}

/** Places between the lowest and the highest price, even in its logarithm. */
const STEPS = 600;
/** On the price, relative: rounding of the values that are compared. */
const TOLERANCE = 1e-13;
const GOLDEN = 0.5 * (Math.sqrt(5) - 1);
const GOLDEN_ROUNDS = 80;

/**
 * Break-evens and extremes of a profit that is smooth between knots, by a fine walk and root finding within each step.
 * What turns twice within a step of a few thousandths of the price is not seen.
 */
export function profitProfile(profit: ProfitAt, { knots, low, high }: ProfileReach): ProfitProfile {
  const inner = knots.filter((k) => k > low && k < high);
  // By logarithms throughout: the ratio of the two may be more than a number holds.
  const start = Math.log(low);
  const step = (Math.log(high) - start) / STEPS;
  const even = Array.from({ length: STEPS + 1 }, (_, i) =>
    i === 0 ? low : i === STEPS ? high : Math.exp(start + i * step),
  );
  const prices = [...new Set([...even, ...inner])].sort((a, b) => a - b);
  const profits = prices.map(profit);
  const breakEvens: number[] = [];
  for (let i = 0; i + 1 < prices.length; i++) {
    if (profits[i] === 0) breakEvens.push(prices[i]);
    else if (profits[i] * profits[i + 1] < 0) {
      const found = findRoot(profit, { low: prices[i], high: prices[i + 1], tolerance: TOLERANCE * prices[i] });
      if (found.ok) breakEvens.push(found.root);
    }
  }
  return {
    breakEvens,
    highest: turned(profit, prices, profits, 1),
    lowest: turned(profit, prices, profits, -1),
  };
}

/** The highest (sign 1) or lowest profit, by golden section around the best of the walk. */
function turned(
  profit: ProfitAt,
  prices: number[],
  profits: number[],
  sign: 1 | -1,
): { profit: number; price: number } {
  let best = 0;
  for (let i = 1; i < prices.length; i++) if (sign * profits[i] > sign * profits[best]) best = i;
  let found = { profit: profits[best], price: prices[best] };
  // Each side of the best place by itself: at a knot the profit has a corner.
  for (const [from, to] of [
    [Math.max(0, best - 1), best],
    [best, Math.min(prices.length - 1, best + 1)],
  ]) {
    let [a, b] = [prices[from], prices[to]];
    if (!(b > a)) continue;
    let [c, d] = [b - GOLDEN * (b - a), a + GOLDEN * (b - a)];
    let [fc, fd] = [sign * profit(c), sign * profit(d)];
    for (let round = 0; round < GOLDEN_ROUNDS && b - a > TOLERANCE * b; round++) {
      if (fc > fd) {
        [b, d, fd] = [d, c, fc];
        c = b - GOLDEN * (b - a);
        fc = sign * profit(c);
      } else {
        [a, c, fc] = [c, d, fd];
        d = a + GOLDEN * (b - a);
        fd = sign * profit(d);
      }
    }
    const top = Math.max(fc, fd);
    if (top > sign * found.profit) found = { profit: sign * top, price: fc > fd ? c : d };
  }
  return found;
}

/**
 * Probability of a profit above 0, by the law of the price at that moment.
 * @param breakEvens ascending; between two of them the profit keeps its sign
 * @param below probability to be at or below a price
 */
export function profitChance(
  profit: ProfitAt,
  breakEvens: readonly number[],
  below: (price: number) => number,
): number {
  let chance = 0;
  for (let i = 0; i <= breakEvens.length; i++) {
    const from = i === 0 ? 0 : breakEvens[i - 1];
    const to = i === breakEvens.length ? Infinity : breakEvens[i];
    const inside = to === Infinity ? Math.max(2 * from, from + 1) : 0.5 * (from + to);
    if (profit(inside) > 0) chance += (to === Infinity ? 1 : below(to)) - (from === 0 ? 0 : below(from));
  }
  return Math.min(1, Math.max(0, chance));
}
