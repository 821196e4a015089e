import { normalDensity } from '../math/index.ts';
import { impliedVolatilityInto } from '../pricing/index.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';
import type { SliceForward } from './slice-forward.ts';
import { LEAST_HALF_WIDTH, type SmilePoint } from './smile-points.ts';

/**
 * Points of a fit from the out-of-the-money mids alone; bid and ask in volatility by the mid's vega instead of an
 * inversion each, which a smile to work with can bear.
 */
export function outOfTheMoneyPoints(slice: Slice, verdicts: Verdicts, f: SliceForward): SmilePoint[] {
  const { strikes, timeToExpiry } = slice;
  const count = strikes.length;
  const constant = (value: number) => new Float64Array(count).fill(value);
  const isCall = new Uint8Array(count);
  const price = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const side = strikes[i] >= f.forward ? 'call' : 'put';
    const { bid, ask } = sideQuotes(slice, side);
    isCall[i] = side === 'call' ? 1 : 0;
    price[i] = verdicts[side][i] === undefined ? 0.5 * (bid[i] + ask[i]) : NaN;
  }
  const volatilities = new Float64Array(count);
  impliedVolatilityInto(volatilities, new Uint8Array(count), {
    isCall,
    forward: constant(f.forward),
    strike: strikes,
    timeToExpiry: constant(timeToExpiry),
    discountFactor: constant(f.discountFactor),
    price,
  });
  const points: SmilePoint[] = [];
  const root = Math.sqrt(timeToExpiry);
  for (let i = 0; i < count; i++) {
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
