import { describedSmile, VolatilitySurface } from '@umwelt/core/surface';
import type { ExpirySurface, Maturity, SurfaceResource } from '../api/surface-resource.ts';
import { maturityOf } from './maturity.ts';

type Seen = Pick<SurfaceResource, 'price' | 'expiries' | 'jumps'>;
type Fitted = ExpirySurface & { smile: NonNullable<ExpirySurface['smile']> };

/** Expiries that a surface is made of: fitted, and in line with the others. */
function inLine({ expiries }: Seen): Fitted[] {
  return expiries.filter((e): e is Fitted => e.smile !== null && e.outlier === null);
}

/** Core's surface again from what is sent of it, the same to the bit as where it was derived; undefined without a smile. */
export function surfaceAgain(seen: Seen): VolatilitySurface | undefined {
  const smiles = inLine(seen).map(({ smile, years, forward }) => ({
    smile: describedSmile(smile, years),
    forward,
    isLevel: smile.model === 'flat',
  }));
  if (smiles.length === 0) return undefined;
  const events = seen.jumps.map(({ years, variance }) => ({ time: years, variance }));
  return new VolatilitySurface(smiles, { spot: seen.price, events });
}

/** The surface at any number of days between its first and its last expiry; null beyond them. */
export function maturityAt(seen: Seen, days: number): Maturity | null {
  const expiries = inLine(seen);
  const isWithin = expiries.length > 0 && days >= expiries[0].days && days <= expiries[expiries.length - 1].days;
  return isWithin
    ? maturityOf(
        surfaceAgain(seen),
        days,
        expiries.map((e) => e.date),
      )
    : null;
}
