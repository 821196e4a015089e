import { type HeldIncome } from '@umwelt/core/structure';
import type { Picture } from '../api/picture.ts';

/** Kinds of underlyings that are held themselves and pay what goes ex. */
const PAYING: ReadonlySet<Picture['underlying']['kind']> = new Set(['share', 'fund']);

/**
 * What one unit of the underlying brings while it is held, by the dividends and the cost to borrow that theory rests on.
 * @returns undefined where nothing does: of an index, a future, a currency
 */
export function heldIncome({ underlying, dividends, price, expiries }: Picture): HeldIncome | undefined {
  if (!PAYING.has(underlying.kind)) return undefined;
  const borrow = expiries.find((e) => e.exercisedInto?.kind === 'spot')?.exercisedInto;
  return { dividends, borrow: borrow?.kind === 'spot' ? Math.max(0, borrow.dividendYield) * price : 0 };
}
