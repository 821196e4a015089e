import type { Smile } from './smile.ts';
import { type SplineParameters, splineSmile } from './spline-smile.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

/** A smile as it is stored and sent: the name of its formula, and the formula's parameters. */
export type SmileDescription =
  | { model: 'svi-raw'; parameters: SviRawParameters }
  | { model: 'spline'; parameters: SplineParameters }
  /** A level without shape, annual decimal */
  | { model: 'flat'; parameters: { volatility: number } };

/** The smile that a description stands for. @param timeToExpiry years, > 0 */
export function describedSmile(description: SmileDescription, timeToExpiry: number): Smile {
  switch (description.model) {
    case 'svi-raw':
      return sviRawSmile(description.parameters, timeToExpiry);
    case 'spline':
      return splineSmile(description.parameters, timeToExpiry);
    case 'flat': {
      const variance = description.parameters.volatility ** 2 * timeToExpiry;
      return { timeToExpiry, totalVariance: () => variance, slope: () => 0, curvature: () => 0 };
    }
  }
}
