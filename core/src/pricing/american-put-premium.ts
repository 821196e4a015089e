import { tableErfcx, tableExp } from '../math/index.ts';
import { LARGEST_SCORE } from './american-put.ts';
import type { AmericanScheme, PutBoundary } from './american-scheme.ts';

/** Numbers kept per point of the quadrature. */
const STRIDE = 7;

/**
 * Early-exercise premium of a put with strike 1 as a function of the logarithm of the spot, above the boundary: the sum of
 * `putPremiumInto` with all that does not depend on the spot taken out of it.
 */
export function putPremiumBySpot(
  { transform }: PutBoundary,
  { boundaryNodes: n, priceQuadrature: p, priceSine, priceWeight, priceInterpolation }: AmericanScheme,
  r: number,
  q: number,
  volatility: number,
  T: number,
): (logSpot: number) => number {
  const deviation = volatility * Math.sqrt(T);
  const table = new Float64Array(STRIDE * p);
  for (let k = 0; k < p; k++) {
    let h = 0;
    for (let j = 0; j <= n; j++) h += priceInterpolation[k * (n + 1) + j] * transform[j];
    const logBu = h > 0 ? -Math.sqrt(h) : 0;
    const sine = priceSine[k];
    const s = deviation * sine;
    const t = T * sine * sine;
    const at = STRIDE * k;
    table[at] = s;
    // d+ = ln(spot) / s + this
    table[at + 1] = ((r - q) * t - logBu) / s + 0.5 * s;
    table[at + 2] = r * tableExp(-r * t);
    table[at + 3] = q * tableExp(-q * t);
    table[at + 4] = tableExp(-logBu) * r * tableExp(-q * t);
    table[at + 5] = T * priceWeight[k];
    table[at + 6] = 1 / s;
  }
  return (logSpot) => {
    const spot = tableExp(logSpot);
    let value = 0;
    for (let at = 0; at < table.length; at += STRIDE) {
      const dPlus = logSpot * table[at + 6] + table[at + 1];
      const dMinus = dPlus - table[at];
      if (dMinus >= LARGEST_SCORE) continue;
      const earnedAtOnce = table[at + 2];
      const lostAtOnce = table[at + 3] * spot;
      if (dMinus <= -LARGEST_SCORE || dPlus >= LARGEST_SCORE) {
        if (dMinus < 0) value += table[at + 5] * (earnedAtOnce - lostAtOnce);
        continue;
      }
      // Both tails share the Gaussian factor.
      const gauss = 0.5 * spot * tableExp(-0.5 * dPlus * dPlus);
      const tail1 = table[at + 3] * gauss * tableErfcx(Math.abs(dPlus) * Math.SQRT1_2);
      const tail2 = table[at + 4] * gauss * tableErfcx(Math.abs(dMinus) * Math.SQRT1_2);
      const lost = dPlus > 0 ? tail1 : lostAtOnce - tail1;
      const earned = dMinus > 0 ? tail2 : earnedAtOnce - tail2;
      value += table[at + 5] * (earned - lost);
    }
    return value;
  };
}
