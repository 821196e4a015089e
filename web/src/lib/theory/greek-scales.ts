import type { Model } from '@umwelt/core/pricing';

/* The one place where plain partial derivatives become the Greeks that screens, files and the API tell. */

const PER_DAY = 1 / 365;
const PER_POINT_OF_RATE = 0.01;

/** What one point of volatility is: 0.01, or in the normal model one price unit a root year. */
export function volatilityPoint(model: Model): number {
  return model === 'normal' ? 1 : 0.01;
}

/** By how much each plain derivative is multiplied; 1 where nothing is said. */
function greekScales(model: Model) {
  const point = volatilityPoint(model);
  return {
    vega: point,
    theta: PER_DAY,
    rho: PER_POINT_OF_RATE,
    dividendRho: PER_POINT_OF_RATE,
    vanna: point,
    volga: point * point,
    charm: PER_DAY,
    zomma: point,
    color: PER_DAY,
  };
}
type ScaledGreek = keyof ReturnType<typeof greekScales>;

/** Greeks per calendar day, per volatility point and per 0.01 of rate; what has no scale stays as it is. */
export function scaledGreeks<G extends Partial<Record<ScaledGreek, number>>>(greeks: G, model: Model): G {
  const scales = greekScales(model);
  const scaled = Object.fromEntries(
    Object.entries(greeks).map(([name, value]) => [
      name,
      name in scales ? (value as number) * scales[name as ScaledGreek] : value,
    ]),
  );
  return scaled as G;
}
