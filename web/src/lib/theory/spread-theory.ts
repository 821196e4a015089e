import type { ExpiryPicture, Picture } from '../api/picture.ts';
import { unlistedExpiry } from '../market/index.ts';
import type { TradedLegText } from '../api/traded.ts';
import type { ListedOption } from './listed-contract.ts';
import type { ListedValue, TheoryPart } from './listed-values.ts';

/**
 * The options that combinations are made of, by expiry, each once. A strike or an expiry that is not listed at the instant is taken as
 * the surface sees it; what has ended, or what no smile tells of, is left out.
 */
export function spreadParts(picture: Picture, combinations: readonly (readonly TradedLegText[])[]): TheoryPart[] {
  const dates = new Map<string, Map<string, ListedOption>>();
  for (const { expiry, side, strike } of combinations.flat()) {
    const options = dates.get(expiry) ?? new Map<string, ListedOption>();
    dates.set(expiry, options.set(`${side}${strike}`, { side, strike }));
  }
  return [...dates].flatMap(([date, options]) => {
    const expiry = legExpiry(picture, date);
    const told = expiry ? [...options.values()].filter(({ strike }) => isTold(expiry, strike)) : [];
    return expiry && told.length > 0 ? [{ expiry, options: told }] : [];
  });
}

/** No smile tells of what lies beyond so many deviations, and beyond this in log-moneyness. */
const FAR = { deviations: 10, moneyness: 0.5 };

/** Whether an option is listed, or near enough for the smile to tell what it is worth. */
function isTold({ strikes, forward, atm, years }: ExpiryPicture, strike: number): boolean {
  if (strikes.includes(strike)) return true;
  return (
    Math.abs(Math.log(strike / forward)) <= Math.max(FAR.moneyness, FAR.deviations * (atm ?? 0) * Math.sqrt(years))
  );
}

/** The expiry of a leg, listed or as the surface sees it; undefined where it has ended, or no smile tells of it. */
export function legExpiry(picture: Picture, date: string): ExpiryPicture | undefined {
  return picture.expiries.find((e) => e.date === date) ?? unlistedExpiry(picture, date);
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
