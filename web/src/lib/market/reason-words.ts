import type { QuoteReasonText } from '../api/market-resource.ts';

const REASON_WORDS: Record<QuoteReasonText, string> = {
  crossed: 'crossed',
  stale: 'stale against neighbors',
  'no-ask': 'without an offer',
  'no-bid': 'without a bid',
  'below-intrinsic': 'with a mid at or below intrinsic',
  'too-wide': 'wider than their mid',
};

/** Words for why a quote is kept out. */
export function reasonWords(reason: QuoteReasonText): string {
  return REASON_WORDS[reason];
}
