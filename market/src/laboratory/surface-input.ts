import type { CarryInput, Slice, SurfaceInput } from '@umwelt/core/surface';
import type { LaboratoryMarket } from './laboratory-market.ts';

/** What an analyst who is told so much hands to the derivation. */
export function surfaceInput(market: LaboratoryMarket, slices: Slice[]): SurfaceInput {
  const { spot, curve, exercise } = market;
  return {
    slices,
    spot,
    carries: slices.map(({ timeToExpiry }): Partial<CarryInput> => ({
      ...(curve === null ? {} : { rate: curve }),
      dividendYield: market.isYieldKnown ? market.dividendYield : 0,
      dividends: market.dividends
        .filter((d) => d.isKnown && d.time < timeToExpiry)
        .map(({ time, amount }) => ({ time, amount })),
      exercise,
      isFuture: market.model === 'futures',
    })),
  };
}
