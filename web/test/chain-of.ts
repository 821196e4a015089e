import {
  chainOptions,
  chainRows,
  type ChainSides,
  listedValues,
  type VolatilityInForce,
} from '../src/lib/theory/index.ts';
import type { ExpiryPicture } from '../src/lib/api/picture.ts';

/** Chain of an expiry as the API answers it. */
export function chainOf(expiry: ExpiryPicture, o: { inForce: VolatilityInForce; sides: ChainSides }) {
  const options = chainOptions(expiry, o.sides);
  return chainRows(expiry, options, listedValues(expiry, options, o.inForce));
}
