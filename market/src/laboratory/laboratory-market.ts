import type { CashDividend } from '@umwelt/core/pricing';
import type { Law } from './laws/index.ts';

/** A cash dividend of a laboratory market, which the analyst is told of or not. */
export interface LaboratoryDividend extends CashDividend {
  isKnown: boolean;
}

/** A market whose truth is known, and what of it an analyst is told. */
export interface LaboratoryMarket {
  name: string;
  law: Law;
  spot: number;
  exercise: 'european' | 'american';
  /** Default spot */
  model?: 'spot' | 'futures';
  /** At which the underlying is financed, per year */
  rate: number;
  /** What the analyst takes for it; null without any curve */
  curve: number | null;
  /** Yield or cost to borrow, per year; nobody is told unless `isYieldKnown` */
  dividendYield: number;
  isYieldKnown?: boolean;
  dividends: readonly LaboratoryDividend[];
  /** To each expiry, ascending */
  days: readonly number[];
  strikes: LaboratoryStrikes;
  /** Multiple of the plain quotes' width; default 1 */
  width?: number;
  /** Least price step; default 0.01 */
  tick?: number;
  /** Quotes of a chain that are stale, crossed or without bid; default 0 */
  faults?: number;
  /** American values by the law itself instead of constant volatility at the strike */
  isByLaw?: boolean;
}

export interface LaboratoryStrikes {
  /** No more than so many an expiry */
  most: number;
  /** Deviations of the lowest and highest strike from the forward; a wing is missing where one is near 0 */
  below: number;
  above: number;
}

/** A market's forward to an expiry: a spot pays its dividends and the yield, a futures price stays. */
export function laboratoryForward(market: LaboratoryMarket, timeToExpiry: number): number {
  if (market.model === 'futures') return market.spot;
  const drift = market.rate - market.dividendYield;
  let forward = market.spot * Math.exp(drift * timeToExpiry);
  for (const { time, amount } of dividendsBefore(market, timeToExpiry)) {
    forward -= amount * Math.exp(drift * (timeToExpiry - time));
  }
  return forward;
}

/** Those paid before an expiry. */
export function dividendsBefore(market: LaboratoryMarket, timeToExpiry: number): LaboratoryDividend[] {
  return market.dividends.filter((d) => d.time < timeToExpiry);
}
