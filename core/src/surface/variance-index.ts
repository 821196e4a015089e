import type { Slice } from './slice.ts';

export interface ExpiryVariance {
  /** Annual variance of the replicating strip */
  variance: number;
  forward: number;
  /** First listed strike at or below the forward */
  k0: number;
  strikesUsed: number[];
}

/**
 * Model-free variance of one expiry from its out-of-the-money quotes.
 * Forward from the strike with the smallest call-put difference; outwards from K0 quotes with zero bid are left out,
 * and everything beyond two zero bids in a row.
 * @param rate per year, continuously compounded, to this expiry
 * @returns undefined when no strike has both sides quoted or fewer than two strikes are used
 * @see Demeterfi, K., Derman, E., Kamal, M. & Zou, J. (1999). More than you ever wanted to know about volatility swaps.
 *   Goldman Sachs Quantitative Strategies; the strike rules are the publicly documented index methodology (2009 rules).
 */
export function expiryVariance(slice: Slice, rate: number): ExpiryVariance | undefined {
  const { strikes, callBid, callAsk, putBid, putAsk, timeToExpiry } = slice;
  const growth = Math.exp(rate * timeToExpiry);
  const callMid = (i: number) => 0.5 * (callBid[i] + callAsk[i]);
  const putMid = (i: number) => 0.5 * (putBid[i] + putAsk[i]);
  let closest = -1;
  for (let i = 0; i < strikes.length; i++) {
    const gap = Math.abs(callMid(i) - putMid(i));
    if (!Number.isNaN(gap) && (closest < 0 || gap < Math.abs(callMid(closest) - putMid(closest)))) closest = i;
  }
  if (closest < 0) return undefined;
  const forward = strikes[closest] + growth * (callMid(closest) - putMid(closest));
  let centre = -1;
  while (centre + 1 < strikes.length && strikes[centre + 1] <= forward) centre++;
  if (centre < 0 || Number.isNaN(callMid(centre) + putMid(centre))) return undefined;
  const used: { strike: number; price: number }[] = [
    { strike: strikes[centre], price: 0.5 * (callMid(centre) + putMid(centre)) },
  ];
  const walk = (step: 1 | -1, bid: Float64Array, mid: (i: number) => number) => {
    let zeros = 0;
    for (let i = centre + step; i >= 0 && i < strikes.length && zeros < 2; i += step) {
      if (bid[i] > 0) {
        zeros = 0;
        used.push({ strike: strikes[i], price: mid(i) });
      } else zeros++;
    }
  };
  walk(-1, putBid, putMid);
  walk(1, callBid, callMid);
  used.sort((a, b) => a.strike - b.strike);
  const last = used.length - 1;
  if (last < 1) return undefined;
  let sum = 0;
  used.forEach(({ strike, price }, i) => {
    const low = used[Math.max(0, i - 1)].strike;
    const high = used[Math.min(last, i + 1)].strike;
    const width = (high - low) / (i === 0 || i === last ? 1 : 2);
    sum += (width / (strike * strike)) * growth * price;
  });
  const k0 = strikes[centre];
  const variance = (2 * sum - (forward / k0 - 1) ** 2) / timeToExpiry;
  return { variance, forward, k0, strikesUsed: used.map((u) => u.strike) };
}

/**
 * Model-free volatility index for a horizon, as a decimal: total variances of the expiries around it, interpolated
 * linearly in time.
 * @param horizon years, e.g. 30 / 365
 * @returns null unless an expiry lies on each side of the horizon (or on it) and both can be replicated
 */
export function varianceIndex(expiries: { slice: Slice; rate: number }[], horizon: number): number | null {
  const sorted = [...expiries].sort((a, b) => a.slice.timeToExpiry - b.slice.timeToExpiry);
  const far = sorted.findIndex((e) => e.slice.timeToExpiry >= horizon);
  if (far < 0) return null;
  const isExact = sorted[far].slice.timeToExpiry === horizon;
  if (far === 0 && !isExact) return null;
  const [a, b] = isExact ? [sorted[far], sorted[far]] : [sorted[far - 1], sorted[far]];
  const near = expiryVariance(a.slice, a.rate);
  const next = expiryVariance(b.slice, b.rate);
  if (!near || !next) return null;
  const [ta, tb] = [a.slice.timeToExpiry, b.slice.timeToExpiry];
  const share = isExact ? 1 : (horizon - ta) / (tb - ta);
  const total = (1 - share) * near.variance * ta + share * next.variance * tb;
  return total > 0 ? Math.sqrt(total / horizon) : null;
}
