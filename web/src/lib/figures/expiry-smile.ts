import { borrowedSmile, type Smile, smileVolatility, splineSmile, sviRawSmile } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../schema/picture.ts';

/** Smile of an expiry as a function again, undefined when none was fitted. */
export function expirySmile(expiry: ExpiryPicture): Smile | undefined {
  const { smile, years } = expiry;
  if (!smile) return undefined;
  if (smile.model === 'svi-raw') return sviRawSmile(smile.parameters, years);
  if (smile.model === 'spline') return splineSmile(smile.parameters, years);
  const variance = smile.parameters.volatility ** 2 * years;
  return { timeToExpiry: years, totalVariance: () => variance, slope: () => 0, curvature: () => 0 };
}

/** The smile that an expiry borrows, undefined when it borrows none. */
export function borrowedSmileOf({ borrowed }: ExpiryPicture): Smile | undefined {
  if (!borrowed) return undefined;
  const [a, b, rho, m, sigma] = borrowed.base.parameters;
  return borrowed.steps.reduce<Smile>(
    (smile, { years, ...step }) => borrowedSmile(smile, years, step),
    sviRawSmile({ a, b, rho, m, sigma }, borrowed.base.years),
  );
}

/** Fitted volatility at a strike, null without a smile. */
export function fittedVolatility(expiry: ExpiryPicture, strike: number): number | null {
  const smile = expirySmile(expiry);
  if (!smile) return null;
  const volatility = smileVolatility(smile, Math.log(strike / expiry.forward));
  return volatility > 0 ? volatility : null;
}
