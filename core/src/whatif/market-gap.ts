import { findRoot } from '../math/index.ts';
import {
  type Accuracy,
  type CashDividend,
  type Exercise,
  type ImpliedVolatilityResult,
  type Option,
  optionImpliedVolatility,
  optionPrice,
  requireRange,
  type Side,
} from '../pricing/index.ts';

/** One option with what one knows without looking at its chain, and what its chain implies. */
export interface MarketGapInput {
  side: Side;
  exercise: Exercise;
  model: 'spot' | 'futures';
  /** Spot or futures price, > 0 */
  underlying: number;
  strike: number;
  /** Years, > 0 */
  timeToExpiry: number;
  /** Rate of the curve, per year; volatility taken for the theory, per year */
  naive: { rate: number; volatility: number };
  /** Dividends known beforehand: yield per year, and cash with times inside (0, timeToExpiry); spot model only */
  known?: { dividendYield?: number; dividends?: readonly CashDividend[] };
  /** Rate of the discount factor that calls and puts imply, and the forward they imply */
  implied: { rate: number; forward: number };
  /** Price in the market, per unit of underlying; any number */
  marketPrice: number;
}

/** Causes of the gap, in the order in which naive inputs are replaced. */
export const GAP_CAUSES = ['rate', 'dividend', 'forward', 'exercise', 'volatility'] as const;
export type GapCause = (typeof GAP_CAUSES)[number];

/** From theory to market, per unit of underlying: theory + parts + rest = market. */
export interface MarketGap {
  /** Value as a European option without dividends, with the naive rate and volatility */
  theory: number;
  market: number;
  parts: Record<GapCause, number>;
  /** Nothing but rounding unless the market price has no volatility */
  rest: number;
  impliedVolatility: ImpliedVolatilityResult;
  /** Yield at which underlying, rate and known cash dividends give the implied forward; 0 with futures */
  impliedYield: number;
}

/** Absolute, on the yield: 1e-12 a year moves a price by less than its rounding. */
const YIELD_TOLERANCE = 1e-13;
const STEEPEST_YIELD = 50;

/**
 * Splits the gap between a naive theoretical value and the market by replacing one naive input after the other: the
 * rate by the implied one, no dividends by the known ones, the forward by that of put-call parity, European by the
 * contract's exercise, and at last the volatility by the one that the market price implies then.
 * @throws RangeError outside the ranges
 */
export function explainMarketGap(o: MarketGapInput, accuracy: Accuracy = 'fine'): MarketGap {
  requireRange('implied forward', o.implied.forward, { above: 0 });
  requireRange('timeToExpiry', o.timeToExpiry, { above: 0 });
  const state: Option = {
    side: o.side,
    exercise: 'european',
    model: o.model,
    underlying: o.underlying,
    strike: o.strike,
    timeToExpiry: o.timeToExpiry,
    rate: o.naive.rate,
    volatility: o.naive.volatility,
  };
  const theory = optionPrice(state, accuracy);
  const parts: Record<GapCause, number> = { rate: 0, dividend: 0, forward: 0, exercise: 0, volatility: 0 };
  let value = theory;
  const replace = (cause: GapCause, change: Partial<Option>) => {
    Object.assign(state, change);
    const next = optionPrice(state, accuracy);
    parts[cause] = next - value;
    value = next;
  };
  replace('rate', { rate: o.implied.rate });
  let impliedYield = 0;
  if (o.model === 'spot') {
    replace('dividend', { dividendYield: o.known?.dividendYield ?? 0, dividends: o.known?.dividends });
    impliedYield = yieldOfForward(o);
    replace('forward', { dividendYield: impliedYield });
  } else replace('forward', { underlying: o.implied.forward });
  replace('exercise', { exercise: o.exercise });
  const impliedVolatility = optionImpliedVolatility(state, o.marketPrice, accuracy);
  if (impliedVolatility.ok) replace('volatility', { volatility: impliedVolatility.volatility });
  return { theory, market: o.marketPrice, parts, rest: o.marketPrice - value, impliedVolatility, impliedYield };
}

/** Yield q at which S e^((r - q) T) less the dividends carried to expiry is the implied forward. */
function yieldOfForward(o: MarketGapInput): number {
  const { rate, forward } = o.implied;
  const T = o.timeToExpiry;
  const plain = rate - Math.log(forward / o.underlying) / T;
  const dividends = o.known?.dividends ?? [];
  if (dividends.length === 0) return plain;
  const miss = (q: number) =>
    dividends.reduce(
      (sum, d) => sum - d.amount * Math.exp((rate - q) * (T - d.time)),
      o.underlying * Math.exp((rate - q) * T),
    ) - forward;
  const found = findRoot(miss, { low: plain - STEEPEST_YIELD, high: plain, tolerance: YIELD_TOLERANCE });
  if (!found.ok) throw new RangeError(`dividends leave no yield that gives the implied forward ${forward}`);
  return found.root;
}
