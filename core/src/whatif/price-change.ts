import { type Accuracy, type Option, optionGreeks, optionPrice } from '../pricing/index.ts';
import { dividendsWithin } from './dividends-within.ts';

/** Causes of a change of value, in the order in which they are told. */
export const CHANGE_CAUSES = ['delta', 'gamma', 'theta', 'vega', 'rho', 'dividend', 'contract', 'rest'] as const;
export type ChangeCause = (typeof CHANGE_CAUSES)[number];

/** A change of an option's value, per unit of underlying; the parts add up to it. */
export interface PriceChange {
  from: number;
  to: number;
  change: number;
  parts: Record<ChangeCause, number>;
}

/**
 * Splits the change of value between two states of an option by cause: Greeks of the first state times the moves of
 * underlying, time, volatility, rate and yield; cash dividends by pricing the first state with the second's; another
 * strike, side, exercise or model as `contract`, in the second state's market; what remains of higher order as `rest`.
 * Time that is left less counts as calendar time that has passed. Between models all is `contract`, since their
 * volatilities are not the same thing.
 * @throws RangeError for states outside the ranges of {@link Option}
 */
export function explainPriceChange(from: Option, to: Option, accuracy: Accuracy = 'default'): PriceChange {
  const greeks = optionGreeks(from, accuracy);
  const value = optionPrice(to, accuracy);
  const change = value - greeks.price;
  const parts: Record<ChangeCause, number> = {
    delta: 0,
    gamma: 0,
    theta: 0,
    vega: 0,
    rho: 0,
    dividend: 0,
    contract: 0,
    rest: 0,
  };
  if (from.model !== to.model) return { from: greeks.price, to: value, change, parts: { ...parts, contract: change } };
  const move = to.underlying - from.underlying;
  parts.delta = greeks.delta * move;
  parts.gamma = 0.5 * greeks.gamma * move * move;
  parts.theta = greeks.theta * (from.timeToExpiry - to.timeToExpiry);
  parts.vega = greeks.vega * (to.volatility - from.volatility);
  parts.rho = greeks.rho * (to.rate - from.rate);
  parts.dividend = greeks.dividendRho * ((to.dividendYield ?? 0) - (from.dividendYield ?? 0));
  if (!isSameDividends(from, to)) {
    const withNew = { ...from, dividends: dividendsWithin(to.dividends, from.timeToExpiry) };
    parts.dividend += optionPrice(withNew, accuracy) - greeks.price;
  }
  const isSameContract = from.strike === to.strike && from.side === to.side && from.exercise === to.exercise;
  if (!isSameContract) {
    const moved = { ...to, strike: from.strike, side: from.side, exercise: from.exercise };
    parts.contract = value - optionPrice(moved, accuracy);
  }
  const told = CHANGE_CAUSES.reduce((sum, cause) => sum + parts[cause], 0);
  parts.rest = change - told;
  return { from: greeks.price, to: value, change, parts };
}

function isSameDividends(a: Option, b: Option): boolean {
  const [first, second] = [a.dividends ?? [], b.dividends ?? []];
  return (
    first.length === second.length && first.every((d, i) => d.time === second[i].time && d.amount === second[i].amount)
  );
}
