export interface CashDividend {
  /** Years from now to the ex-date, inside (0, time to expiry) */
  time: number;
  /** Per unit of underlying, >= 0; a spot at or below it falls to zero */
  amount: number;
}

/** Contract and market of one solution. Unchecked. */
export interface FiniteDifferenceProblem {
  isCall: boolean;
  isAmerican: boolean;
  isNormal: boolean;
  /** Its yield is the rate and moves with it: a derivative by the rate holds the futures price */
  isFuture?: boolean;
  /** Pays 1 when it ends in the money, instead of the difference */
  isDigital?: boolean;
  spot: number;
  strike: number;
  timeToExpiry: number;
  rate: number;
  /** 0 in the normal model */
  dividendYield: number;
  volatility: number;
  dividends: readonly CashDividend[];
}

/** Steps of the coarser grid; the finer one has twice as many of both. */
export interface GridSize {
  space: number;
  time: number;
  /** Fewest time steps between two dividends; default 8 */
  leastSteps?: number;
}

/** Value and its first three derivatives by spot. */
export interface FiniteDifferenceResult {
  price: number;
  delta: number;
  gamma: number;
  speed: number;
}
