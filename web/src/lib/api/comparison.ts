import { z } from 'zod';
import { listText } from './list-text.ts';
import { instantText, symbolText } from './quantity.ts';

/** Most underlyings that are held beside the one that is shown. */
export const MOST_COMPARED = 4;

/** Another underlying at the instant that is shown (KELPA), or any at another (KELPA@2031-02-14T17:30:00+01:00). */
const comparison = z
  .string()
  .transform((text) => {
    const [symbol, asOf] = text.split('@') as [string, string | undefined];
    return asOf === undefined ? { symbol } : { symbol, asOf };
  })
  .pipe(z.object({ symbol: symbolText, asOf: instantText.optional() }));
export type Comparison = z.infer<typeof comparison>;

/** How a comparison is written in the URL. */
export function comparisonText({ symbol, asOf }: Comparison): string {
  return asOf === undefined ? symbol : `${symbol}@${asOf}`;
}

/** What a view holds beside the underlying that it shows. */
export const comparisons = listText(comparison)
  .transform((all) => all.slice(0, MOST_COMPARED))
  .default([])
  .catch([]);
