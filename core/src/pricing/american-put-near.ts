import { chebyshevInterpolationWeights, gaussLegendre, normalCdf } from '../math/index.ts';
import type { PutBoundary } from './american-scheme.ts';
import { LARGEST_SCORE, type PutPremium } from './american-put.ts';

const INVERSE_SQRT_TWO_PI = 0.3989422804014327;

/**
 * Deviations above the boundary within which the premium is taken here. Its kernel is as narrow there as the spot is near, and a
 * rule that does not know where it stands leaves gamma wrong by a third and theta of the wrong sign.
 */
export const NEAR_BOUNDARY = 0.3;
/** Points in y with theta = epsilon sinh y: as many to a power of ten of theta as the kernel's rise and fall want. */
const RULE = gaussLegendre(64);
const LEAST_EPSILON = 1e-7;

/**
 * The integrals of {@link putPremiumInto} for a spot close above the boundary, over an angle that is stretched to where the kernel
 * rises: t = T sin^2 theta, theta = epsilon sinh y, epsilon the distance to the boundary in deviations.
 * @param logSpot above the boundary with all time left
 */
export function putPremiumNearBoundary(
  boundary: PutBoundary,
  logSpot: number,
  rate: number,
  dividendYield: number,
  volatility: number,
  timeToExpiry: number,
): PutPremium {
  const { transform } = boundary;
  const [r, q, T] = [rate, dividendYield, timeToExpiry];
  const deviation = volatility * Math.sqrt(T);
  const epsilon = Math.max((logSpot + Math.sqrt(transform[0])) / deviation, LEAST_EPSILON);
  const half = 0.5 * Math.asinh(Math.PI / 2 / epsilon);
  const spot = Math.exp(logSpot);
  let value = 0;
  let delta = 0;
  let gamma = 0;
  for (let k = 0; k < RULE.nodes.length; k++) {
    const y = half * (1 + RULE.nodes[k]);
    const angle = epsilon * Math.sinh(y);
    const sine = Math.sin(angle);
    const cosine = Math.cos(angle);
    const w = half * RULE.weights[k] * epsilon * Math.cosh(y) * 2 * sine * cosine;
    const weights = chebyshevInterpolationWeights(transform.length - 1, 2 * cosine - 1);
    let h = 0;
    for (let j = 0; j < transform.length; j++) h += weights[j] * transform[j];
    const logBu = h > 0 ? -Math.sqrt(h) : 0;
    const s = deviation * sine;
    const t = T * sine * sine;
    const dPlus = (logSpot - logBu + (r - q) * t) / s + 0.5 * s;
    const dMinus = dPlus - s;
    if (dMinus >= LARGEST_SCORE) continue;
    const paid = Math.exp(-r * t);
    const yielded = Math.exp(-q * t) * spot;
    const lost = yielded * normalCdf(-dPlus);
    value += w * (r * paid * normalCdf(-dMinus) - q * lost);
    const density = (INVERSE_SQRT_TWO_PI * yielded * Math.exp(-0.5 * dPlus * dPlus)) / s;
    const excess = r * Math.exp(-logBu) - q;
    delta -= w * (q * lost + density * excess);
    gamma += w * density * (q + (dPlus / s) * excess);
  }
  return { value: T * value, delta: (T * delta) / spot, gamma: (T * gamma) / (spot * spot) };
}
