import { deriveSurface } from '@umwelt/core/surface';
import type { SurfaceFitRequest, SurfaceFitResponse } from '../../api/surface-fit.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';

const column = (values: (number | null)[]) => Float64Array.from(values, (v) => v ?? NaN);

/** Judges, implies and fits the quotes of a request. */
export function fitSurface(o: SurfaceFitRequest): SurfaceFitResponse {
  const rate = o.rate;
  const surface = deriveSurface({
    spot: o.underlying,
    rates: rate === undefined ? undefined : o.slices.map(() => rate),
    slices: o.slices.map((s) => ({
      timeToExpiry: s.years,
      strikes: Float64Array.from(s.strikes),
      callBid: column(s.callBid),
      callAsk: column(s.callAsk),
      putBid: column(s.putBid),
      putAsk: column(s.putAsk),
    })),
  });
  return {
    index30: surface.index30,
    index30Completed: surface.index30Completed,
    slices: surface.expiries.map((e) => ({
      forward: e.forward.forward,
      discountFactor: e.forward.discountFactor,
      smile: e.smile ? { ...e.smile.description, rmse: e.smile.rmse, insideMarket: e.smile.insideMarket } : null,
      atm: finiteOrNull(e.measures?.atm),
      riskReversal25: finiteOrNull(e.measures?.riskReversal25),
      butterfly25: finiteOrNull(e.measures?.butterfly25),
      rejected: (['call', 'put'] as const).flatMap((side) =>
        e.verdicts[side].flatMap((reason, i) => (reason ? [{ strike: e.slice.strikes[i], side, reason }] : [])),
      ),
      arbitrageFree: e.isArbitrageFree,
    })),
  };
}
