import type { Smile } from './smile.ts';
import { describedSmile } from './smile-description.ts';
import { flatLevel, robustSmile, type SmilePoint } from './smile-points.ts';
import type { SviRawParameters } from './svi-raw.ts';

/** A smile to compute early exercise with, and its parameters where it is more than a level. */
export interface WorkingSmile {
  smile: Smile;
  parameters?: SviRawParameters;
}

/**
 * A robust smile through the points, or their level, held between the lowest and the highest of them: few of them may leave a
 * fit to run away between.
 * @param points at least one
 * @param start parameters of a smile of nearly the same points
 */
export function workingSmile(points: SmilePoint[], timeToExpiry: number, start?: SviRawParameters): WorkingSmile {
  const robust = robustSmile(points, timeToExpiry, start);
  const smile = robust?.smile ?? describedSmile(flatLevel(points), timeToExpiry);
  let low = Infinity;
  let high = 0;
  for (const { volatility } of points) {
    low = Math.min(low, volatility * volatility * timeToExpiry);
    high = Math.max(high, volatility * volatility * timeToExpiry);
  }
  return {
    smile: { ...smile, totalVariance: (k) => Math.min(Math.max(smile.totalVariance(k), low), high) },
    ...(robust ? { parameters: robust.parameters } : {}),
  };
}
