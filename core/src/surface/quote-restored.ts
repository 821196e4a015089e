import type { Side } from '../pricing/index.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

/** A quote put back by hand: its verdict is ignored. */
export interface RestoredQuote {
  side: Side;
  strike: number;
}

export function isRestored(restored: RestoredQuote[] | undefined, side: Side, strike: number): boolean {
  return restored?.some((r) => r.side === side && r.strike === strike) ?? false;
}

/** Clears the verdicts of quotes put back; one without two prices cannot be: there is nothing to fit. */
export function applyRestored(slice: Slice, verdicts: Verdicts, restored: RestoredQuote[] | undefined): void {
  for (const { side, strike } of restored ?? []) {
    const i = slice.strikes.indexOf(strike);
    if (i >= 0 && verdicts[side][i] !== 'no-ask' && sideQuotes(slice, side).bid[i] >= 0) verdicts[side][i] = undefined;
  }
}
