import type { Side } from '@umwelt/core/pricing';
import {
  logMoneynessAtDelta,
  probabilityAbove,
  type Smile,
  smileMeasures,
  varianceIndex,
  type Verdicts,
} from '@umwelt/core/surface';
import type { ExactExpiry } from './exact-chain.ts';

/** What an estimate from quotes is held against. */
export interface ExpiryTruth {
  days: number;
  forward: number;
  discountFactor: number;
  atm: number;
  /** NaN where the listed strikes do not reach the deltas */
  riskReversal25: number;
  butterfly25: number;
  /** Chance to finish within one deviation at the money of the forward */
  within: number;
}

/** The true figures of an expiry, those of the European equivalents on its forward. */
export function expiryTruth(e: ExactExpiry): ExpiryTruth {
  const smile = trueSmile(e);
  const { atm, ...measures } = smileMeasures(smile);
  const { days, forward, discountFactor, strikes } = e;
  const isListed = (side: Side) => {
    const strike = forward * Math.exp(logMoneynessAtDelta(smile, side, 0.25));
    return strike >= strikes[0] && strike <= strikes[strikes.length - 1];
  };
  const isKnown = isListed('call') && isListed('put');
  const [riskReversal25, butterfly25] = isKnown ? [measures.riskReversal25, measures.butterfly25] : [NaN, NaN];
  return { days, forward, discountFactor, atm, riskReversal25, butterfly25, within: probabilityWithin(smile, atm) };
}

/** Chance to finish within one deviation of a volatility around the forward. */
export function probabilityWithin(smile: Smile, volatility: number): number {
  const deviation = volatility * Math.sqrt(smile.timeToExpiry);
  return probabilityAbove(smile, -deviation) - probabilityAbove(smile, deviation);
}

/** The 30-day strip of the true European values at the listed strikes; null where expiries do not bracket 30 days. */
export function trueStrip(exact: readonly ExactExpiry[], rate: number): number | null {
  return varianceIndex(
    exact.map((e) => {
      const none: Verdicts = {
        call: Array.from(e.strikes, () => undefined),
        put: Array.from(e.strikes, () => undefined),
      };
      const { call, put } = e.european;
      const { timeToExpiry, strikes } = e;
      const slice = { timeToExpiry, strikes, callBid: call, callAsk: call, putBid: put, putAsk: put };
      return { slice, rate, verdicts: none };
    }),
    30 / 365,
  );
}

/** Step of the differences, in log-moneyness. */
const STEP = 1e-3;

/** The smile through the true volatilities: cubic through the four strikes around. */
function trueSmile({ strikes, volatility, forward, timeToExpiry }: ExactExpiry): Smile {
  const places = Array.from(strikes, (strike) => Math.log(strike / forward));
  const volatilityAt = (k: number) => {
    const next = places.findIndex((p) => p >= k);
    const first = Math.max(0, Math.min(places.length - 4, (next === -1 ? places.length : next) - 2));
    const last = Math.min(places.length, first + 4);
    let sum = 0;
    for (let i = first; i < last; i++) {
      let weight = 1;
      for (let j = first; j < last; j++) if (j !== i) weight *= (k - places[j]) / (places[i] - places[j]);
      sum += weight * volatility[i];
    }
    return sum;
  };
  const clamped = (k: number) => volatilityAt(Math.max(places[0], Math.min(places[places.length - 1], k)));
  const totalVariance = (k: number) => clamped(k) ** 2 * timeToExpiry;
  return {
    timeToExpiry,
    totalVariance,
    slope: (k) => (totalVariance(k + STEP) - totalVariance(k - STEP)) / (2 * STEP),
    curvature: (k) => (totalVariance(k + STEP) - 2 * totalVariance(k) + totalVariance(k - STEP)) / (STEP * STEP),
  };
}
