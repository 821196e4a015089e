/** Quotes of one expiry; parallel columns by ascending strike, NaN where nothing is quoted. Prices per unit of underlying. */
export interface QuotedSlice {
  /** Milliseconds since 1970 UTC */
  expiry: number;
  /** Of the delivery month, when the underlying is a future */
  underlyingPrice: number;
  strikes: Float64Array;
  callBid: Float64Array;
  callAsk: Float64Array;
  /** Contracts wanted at the bid and offered at the ask */
  callBidSize: Float64Array;
  callAskSize: Float64Array;
  callLast: Float64Array;
  callVolume: Float64Array;
  callOpenInterest: Float64Array;
  putBid: Float64Array;
  putAsk: Float64Array;
  putBidSize: Float64Array;
  putAskSize: Float64Array;
  putLast: Float64Array;
  putVolume: Float64Array;
  putOpenInterest: Float64Array;
}

/** What changed at one moment: the full slices of every underlying that was asked for and moved. */
export interface QuoteWave {
  /** Counts up by one; tells a listener whether it missed some */
  sequence: number;
  /** Market time, milliseconds since 1970 UTC */
  instant: number;
  /** Price of every listed underlying */
  prices: Record<string, number>;
  chains: { symbol: string; slices: QuotedSlice[] }[];
  /** Of the futures among the chains: last trading days (days since 1970) and prices of the delivery months */
  futuresCurves: { symbol: string; deliveries: number[]; prices: number[] }[];
  /** Sessions that closed since the last wave, with their bars */
  closedBars: {
    symbol: string;
    date: string;
    open: number;
    high: number;
    low: number;
    close: number;
    volume: number;
  }[];
}

/** Where quotes come from: the exchange simulator, or a market data service in its place. */
export interface QuoteSource {
  /**
   * The next wave, `seconds` of market time later (a closed market goes on at its next open).
   * @param symbols whose full chains are wanted
   */
  next(seconds: number, symbols: readonly string[]): Promise<QuoteWave>;
  /** What `resume` needs to go on from here, as JSON */
  state(): unknown;
}
