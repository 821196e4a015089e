import { z } from 'zod';
import { expiryDate, optionSide } from './quantity.ts';
import type { TradedLegText } from './traded.ts';

/** Most legs that are picked at once. */
export const MOST_LEGS = 12;
/** Most contracts of a leg. */
export const MOST_CONTRACTS = 999;

const leg = z.object({
  ratio: z.coerce.number().int().min(-MOST_CONTRACTS).max(MOST_CONTRACTS),
  expiry: expiryDate,
  strike: z.coerce.number().positive().max(1e9),
  side: optionSide,
});

/** A leg as an address carries it: `-1~2031-04-18~4600~put`. */
const legInAddress = z
  .string()
  .max(60)
  .transform((text) => {
    const [ratio, expiry, strike, side] = text.split('~');
    return { ratio, expiry, strike, side } as z.input<typeof leg>;
  })
  .pipe(leg);

/** Legs of an address, and what of it is none or goes beyond what can be picked. */
export function readLegs(text: string): { legs: TradedLegText[]; dropped: string[] } {
  const parts = text.split(',').filter((part) => part !== '');
  const read = parts.map((part) => ({ part, parsed: legInAddress.safeParse(part) }));
  const legs = counted(read.flatMap(({ parsed }) => (parsed.success ? [parsed.data] : [])));
  const isKept = (one: PickableOption) => legs.some((l) => isSame(l, one));
  const isNothing = (one: TradedLegText) => one.ratio === 0;
  return {
    legs,
    dropped: read.flatMap(({ part, parsed }) =>
      parsed.success && (isKept(parsed.data) || isNothing(parsed.data)) ? [] : [part],
    ),
  };
}

/** Legs as they were said, each option once with all its contracts, none that comes to nothing, no more than can be picked. */
export function counted(said: readonly TradedLegText[]): TradedLegText[] {
  const legs: TradedLegText[] = [];
  for (const one of said) {
    const same = legs.find((l) => isSame(l, one));
    if (same) same.ratio += one.ratio;
    else legs.push({ ...one });
  }
  return legs.filter((l) => l.ratio !== 0 && Math.abs(l.ratio) <= MOST_CONTRACTS).slice(0, MOST_LEGS);
}

/** Legs as an address carries them; undefined where there are none. */
export function legsText(legs: readonly TradedLegText[]): string | undefined {
  if (legs.length === 0) return undefined;
  return legs.map(({ ratio, expiry, strike, side }) => [ratio, expiry, strike, side].join('~')).join(',');
}

/** An option of the underlying that is shown. */
export type PickableOption = Omit<TradedLegText, 'ratio'>;
const isSame = (a: PickableOption, b: PickableOption) =>
  a.expiry === b.expiry && a.strike === b.strike && a.side === b.side;

/** Contracts of an option among the legs; negative where they are sold. */
export function pickedOf(legs: readonly TradedLegText[], option: PickableOption): number {
  return legs.find((l) => isSame(l, option))?.ratio ?? 0;
}

/** The legs with one contract more, or less, of an option; one that comes to nothing goes, one beyond the most stays out. */
export function pick(legs: readonly TradedLegText[], option: PickableOption, step: 1 | -1): TradedLegText[] {
  const ratio = pickedOf(legs, option) + step;
  if (Math.abs(ratio) > MOST_CONTRACTS) return [...legs];
  if (!legs.some((l) => isSame(l, option)))
    return legs.length < MOST_LEGS ? [...legs, { ...option, ratio }] : [...legs];
  return legs.flatMap((l) => (isSame(l, option) ? (ratio === 0 ? [] : [{ ...l, ratio }]) : [l]));
}
