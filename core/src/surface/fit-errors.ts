/** Fitted and quoted volatilities of the same options. */
export interface FittedQuotes {
  fitted: ArrayLike<number>;
  bid: ArrayLike<number>;
  mid: ArrayLike<number>;
  ask: ArrayLike<number>;
}

/** How near a fit comes to its quotes: root mean squared difference to their mids, and the share of them that it passes inside. */
export function fitErrors({ fitted, bid, mid, ask }: FittedQuotes): { rmse: number; insideMarket: number } {
  let squares = 0;
  let inside = 0;
  for (let i = 0; i < fitted.length; i++) {
    squares += (fitted[i] - mid[i]) ** 2;
    if (fitted[i] >= bid[i] && fitted[i] <= ask[i]) inside++;
  }
  return { rmse: Math.sqrt(squares / fitted.length), insideMarket: inside / fitted.length };
}
