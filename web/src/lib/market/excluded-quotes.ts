import type { QuoteReasonText } from '../api/market-resource.ts';
import type { ExpiryPicture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';

/** A quote that is kept out of the fit, or was put back by hand. */
export interface ExcludedQuote {
  strike: number;
  side: Side;
  bid: number | null;
  ask: number | null;
  /** Null of one that was put back */
  reason: QuoteReasonText | null;
}

/**
 * Quotes of an expiry that are kept out, and those that were put back, by strike.
 * @param restored those that a user put back, of any expiry
 */
export function excludedQuotes(
  expiry: Pick<ExpiryPicture, 'date' | 'strikes' | 'call' | 'put'>,
  restored: readonly { expiry: string; strike: number; side: Side }[],
): ExcludedQuote[] {
  return expiry.strikes.flatMap((strike, i) =>
    (['call', 'put'] as const).flatMap((side): ExcludedQuote[] => {
      const { bid, ask, verdict } = expiry[side];
      const isBack = restored.some((r) => r.expiry === expiry.date && r.strike === strike && r.side === side);
      if (verdict[i] === null && !isBack) return [];
      return [{ strike, side, bid: bid[i], ask: ask[i], reason: verdict[i] }];
    }),
  );
}
