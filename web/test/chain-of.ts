import { chainOptions, chainRows, listedValues, type VolatilityInForce } from '../src/lib/theory/index.ts';
import type { AsOfContext } from '../src/lib/api/as-of-context.ts';
import type { ExpiryPicture } from '../src/lib/api/picture.ts';

/** Chain of an expiry as the API answers it. */
export function chainOf(expiry: ExpiryPicture, o: { inForce: VolatilityInForce; sides: AsOfContext['sides'] }) {
  const options = chainOptions(expiry, o.sides);
  return chainRows(expiry, options, listedValues(expiry, options, o.inForce));
}
