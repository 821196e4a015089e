import { black76Price } from '@umwelt/core/pricing';
import { type OutEarned, outEarnsDecay } from '@umwelt/core/probability';
import { SESSIONS_PER_YEAR } from '@umwelt/core/volatility';
import type { ExpirySurface } from '../api/surface-resource.ts';
import { fittedVolatility } from './expiry-smile.ts';
import type { ListedOption } from './listed-contract.ts';

/**
 * Chance that the next session's move brings an option's value above today's, after what a session takes: volatility of its strike
 * kept, or changed. The session is a 252nd of a year and moves by the volatility at the money; early exercise is left out.
 * @param change of volatility by then, decimal
 * @returns undefined without a volatility, or where the option ends within the session
 */
export function sessionOutEarned(
  expiry: ExpirySurface,
  { side, strike }: ListedOption,
  change = 0,
): OutEarned | undefined {
  const { forward, underlyingPrice: spot, years, impliedRate, atm } = expiry;
  const volatility = fittedVolatility(expiry, strike);
  const session = 1 / SESSIONS_PER_YEAR;
  if (volatility === null || atm === null || years <= session || volatility + change <= 0) return undefined;
  const drift = Math.log(forward / spot) / years;
  const valueAt = (price: number, left: number, v: number) =>
    black76Price({
      ...{ side, strike, volatility: v, timeToExpiry: left },
      forward: price * Math.exp(drift * left),
      discountFactor: Math.exp(-impliedRate * left),
    });
  return outEarnsDecay({
    spot,
    forward: spot * Math.exp(drift * session),
    deviation: atm * Math.sqrt(session),
    value: valueAt(spot, years, volatility),
    valueThen: (price) => valueAt(price, years - session, volatility + change),
  });
}
