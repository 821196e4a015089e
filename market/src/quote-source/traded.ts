import type { Side } from '@umwelt/core/pricing';

/** One option of something traded as a whole. */
export interface TradedLeg {
  /** Milliseconds since 1970 UTC */
  expiry: number;
  side: Side;
  strike: number;
  /** Contracts bought with one unit of the whole; negative when sold */
  ratio: number;
}

export const LISTED_SPREAD_KINDS = ['vertical', 'calendar', 'straddle', 'strangle'] as const;
export type ListedSpreadKind = (typeof LISTED_SPREAD_KINDS)[number];

/** Combination that an exchange lists and quotes by itself. Prices per unit of underlying, of one unit bought. */
export interface ListedSpread {
  kind: ListedSpreadKind;
  legs: TradedLeg[];
  bid: number;
  ask: number;
  bidSize: number;
  askSize: number;
}

/** One print of the trade tape: an outright option, or a listed spread. */
export interface TradePrint {
  /** Milliseconds since 1970 UTC */
  instant: number;
  legs: TradedLeg[];
  /** Per unit of underlying, of one unit bought */
  price: number;
  /** Units traded */
  size: number;
  /** Quote that it met */
  bid: number;
  ask: number;
}
