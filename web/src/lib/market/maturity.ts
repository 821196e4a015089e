import type { VolatilitySurface } from '@umwelt/core/surface';
import { finiteOrNull } from '../api/finite-or-null.ts';
import type { Side } from '../api/quantity.ts';
import type { Maturity } from '../api/surface-resource.ts';

/** A surface at a number of days; null of none. @param dates of the expiries that it is made of */
export function maturityOf(
  volatility: VolatilitySurface | undefined,
  days: number,
  dates: readonly string[],
): Maturity | null {
  if (!volatility) return null;
  const time = days / 365;
  const { atm, riskReversal25, butterfly25, forward } = volatility.constantMaturity(time);
  const { near, far, share } = volatility.between(time);
  const isLevel = !Number.isFinite(riskReversal25);
  const wing = (side: Side) => (isLevel ? null : finiteOrNull(volatility.volatilityAt(time, { side, delta: 0.25 })));
  return {
    days,
    atm,
    riskReversal25: finiteOrNull(riskReversal25),
    butterfly25: finiteOrNull(butterfly25),
    callVolatility25: wing('call'),
    putVolatility25: wing('put'),
    forward,
    near: near === undefined ? null : dates[near],
    far: dates[far],
    share,
  };
}
