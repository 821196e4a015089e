import { pairErrors } from './free-quotes.ts';
import type { Verdicts } from './judge-quotes.ts';
import { type ParityPairs, pairsOf, parityPairs } from './parity-pairs.ts';
import type { Slice } from './slice.ts';
import type { PremiumColumns } from './telling-side.ts';

/**
 * The pairs that an expiry's forward is implied by.
 * @param freed quotes without what they hold for early exercise
 * @param premium what was taken off them, which may be off itself; undefined of European options
 */
export function freedPairs(freed: Slice, verdicts: Verdicts, premium: PremiumColumns | undefined): ParityPairs {
  const { count, strike, gap, width } = parityPairs(freed, verdicts, premium && pairErrors(premium));
  return pairsOf({
    strike: strike.subarray(0, count),
    gap: gap.subarray(0, count),
    width: width.subarray(0, count),
  });
}
