import { forwardStraddle, type Verdicts } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../api/picture.ts';

/** Price at mid of the straddle at the forward of an expiry, of the strikes beside it; NaN where a quote of them is not good. */
export function quotedStraddle(expiry: ExpiryPicture): number {
  const { strikes, call, put, forward, years } = expiry;
  const column = (values: (number | null)[]) => Float64Array.from(values, (v) => v ?? NaN);
  const slice = {
    timeToExpiry: years,
    strikes: Float64Array.from(strikes),
    ...{ callBid: column(call.bid), callAsk: column(call.ask) },
    ...{ putBid: column(put.bid), putAsk: column(put.ask) },
  };
  const told = (verdict: typeof call.verdict) => verdict.map((v) => v ?? undefined);
  const verdicts: Verdicts = { call: told(call.verdict), put: told(put.verdict) };
  return forwardStraddle(slice, verdicts, forward);
}
