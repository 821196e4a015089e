import { chainOptions, chainRows } from '../src/lib/figures/chain-rows.ts';
import type { AsOfContext } from '../src/lib/schema/as-of-context.ts';
import type { ExpiryPicture } from '../src/lib/schema/picture.ts';
import { listedValues, type VolatilityInForce } from '../src/lib/theory/index.ts';

/** Chain of an expiry as the API answers it. */
export function chainOf(expiry: ExpiryPicture, o: { inForce: VolatilityInForce; sides: AsOfContext['sides'] }) {
  const options = chainOptions(expiry, o.sides);
  return chainRows(expiry, options, listedValues(expiry, options, o.inForce));
}
