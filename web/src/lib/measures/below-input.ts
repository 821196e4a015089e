import type { Standing } from '../api/past-resource.ts';
import type { WorkingsInput } from './measure.ts';

/** How many of the past were lower than now, of which a percentile is the share. */
export function belowInput(standing: Standing | null): WorkingsInput {
  return {
    symbol: 'c',
    label: 'of them lower',
    value: standing && standing.below,
    unit: 'count',
    source: 'stored measures',
  };
}
