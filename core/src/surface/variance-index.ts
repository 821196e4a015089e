import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

export interface ExpiryVariance {
  /** Annual variance of the replicating strip */
  variance: number;
  forward: number;
  /** First listed strike at or below the forward */
  k0: number;
  strikesUsed: number[];
}

/** Quotes of one side of a strip by ascending strike; NaN for a mid that may not be used. */
export interface StripSide {
  bid: Float64Array;
  mid: Float64Array;
}

/** The quotes of an expiry that its model-free variance is taken of. */
export interface VarianceStrip {
  /** Years, > 0 */
  timeToExpiry: number;
  strikes: Float64Array;
  call: StripSide;
  put: StripSide;
}

/**
 * The strip of an expiry's quotes; without verdicts every quote with a bid counts.
 * @param slice European quotes
 */
export function varianceStrip(slice: Slice, verdicts?: Verdicts): VarianceStrip {
  const { timeToExpiry, strikes } = slice;
  return {
    timeToExpiry,
    strikes,
    call: { bid: slice.callBid, mid: midsOf(slice.callBid, slice.callAsk, verdicts?.call) },
    put: { bid: slice.putBid, mid: midsOf(slice.putBid, slice.putAsk, verdicts?.put) },
  };
}

/** {@link stripVariance} of an expiry's quotes that were not judged out. @param rate per year, continuously compounded, to this expiry */
export function expiryVariance(slice: Slice, rate: number, verdicts?: Verdicts): ExpiryVariance | undefined {
  return stripVariance(varianceStrip(slice, verdicts), rate);
}

/**
 * Model-free variance of one expiry from its out-of-the-money quotes.
 * Forward from the strike with the smallest call-put difference; outwards from K0 quotes with zero bid are left out,
 * and everything beyond two zero bids in a row. A quote that was judged out, or has no offer, is left out alone; a missing side
 * at K0 comes from the other by parity.
 * @param rate per year, continuously compounded, to this expiry
 * @returns undefined when no strike has both sides quoted or fewer than two strikes are used
 * @see Demeterfi, K., Derman, E., Kamal, M. & Zou, J. (1999). More than you ever wanted to know about volatility swaps.
 *   Goldman Sachs Quantitative Strategies; the strike rules are the publicly documented index methodology (2009 rules).
 */
export function stripVariance(
  { strikes, timeToExpiry, call, put }: VarianceStrip,
  rate: number,
): ExpiryVariance | undefined {
  const growth = Math.exp(rate * timeToExpiry);
  let closest = -1;
  for (let i = 0; i < strikes.length; i++) {
    const gap = Math.abs(call.mid[i] - put.mid[i]);
    if (!Number.isNaN(gap) && (closest < 0 || gap < Math.abs(call.mid[closest] - put.mid[closest]))) closest = i;
  }
  if (closest < 0) return undefined;
  const forward = strikes[closest] + growth * (call.mid[closest] - put.mid[closest]);
  let centre = -1;
  while (centre + 1 < strikes.length && strikes[centre + 1] <= forward) centre++;
  // Where neither side of a strike is any good, the next one below stands in.
  while (centre >= 0 && Number.isNaN(call.mid[centre]) && Number.isNaN(put.mid[centre])) centre--;
  if (centre < 0) return undefined;
  // Parity: call - put = (F - K) / growth.
  const distance = (forward - strikes[centre]) / growth;
  const [callAt, putAt] = [call.mid[centre], put.mid[centre]];
  const price =
    0.5 * ((Number.isNaN(callAt) ? putAt + distance : callAt) + (Number.isNaN(putAt) ? callAt - distance : putAt));
  const used: { strike: number; price: number }[] = [{ strike: strikes[centre], price }];
  const walk = (step: 1 | -1, { bid, mid }: StripSide) => {
    let zeros = 0;
    for (let i = centre + step; i >= 0 && i < strikes.length && zeros < 2; i += step) {
      if (!(bid[i] > 0)) zeros++;
      else {
        zeros = 0;
        if (!Number.isNaN(mid[i])) used.push({ strike: strikes[i], price: mid[i] });
      }
    }
  };
  walk(-1, put);
  walk(1, call);
  used.sort((a, b) => a.strike - b.strike);
  const last = used.length - 1;
  if (last < 1) return undefined;
  let sum = 0;
  used.forEach(({ strike, price: quoted }, i) => {
    const low = used[Math.max(0, i - 1)].strike;
    const high = used[Math.min(last, i + 1)].strike;
    const width = (high - low) / (i === 0 || i === last ? 1 : 2);
    sum += (width / (strike * strike)) * growth * quoted;
  });
  const k0 = strikes[centre];
  const variance = (2 * sum - (forward / k0 - 1) ** 2) / timeToExpiry;
  return { variance, forward, k0, strikesUsed: used.map((u) => u.strike) };
}

/** Mids of quotes that may be used; NaN for those judged out, but for a bid of 0, which the walk counts. */
function midsOf(bid: Float64Array, ask: Float64Array, verdicts: Verdicts['call'] | undefined): Float64Array {
  return Float64Array.from(bid, (b, i) => {
    const verdict = verdicts?.[i];
    return verdict === undefined || verdict === 'no-bid' ? 0.5 * (b + ask[i]) : NaN;
  });
}

/**
 * Model-free volatility index for a horizon, as a decimal: total variances of the expiries around it, interpolated
 * linearly in time.
 * @param horizon years, e.g. 30 / 365
 * @returns null unless an expiry lies on each side of the horizon (or on it) and both can be replicated
 */
export function varianceIndex(
  expiries: { slice: Slice; rate: number; verdicts?: Verdicts }[],
  horizon: number,
): number | null {
  const around = bracket(expiries, horizon, (e) => e.slice.timeToExpiry);
  if (!around) return null;
  const [a, b] = around;
  const near = expiryVariance(a.slice, a.rate, a.verdicts);
  const next = expiryVariance(b.slice, b.rate, b.verdicts);
  if (!near || !next) return null;
  return volatilityBetween(
    { timeToExpiry: a.slice.timeToExpiry, variance: near.variance },
    { timeToExpiry: b.slice.timeToExpiry, variance: next.variance },
    horizon,
  );
}

/** The expiries around a horizon, twice the same one on it; undefined unless one lies on each side. */
export function bracket<T>(expiries: readonly T[], horizon: number, timeOf: (expiry: T) => number): [T, T] | undefined {
  const sorted = [...expiries].sort((a, b) => timeOf(a) - timeOf(b));
  const far = sorted.findIndex((e) => timeOf(e) >= horizon);
  if (far < 0) return undefined;
  if (timeOf(sorted[far]) === horizon) return [sorted[far], sorted[far]];
  return far === 0 ? undefined : [sorted[far - 1], sorted[far]];
}

/** Volatility to a horizon between two expiries, total variance linear in time; null where it is not positive. */
export function volatilityBetween(
  near: { timeToExpiry: number; variance: number },
  next: { timeToExpiry: number; variance: number },
  horizon: number,
): number | null {
  const [ta, tb] = [near.timeToExpiry, next.timeToExpiry];
  const share = ta === tb ? 1 : (horizon - ta) / (tb - ta);
  const total = (1 - share) * near.variance * ta + share * next.variance * tb;
  return total > 0 ? Math.sqrt(total / horizon) : null;
}
