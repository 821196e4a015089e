import { normalDensity } from '../math/index.ts';
import type { ImpliedSlice } from './imply-slice.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import { priceVolatilities } from './quote-volatilities.ts';
import type { Slice } from './slice.ts';
import type { SliceForward } from './slice-forward.ts';
import { LEAST_HALF_WIDTH, type SmilePoint } from './smile-points.ts';
import { type PremiumColumns, tellingSide } from './telling-side.ts';

/**
 * Points of a fit from the mids of each strike's {@link tellingSide} alone; bid and ask in volatility by the mid's vega instead of
 * an inversion each, which a smile to work with can bear.
 * @param slice quotes freed of the premium
 */
export function tellingPoints(
  slice: Slice,
  verdicts: Verdicts,
  f: Pick<SliceForward, 'forward' | 'discountFactor'>,
  premium?: PremiumColumns,
): SmilePoint[] {
  const { strikes, timeToExpiry } = slice;
  const isCall = new Uint8Array(strikes.length);
  const price = new Float64Array(strikes.length);
  for (let i = 0; i < strikes.length; i++) {
    const side = tellingSide(slice, i, f.forward, premium);
    const { bid, ask } = sideQuotes(slice, side);
    isCall[i] = side === 'call' ? 1 : 0;
    price[i] = verdicts[side][i] === undefined ? 0.5 * (bid[i] + ask[i]) : NaN;
  }
  const volatilities = priceVolatilities(price, { isCall, strikes, timeToExpiry, ...f });
  const points: SmilePoint[] = [];
  const root = Math.sqrt(timeToExpiry);
  for (let i = 0; i < strikes.length; i++) {
    const volatility = volatilities[i];
    if (!(volatility > 0)) continue;
    const k = Math.log(strikes[i] / f.forward);
    const deviation = volatility * root;
    const vega = f.discountFactor * f.forward * normalDensity(-k / deviation + 0.5 * deviation) * root;
    const side = isCall[i] === 1 ? 'call' : 'put';
    const { bid, ask } = sideQuotes(slice, side);
    const half = Math.min((0.5 * (ask[i] - bid[i])) / vega, volatility);
    points.push({
      index: i,
      side,
      k,
      volatility,
      bid: volatility - half,
      ask: volatility + half,
      halfWidth: Math.max(LEAST_HALF_WIDTH, half),
    });
  }
  return points;
}

/**
 * Points of the fit that counts: the telling quote of each strike that has no verdict, bid and ask inverted.
 * @param known points from the mids on this very forward, when there are any
 */
export function smilePoints(
  {
    slice,
    forward: { forward, discountFactor },
    verdicts,
    premium,
  }: Pick<ImpliedSlice, 'slice' | 'verdicts' | 'premium'> & {
    forward: Pick<SliceForward, 'forward' | 'discountFactor'>;
  },
  known?: readonly SmilePoint[],
): SmilePoint[] {
  const points = (known ?? tellingPoints(slice, verdicts, { forward, discountFactor }, premium)).filter(
    (p) => verdicts[p.side][p.index] === undefined,
  );
  const count = points.length;
  const options = { isCall: new Uint8Array(count), strikes: new Float64Array(count), forward, discountFactor };
  const bid = new Float64Array(count);
  const ask = new Float64Array(count);
  points.forEach(({ side, index }, i) => {
    const quotes = sideQuotes(slice, side);
    options.isCall[i] = side === 'call' ? 1 : 0;
    options.strikes[i] = slice.strikes[index];
    bid[i] = quotes.bid[index];
    ask[i] = quotes.ask[index];
  });
  const { timeToExpiry } = slice;
  const bids = priceVolatilities(bid, { ...options, timeToExpiry });
  const asks = priceVolatilities(ask, { ...options, timeToExpiry });
  return points.map(({ index, side, k, volatility }, i) => {
    // A bid below what any volatility is worth, or none, bounds nothing.
    const low = bids[i] > 0 ? bids[i] : 0;
    const halfWidth = Math.max(LEAST_HALF_WIDTH, 0.5 * (asks[i] - low));
    return { index, side, k, volatility, bid: low, ask: asks[i], halfWidth };
  });
}
