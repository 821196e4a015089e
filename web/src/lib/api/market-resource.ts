import { z } from 'zod';
import { expiryDate, figure, instantText } from './quantity.ts';

/** Why a quote is not used. */
export const quoteReason = z.enum(['crossed', 'no-bid', 'no-ask', 'stale', 'below-intrinsic', 'too-wide']);
export type QuoteReasonText = z.infer<typeof quoteReason>;

/** Quotes of one side by strike, with the volatilities of bid, mid and ask and the verdict on each. */
const sideColumns = z.object({
  bid: z.array(figure),
  ask: z.array(figure),
  bidSize: z.array(figure),
  askSize: z.array(figure),
  last: z.array(figure),
  volume: z.array(figure),
  openInterest: z.array(figure),
  bidVolatility: z.array(figure),
  midVolatility: z.array(figure),
  askVolatility: z.array(figure),
  verdict: z.array(quoteReason.nullable()),
  /** What early exercise adds to the price, taken off the quotes before they are turned into volatilities; 0 for European options */
  earlyExercise: z.array(z.number()),
});

/** Quotes of an expiry, judged. */
export const expiryMarket = z
  .object({ date: expiryDate, strikes: z.array(z.number()), call: sideColumns, put: sideColumns })
  .meta({ id: 'ExpiryMarket' });
export type ExpiryMarket = z.infer<typeof expiryMarket>;

/** What is quoted of an underlying at an instant: every quote with its volatilities and the verdict on it. */
export const marketResource = z
  .object({ symbol: z.string(), asOf: instantText, expiries: z.array(expiryMarket) })
  .meta({ id: 'Market' });
export type MarketResource = z.infer<typeof marketResource>;
