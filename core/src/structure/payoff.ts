import type { PositionLeg } from './leg.ts';

/** Profit at expiry by the price of the underlying: straight lines between knots, the last one going on with a slope. */
export interface Payoff {
  /** Ascending, the first at 0 */
  prices: number[];
  /** At each knot */
  profits: number[];
  /** Beyond the last knot */
  slope: number;
  /** Below this, a profit is nothing but the rounding of the sums it is made of */
  rounding: number;
}

/** A highest or lowest profit, and where it lies; unbounded where it has no end. */
export interface Extreme {
  profit: number;
  /** From where to where; the same price twice where it is one point, Infinity where it goes on for ever */
  at: [from: number, to: number];
}

/** Rounding of a sum, in machine steps of its largest parts. */
const ROUNDING = 8 * Number.EPSILON;

/**
 * Profit at expiry of legs that all expire together, exactly: no interest on premium, no fees.
 * @throws RangeError where option legs expire at different times
 */
export function payoffAtExpiry(legs: readonly PositionLeg[]): Payoff {
  const options = legs.filter((leg) => leg.kind === 'option');
  if (options.some((leg) => leg.years !== options[0].years)) throw new RangeError('legs expire at different times');
  const prices = [...new Set([0, ...options.map((leg) => leg.strike)])].sort((a, b) => a - b);
  const size = legs.reduce(
    (sum, leg) => sum + Math.abs(leg.quantity) * (Math.abs(leg.price) + prices[prices.length - 1]),
    0,
  );
  return {
    prices,
    profits: prices.map((price) => payoffProfit(legs, price)),
    slope: slopeAbove(legs),
    rounding: ROUNDING * size,
  };
}

/** Profit at expiry at one price, of legs that expire together. */
export function payoffProfit(legs: readonly PositionLeg[], price: number): number {
  return legs.reduce((sum, leg) => sum + leg.quantity * (payoffOf(leg, price) - leg.price), 0);
}

/** What one unit of a leg is worth at expiry. */
export function payoffOf(leg: PositionLeg, price: number): number {
  if (leg.kind === 'cash') return leg.value;
  if (leg.kind === 'underlying') return price;
  return Math.max(leg.side === 'call' ? price - leg.strike : leg.strike - price, 0);
}

function slopeAbove(legs: readonly PositionLeg[]): number {
  const rises = (leg: PositionLeg) => leg.kind === 'underlying' || (leg.kind === 'option' && leg.side === 'call');
  return legs.reduce((sum, leg) => sum + (rises(leg) ? leg.quantity : 0), 0);
}

/** Prices above 0 at which profit is nothing: where it changes sign, where it touches, and both ends of a flat stretch of nothing. */
export function payoffBreakEvens({ prices, profits, slope, rounding }: Payoff): number[] {
  const found = new Set<number>();
  const isNothing = (profit: number) => Math.abs(profit) <= rounding;
  for (let i = 0; i < prices.length; i++) {
    if (isNothing(profits[i])) {
      if (prices[i] > 0) found.add(prices[i]);
      continue;
    }
    if (i + 1 === prices.length) {
      if (profits[i] * slope < 0) found.add(prices[i] - profits[i] / slope);
    } else if (!isNothing(profits[i + 1]) && profits[i] * profits[i + 1] < 0) {
      const share = profits[i] / (profits[i] - profits[i + 1]);
      found.add(prices[i] + (prices[i + 1] - prices[i]) * share);
    }
  }
  return [...found].sort((a, b) => a - b);
}

/** Highest profit; undefined where it has no end. */
export function payoffMaximum(payoff: Payoff): Extreme | undefined {
  return payoff.slope > 0 ? undefined : extreme(payoff, Math.max(...payoff.profits));
}

/** Lowest profit, a loss where it is below 0; undefined where it has no end. */
export function payoffMinimum(payoff: Payoff): Extreme | undefined {
  return payoff.slope < 0 ? undefined : extreme(payoff, Math.min(...payoff.profits));
}

function extreme({ prices, profits, slope, rounding }: Payoff, profit: number): Extreme {
  const at = prices.filter((_, i) => Math.abs(profits[i] - profit) <= rounding);
  const last = prices.length - 1;
  const goesOn = slope === 0 && Math.abs(profits[last] - profit) <= rounding;
  return { profit, at: [at[0], goesOn ? Infinity : at[at.length - 1]] };
}
