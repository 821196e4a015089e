import { type CarryExpiry, type PointedSmile, premiumUnder, smileOf } from './carry-expiry.ts';
import { robustMean } from './robust-mean.ts';
import type { PremiumColumns } from './telling-side.ts';

/** Forward of one expiry by its own pairs near the money, with its deviation. */
export interface StartingForward {
  forward: number;
  error: number;
  /** Rough, under a yield */
  premium?: PremiumColumns;
  smile?: PointedSmile;
}

/** Pairs count by their distance from the money, in deviations of a rough volatility. */
const ROUGH_VOLATILITY = 0.25;
const REACH = 0.6;
const ROUNDS = 3;
/** Premiums under a yield are rough: the forward errs by so much of the spot, and by so much of what they differ by at the money. */
const ERROR = { least: 1e-4, ofSpot: 0.0005, ofPremium: 0.25 };

/**
 * The forward by parity near the money, on a known discount factor, with premiums under the yield that the forward itself has;
 * undefined without a pair.
 * @param rate per year
 */
export function startingForward(e: CarryExpiry, rate: number): StartingForward | undefined {
  const { slice, pairs, spot } = e;
  const { strikes, timeToExpiry } = slice;
  if (pairs.index.length === 0) return undefined;
  const discountFactor = Math.exp(-rate * timeToExpiry);
  let forward = spot * Math.exp(rate * timeToExpiry);
  let premium: PremiumColumns | undefined;
  let smile: PointedSmile | undefined;
  let error = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const around = forward;
    const values = Float64Array.from(pairs.index, (i, n) => {
      const early = premium ? premium.call[i] - premium.put[i] : 0;
      return (pairs.gap[n] - early) / discountFactor + strikes[i];
    });
    const errors = Float64Array.from(pairs.index, (_, n) => Math.max(pairs.width[n], ERROR.least * spot));
    const { mean, weights } = robustMean(values, errors, (n) => {
      const deviation = ROUGH_VOLATILITY * Math.sqrt(timeToExpiry);
      const x = Math.log(strikes[pairs.index[n]] / around) / deviation / REACH;
      return Math.exp(-0.5 * x * x);
    });
    if (!(mean > 0)) return undefined;
    forward = mean;
    error = 1 / Math.sqrt(weights);
    if (round === ROUNDS - 1) break;
    smile = smileOf(e, { forward, discountFactor }, premium);
    if (!smile) return undefined;
    const dividendYield = rate - Math.log(forward / spot) / timeToExpiry;
    premium = premiumUnder(e, { rate, dividendYield, dividends: [] }, smile, 'rough');
  }
  const middle = nearest(strikes, forward);
  const difference = premium ? premium.put[middle] - premium.call[middle] : 0;
  return {
    forward,
    error: Math.hypot(error, ERROR.ofSpot * spot, ERROR.ofPremium * difference),
    ...(premium && smile ? { premium, smile } : {}),
  };
}

function nearest(strikes: Float64Array, forward: number): number {
  let best = 0;
  for (let i = 1; i < strikes.length; i++) {
    if (Math.abs(strikes[i] - forward) < Math.abs(strikes[best] - forward)) best = i;
  }
  return best;
}
