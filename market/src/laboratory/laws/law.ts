import type { Side } from '@umwelt/core/pricing';

/** How an underlying is distributed at every expiry, on its forward. */
export interface Law {
  /**
   * Black volatility per year of European options.
   * @param logMoneyness ln(strike / forward)
   * @param timeToExpiry years, > 0
   */
  volatility(logMoneyness: number, timeToExpiry: number): number;
  /** Value of an American option on an underlying without drift, where the law has it */
  american?(o: { side: Side; strike: number; timeToExpiry: number; rate: number; forward: number }): number;
}
