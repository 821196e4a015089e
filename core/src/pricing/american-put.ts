import { tableErfcx, tableExp } from '../math/index.ts';
import type { AmericanScheme, PutBoundary } from './american-scheme.ts';

/*
 * Early-exercise premium of the put with strike 1, given its boundary B, after Kim, I. J. (1990). The analytic valuation
 * of American options. Review of Financial Studies 3(4), 547-572:
 *   premium = sum over u of [ r e^(-r t) N(-d-(t, S / B(u))) - q S e^(-q t) N(-d+(t, S / B(u))) ] du,  t = T - u
 * and its first two derivatives in S, in which r e^(-r t) n(d-) = r (S / B(u)) e^(-q t) n(d+).
 */

const INVERSE_SQRT_TWO_PI = 0.3989422804014327;
export const LARGEST_SCORE = 37;

/** Premium and its derivatives by spot, written by {@link putPremiumInto}. */
export interface PutPremium {
  value: number;
  delta: number;
  gamma: number;
}

/**
 * Premium of a put with strike 1 at a spot above the boundary. Unchecked; without allocation.
 * @param withSlopes false leaves delta and gamma as they are, and saves their time
 */
export function putPremiumInto(
  out: PutPremium,
  boundary: PutBoundary,
  scheme: AmericanScheme,
  logSpot: number,
  rate: number,
  dividendYield: number,
  volatility: number,
  timeToExpiry: number,
  withSlopes: boolean,
): void {
  const { boundaryNodes: n, priceQuadrature: p, priceSine, priceWeight, priceInterpolation } = scheme;
  const { transform } = boundary;
  const r = rate;
  const q = dividendYield;
  const T = timeToExpiry;
  const deviation = volatility * Math.sqrt(T);
  const spot = tableExp(logSpot);
  let value = 0;
  let delta = 0;
  let gamma = 0;
  for (let k = 0; k < p; k++) {
    const row = k * (n + 1);
    let h = 0;
    for (let j = 0; j <= n; j++) h += priceInterpolation[row + j] * transform[j];
    const logBu = h > 0 ? -Math.sqrt(h) : 0;
    const sine = priceSine[k];
    const s = deviation * sine;
    const t = T * sine * sine;
    const x = logSpot - logBu;
    const dPlus = (x + (r - q) * t) / s + 0.5 * s;
    const dMinus = dPlus - s;
    if (dMinus >= LARGEST_SCORE) continue;
    const w = priceWeight[k];
    const paid = tableExp(-r * t);
    const yielded = tableExp(-q * t) * spot;
    if (dPlus <= -LARGEST_SCORE || dMinus <= -LARGEST_SCORE || dPlus >= LARGEST_SCORE) {
      if (dMinus < 0) value += w * (r * paid - q * yielded);
      if (dMinus < 0) delta -= w * q * yielded;
      continue;
    }
    const g = yielded * tableExp(-0.5 * dPlus * dPlus);
    const perBoundary = tableExp(-logBu);
    // e^(-q t) S N(-d+) and e^(-r t) N(-d-), which share the Gaussian factor.
    const tail1 = 0.5 * g * tableErfcx(Math.abs(dPlus) * Math.SQRT1_2);
    const tail2 = 0.5 * g * perBoundary * tableErfcx(Math.abs(dMinus) * Math.SQRT1_2);
    const lost = dPlus > 0 ? tail1 : yielded - tail1;
    const earned = dMinus > 0 ? tail2 : paid - tail2;
    value += w * (r * earned - q * lost);
    if (withSlopes) {
      const density = (INVERSE_SQRT_TWO_PI * g) / s;
      const excess = r * perBoundary - q;
      delta -= w * (q * lost + density * excess);
      gamma += w * density * (q + (dPlus / s) * excess);
    }
  }
  out.value = T * value;
  if (withSlopes) {
    out.delta = (T * delta) / spot;
    out.gamma = (T * gamma) / (spot * spot);
  }
}
