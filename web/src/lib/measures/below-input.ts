import type { Standing } from '../api/past-resource.ts';
import type { WorkingsInput } from './measure.ts';

/** How many of the past were lower than now, of which a percentile is the share. */
export function belowInput(standing: Standing | null): WorkingsInput {
  return {
    symbol: 'count(σᵢ < σ)',
    label: 'of them lower',
    value: standing && Math.round(standing.percentile * standing.count),
    unit: 'count',
    source: 'stored measures',
  };
}
