import { borrowedSmile, describedSmile, type Smile, smileVolatility } from '@umwelt/core/surface';
import type { ExpirySurface } from '../api/surface-resource.ts';

/** Smile of an expiry as a function again, undefined when none was fitted. */
export function expirySmile(expiry: ExpirySurface): Smile | undefined {
  return expiry.smile ? describedSmile(expiry.smile, expiry.years) : undefined;
}

/** The smile that an expiry borrows, undefined when it borrows none. */
export function borrowedSmileOf({ borrowed }: ExpirySurface): Smile | undefined {
  if (!borrowed) return undefined;
  return borrowed.steps.reduce<Smile>(
    (smile, { years, ...step }) => borrowedSmile(smile, years, step),
    describedSmile(borrowed.base.smile, borrowed.base.years),
  );
}

/** Fitted volatility at a strike, null without a smile. */
export function fittedVolatility(expiry: ExpirySurface, strike: number): number | null {
  const smile = expirySmile(expiry);
  if (!smile) return null;
  const volatility = smileVolatility(smile, Math.log(strike / expiry.forward));
  return volatility > 0 ? volatility : null;
}
