import type { TradedLegText } from '../api/traded.ts';
import type { ListedValue } from '../theory/index.ts';

/** What legs are worth together, per unit of underlying; null where a leg has no such figure. */
export interface LegsTogether {
  theory: number | null;
  /** What is bid and offered for all of them at once, each at the side of the market that it would trade at */
  bid: number | null;
  ask: number | null;
  delta: number | null;
}

/**
 * @param values of the legs, in their order
 * @param quotes of the legs, in their order
 */
export function together(
  legs: readonly TradedLegText[],
  values: readonly (Pick<ListedValue, 'price' | 'delta'> | undefined)[],
  quotes: readonly { bid: number | null; ask: number | null }[],
): LegsTogether {
  const sum = (of: (leg: TradedLegText, i: number) => number | null | undefined): number | null =>
    legs.reduce<number | null>((total, one, i) => {
      const part = of(one, i);
      return total === null || part == null ? null : total + one.ratio * part;
    }, 0);
  return {
    theory: sum((_, i) => values[i]?.price),
    delta: sum((_, i) => values[i]?.delta),
    bid: sum((l, i) => (l.ratio > 0 ? quotes[i].bid : quotes[i].ask)),
    ask: sum((l, i) => (l.ratio > 0 ? quotes[i].ask : quotes[i].bid)),
  };
}
