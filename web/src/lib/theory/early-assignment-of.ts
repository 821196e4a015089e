import { earlyAssignment } from '@umwelt/core/structure';
import { isoInZone } from '@umwelt/market/zone';
import type { ExpiryPicture, Picture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import { listedContract } from './listed-contract.ts';
import type { ListedValue } from './listed-values.ts';

/** When a call that is owed may be assigned early, and what that costs. */
export interface LegAssignment {
  /** Civil date before which it is exercised */
  exDate: string;
  dividend: number;
  /** Of one, per unit of underlying, over what it is owed at otherwise */
  cost: number;
}

/** Of a call that is owed: the first ex-date before which its holder gains by exercise at this price; undefined of any other leg. */
export function legAssignment(
  picture: Picture,
  expiry: ExpiryPicture,
  { side, strike, quantity }: { side: Side; strike: number; quantity: number },
  { volatility }: Pick<ListedValue, 'volatility'>,
): LegAssignment | undefined {
  if (quantity >= 0 || side !== 'call') return undefined;
  const found = earlyAssignment(listedContract(expiry, { side, strike }, volatility));
  if (!found) return undefined;
  const at = Date.parse(picture.asOf) + found.time * MS_PER_YEAR;
  return {
    exDate: isoInZone(at, picture.underlying.zone).slice(0, 10),
    dividend: found.amount,
    cost: found.gain,
  };
}

const MS_PER_YEAR = 365 * 86_400_000;
