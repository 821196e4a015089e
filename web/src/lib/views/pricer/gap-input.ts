import type { MarketGapInput } from '@umwelt/core/whatif';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { PricerInputs } from '../../api/pricer-inputs.ts';
import { optionOf } from '../../theory/index.ts';

/**
 * The listed option against its market; undefined when the strike is not listed, has no bid and offer, or the model
 * has no counterpart in the chain. What is naive is the curve's rate, and the volatility that the Pricer shows.
 */
export function gapInput(
  picture: Picture,
  expiry: ExpiryPicture,
  inputs: PricerInputs,
  knownYield: number,
): MarketGapInput | undefined {
  const index = expiry.strikes.indexOf(inputs.strike);
  if (index < 0 || inputs.model === 'normal') return undefined;
  const { bid, ask } = { bid: expiry[inputs.side].bid[index], ask: expiry[inputs.side].ask[index] };
  if (bid === null || ask === null) return undefined;
  return {
    side: inputs.side,
    exercise: picture.underlying.exercise,
    model: picture.underlying.model,
    underlying: picture.price,
    strike: inputs.strike,
    timeToExpiry: expiry.years,
    naive: { rate: expiry.curveRate ?? 0, volatility: inputs.volatility },
    known: { dividendYield: knownYield, dividends: optionOf(inputs).dividends },
    implied: { rate: expiry.impliedRate, forward: expiry.forward },
    marketPrice: 0.5 * (bid + ask),
  };
}
