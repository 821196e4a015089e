import type { Picture } from '../api/picture.ts';
import type { TradedLegText } from '../api/traded.ts';
import type { ListedOption } from './listed-contract.ts';
import type { ListedValue, TheoryPart } from './listed-values.ts';

/** The options that combinations are made of, by expiry, each once; what is not listed is left out. */
export function spreadParts(picture: Picture, combinations: readonly (readonly TradedLegText[])[]): TheoryPart[] {
  const legs = combinations.flat();
  return picture.expiries.flatMap((expiry) => {
    const options = new Map<string, ListedOption>();
    for (const { expiry: date, side, strike } of legs)
      if (date === expiry.date && expiry.strikes.includes(strike)) options.set(`${side}${strike}`, { side, strike });
    return options.size === 0 ? [] : [{ expiry, options: [...options.values()] }];
  });
}

/**
 * Theory of each leg; undefined of one that has none.
 * @param values of each part's options
 */
export function legTheory(
  legs: readonly TradedLegText[],
  parts: readonly TheoryPart[],
  values: readonly (readonly (ListedValue | undefined)[])[],
): (ListedValue | undefined)[] {
  return legs.map(({ expiry: date, side, strike }) => {
    const part = parts.findIndex((p) => p.expiry.date === date);
    const at = part < 0 ? -1 : parts[part].options.findIndex((o) => o.side === side && o.strike === strike);
    return at < 0 ? undefined : values[part]?.[at];
  });
}

/** Theoretical value of one unit of each leg; null of one that has none. */
export function legValues(...[legs, parts, values]: Parameters<typeof legTheory>): (number | null)[] {
  return legTheory(legs, parts, values).map((value) => value?.price ?? null);
}

/** Theoretical value of one unit of a combination; null when a leg has none. @param values of the legs, in their order */
export function spreadValue(legs: readonly TradedLegText[], values: readonly (number | null)[]): number | null {
  let sum = 0;
  for (const [i, { ratio }] of legs.entries()) {
    const value = values[i];
    if (value === null) return null;
    sum += ratio * value;
  }
  return sum;
}
