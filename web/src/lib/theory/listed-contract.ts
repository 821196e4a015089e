import type { LadderTerms, Option } from '@umwelt/core/pricing';
import { forwardPerSpotVolatility } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';

/** A listed option by what tells it from the others of its expiry. */
export interface ListedOption {
  side: Side;
  strike: number;
}

/** What the options of an expiry share: exercise, underlying, rate, carry and cash dividends, as the picture has them. */
export function listedTerms(expiry: ExpiryPicture): LadderTerms {
  const { years, impliedRate, impliedYield, forward, exercisedInto, model } = expiry;
  const common = { timeToExpiry: years, rate: impliedRate } as const;
  const exercise = exercisedInto ? 'american' : 'european';
  if (model === 'futures') return { ...common, exercise, model, underlying: forward };
  if (exercisedInto?.kind === 'spot') {
    const { spot, dividendYield, dividends } = exercisedInto;
    return { ...common, exercise, model, underlying: spot, dividendYield, dividends };
  }
  // European: all that the underlying pays lies in the forward, as a yield of the spot.
  const underlying = forward * Math.exp((impliedYield - impliedRate) * years);
  return { ...common, exercise, model, underlying, dividendYield: impliedYield };
}

/**
 * Volatility that an option is priced with, where its smile says another for the forward: between cash dividends the spot
 * moves less than the forward, which no longer holds them.
 */
export function contractVolatility(expiry: ExpiryPicture, strike: number, volatility: number): number {
  const { exercisedInto, forward, years, impliedRate } = expiry;
  if (exercisedInto?.kind !== 'spot') return volatility;
  const ratio = forwardPerSpotVolatility(
    { forward, timeToExpiry: years, rate: impliedRate, ...exercisedInto },
    Math.log(strike / forward),
  );
  return volatility / ratio;
}

/** The whole contract in core's terms. @param volatility of the forward, as smiles tell it */
export function listedContract(expiry: ExpiryPicture, { side, strike }: ListedOption, volatility: number): Option {
  return { ...listedTerms(expiry), side, strike, volatility: contractVolatility(expiry, strike, volatility) };
}
