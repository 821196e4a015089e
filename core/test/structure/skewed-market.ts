import { black76Price, type LadderTerms } from '../../src/pricing/index.ts';
import { priceLaw } from '../../src/probability/index.ts';
import type { ConstantLeg, MarketExpiry, ValuedOptionLeg } from '../../src/structure/index.ts';
import { describedSmile, type Smile, smileVolatility } from '../../src/surface/index.ts';

/* A market of smiles over one spot, one rate and one yield, as structures are tried on. */

export const SPOT = 100;
export const RATE = 0.03;
export const YIELD = 0.01;
export const flat = (volatility: number, years: number): Smile =>
  describedSmile({ model: 'flat', parameters: { volatility } }, years);
const FLAT: readonly [number, number] = [-20, 20];

/** What the market says of an expiry under a smile. */
export function expiryOf(smile: Smile, range = FLAT, american?: LadderTerms): MarketExpiry {
  const years = smile.timeToExpiry;
  const forward = SPOT * Math.exp((RATE - YIELD) * years);
  return {
    ...{ years, forward, american },
    discountFactor: Math.exp(-RATE * years),
    law: priceLaw({ smile, forward, range }),
  };
}
/** A leg worth what its smile says, at that price or another. */
export function leg(
  smile: Smile,
  o: { side: 'call' | 'put'; strike: number; quantity: number; price?: number },
): ValuedOptionLeg & ConstantLeg {
  const { years, forward, discountFactor } = expiryOf(smile);
  const volatility = smileVolatility(smile, Math.log(o.strike / forward));
  const value = black76Price({ ...o, forward, timeToExpiry: years, volatility, discountFactor });
  return { kind: 'option', years, price: value, ...o, value, volatility };
}
