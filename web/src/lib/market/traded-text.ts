import type { TradedLegText } from '../api/traded.ts';
import { dateText, strikeText } from '../ui/format.ts';

/** What was traded in words: "18 Apr 82.5 call", "18 Apr 82.5 / 85 call vertical", "16 May 80 call over 18 Apr". */
export function tradedText(kind: string, legs: readonly TradedLegText[], referenceYear: string): string {
  const [first, second] = legs;
  const date = (leg: TradedLegText) => dateText(leg.expiry, referenceYear);
  switch (kind) {
    case 'vertical':
      return `${date(first)} ${strikeText(first.strike)} / ${strikeText(second.strike)} ${first.side} vertical`;
    case 'calendar':
      return `${strikeText(first.strike)} ${first.side} calendar, ${date(first)} over ${date(second)}`;
    case 'straddle':
      return `${date(first)} ${strikeText(first.strike)} straddle`;
    case 'strangle':
      return `${date(first)} ${strikeText(second.strike)} / ${strikeText(first.strike)} strangle`;
    default:
      return `${date(first)} ${strikeText(first.strike)} ${first.side}`;
  }
}
