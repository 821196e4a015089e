import type { CashDividend } from './finite-difference-problem.ts';
import { requireRange } from './require-range.ts';
import type { Side } from './side.ts';

export type Exercise = 'european' | 'american';
/**
 * `spot`: lognormal underlying with a continuous yield (a currency pair's foreign rate) and known cash dividends, by
 * which it falls at their ex-dates. `futures`: lognormal futures price without drift (Black 1976). `normal`: futures
 * price with normal changes (Bachelier 1900), of any sign.
 */
export type Model = 'spot' | 'futures' | 'normal';

/** One option and the market it is priced in. */
export interface Option {
  side: Side;
  exercise: Exercise;
  model: Model;
  /** Spot, or the futures price; > 0 except in the normal model */
  underlying: number;
  /** Same currency as the underlying; > 0 except in the normal model */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Per year, continuously compounded, decimal */
  rate: number;
  /** Per year, continuously compounded, decimal; 0 when left out, and nil but in the spot model */
  dividendYield?: number;
  /** Per year, decimal; price units per root year in the normal model; >= 0 */
  volatility: number;
  /** Spot model only, ex-dates inside (0, timeToExpiry) */
  dividends?: readonly CashDividend[];
}

/**
 * @throws RangeError naming the argument and its value when it is outside the ranges of {@link Option}
 */
export function checkOption(o: Option): void {
  const bound = o.model === 'normal' ? {} : { above: 0 };
  requireRange('underlying', o.underlying, bound);
  requireRange('strike', o.strike, bound);
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('rate', o.rate);
  requireRange('volatility', o.volatility, { minimum: 0 });
  requireRange('dividendYield', o.dividendYield ?? 0);
  if (o.model !== 'spot' && (o.dividendYield || o.dividends?.length)) {
    throw new RangeError(`model ${o.model} takes a futures price, which has no yield and no dividends`);
  }
  for (const { time, amount } of o.dividends ?? []) {
    requireRange('dividend amount', amount, { minimum: 0 });
    if (!(time > 0 && time < o.timeToExpiry)) {
      throw new RangeError(`dividend time must lie between 0 and timeToExpiry ${o.timeToExpiry}: ${time}`);
    }
  }
}

/** Yield of the equivalent spot: a futures price drifts like a spot whose yield is the rate. */
export function carryYield(o: Option): number {
  return o.model === 'spot' ? (o.dividendYield ?? 0) : o.rate;
}

export function hasCashDividends(o: Option): boolean {
  return o.dividends?.some((d) => d.amount > 0) ?? false;
}

/** Value on exercise now. */
export function exerciseValue(o: Option): number {
  return Math.max(o.side === 'call' ? o.underlying - o.strike : o.strike - o.underlying, 0);
}
