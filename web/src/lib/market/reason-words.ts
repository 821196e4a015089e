import type { QuoteReasonText } from '../api/market-resource.ts';

/** Short enough for a cell; of one quote; of several. */
const WORDS: Record<QuoteReasonText, readonly [name: string, one: string, many: string]> = {
  crossed: ['crossed', 'with its bid above its offer', 'with bids above their offers'],
  stale: ['stale', 'stale against its neighbors', 'stale against their neighbors'],
  'no-ask': ['no offer', 'without an offer', 'without an offer'],
  'no-bid': ['no bid', 'without a bid', 'without a bid'],
  'below-intrinsic': [
    'no time value',
    'with its mid at or below exercise value',
    'with mids at or below exercise value',
  ],
  'too-wide': ['spread > mid', 'with its spread wider than its mid', 'with spreads wider than their mids'],
};

/** Name of why a quote is excluded, for a cell. */
export function reasonName(reason: QuoteReasonText): string {
  return WORDS[reason][0];
}

/** Words for why quotes are excluded. @param count how many they are */
export function reasonWords(reason: QuoteReasonText, count = 1): string {
  return WORDS[reason][count === 1 ? 1 : 2];
}
