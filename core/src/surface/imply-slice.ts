import type { Side } from '../pricing/index.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import { isRestored, type RestoredQuote } from './quote-restored.ts';
import { type QuoteVolatilities, quoteVolatilities } from './quote-volatilities.ts';
import type { Slice } from './slice.ts';
import { type SliceForward, sliceForward, type SliceForwardOptions } from './slice-forward.ts';
import { type PremiumColumns, tellingSide } from './telling-side.ts';

/** One expiry on its own forward, in volatility. */
export interface ImpliedSlice {
  slice: Slice;
  forward: SliceForward;
  verdicts: Verdicts;
  /** Of every strike's quote of a side; computed when first asked for, since the fit needs those out of the money alone */
  volatilities: (side: Side) => QuoteVolatilities;
  /** Side of each strike that the fit looks at, where it has no verdict */
  telling: Side[];
  /** What early exercise added to the quotes, taken off them here; undefined for European options */
  premium?: PremiumColumns;
}

export interface ImplySliceOptions extends SliceForwardOptions {
  restored?: RestoredQuote[];
  /** Of these very quotes, when it is known already */
  forward?: SliceForward;
  /** Estimated with the other expiries: stands whatever becomes of single pairs */
  jointForward?: SliceForward;
  /** What was taken off the quotes for early exercise */
  premium?: PremiumColumns;
}

/** Forward and volatilities of European quotes; quotes below their intrinsic value on that forward get a verdict. */
export function implySlice(slice: Slice, verdicts: Verdicts, o: ImplySliceOptions): ImpliedSlice {
  const forward = o.forward ?? o.jointForward ?? sliceForward(slice, verdicts, o);
  const telling = Array.from(slice.strikes, (_, i) => tellingSide(slice, i, forward.forward, o.premium));
  markBelowIntrinsic(slice, verdicts, forward, o.restored);
  const known: Partial<Record<Side, QuoteVolatilities>> = {};
  const volatilities = (side: Side) => (known[side] ??= quoteVolatilities(slice, side, forward));
  return { slice, forward, verdicts, volatilities, telling, ...(o.premium ? { premium: o.premium } : {}) };
}

/** Gives quotes below their intrinsic value on a forward their verdict, and takes it from those no longer below. */
export function markBelowIntrinsic(
  slice: Slice,
  verdicts: Verdicts,
  f: SliceForward,
  restored: RestoredQuote[] | undefined,
): void {
  for (const side of ['call', 'put'] as const) {
    const { bid, ask } = sideQuotes(slice, side);
    slice.strikes.forEach((strike, i) => {
      if (verdicts[side][i] !== undefined && verdicts[side][i] !== 'below-intrinsic') return;
      if (isRestored(restored, side, strike)) return;
      const intrinsic = f.discountFactor * Math.max(0, side === 'call' ? f.forward - strike : strike - f.forward);
      verdicts[side][i] = 0.5 * (bid[i] + ask[i]) <= intrinsic ? 'below-intrinsic' : undefined;
    });
  }
}
