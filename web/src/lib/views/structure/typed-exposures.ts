import { HEDGED_GREEKS, type HedgedGreek } from '@umwelt/core/hedge';
import { z } from 'zod';
import { UNDERLYING_NAME } from '../../api/structure.ts';

/** Sums or an option's Greeks as they were typed: what is not known is left out. */
export type TypedExposures = Readonly<Partial<Record<HedgedGreek, number>>>;
/** An option of typed Greeks, by one contract of it with the multiplier in. */
export interface TypedOption {
  name: string;
  exposures: TypedExposures;
  /** Half of what its bid and offer lie apart, currency */
  cost?: number;
}

/** An address holds numbers one after another, those that are not known empty. */
const APART = '~';
const numberText = z
  .string()
  .max(30)
  .transform((text) => (text === '' ? undefined : Number(text)))
  .pipe(z.number().min(-1e12).max(1e12).optional());
const partsOf = (text: string) => text.split(APART);

const exposuresOf = (numbers: readonly (number | undefined)[]): TypedExposures =>
  Object.fromEntries(HEDGED_GREEKS.flatMap((name, i) => (numbers[i] === undefined ? [] : [[name, numbers[i]]])));

/** Sums of what is held elsewhere, as an address carries them: `-300~-100~~-80~~`. */
export const typedSums = z
  .string()
  .max(200)
  .transform(partsOf)
  .pipe(z.array(numberText).length(HEDGED_GREEKS.length))
  .transform(exposuresOf);

/** An option by its Greeks, as an address carries it: its name, its Greeks, half of its spread. */
export const typedOption = z
  .string()
  .max(260)
  .transform((text) => {
    const [name, ...numbers] = partsOf(text);
    return { name, numbers };
  })
  .pipe(z.object({ name: z.string().trim().min(1).max(40), numbers: z.array(numberText).length(7) }))
  .transform(({ name, numbers }): TypedOption => ({
    name,
    exposures: exposuresOf(numbers),
    cost: numbers[HEDGED_GREEKS.length],
  }))
  // A cost below nothing would have it traded without end.
  .refine(({ cost = 0 }) => cost >= 0);

const exposuresText = (exposures: TypedExposures) => HEDGED_GREEKS.map((name) => exposures[name] ?? '').join(APART);

export const typedSumsText = (sums: TypedExposures): string | undefined =>
  HEDGED_GREEKS.every((name) => sums[name] === undefined) ? undefined : exposuresText(sums);

export const typedOptionsText = (options: readonly TypedOption[]): string | undefined =>
  options.length === 0
    ? undefined
    : options.map(({ name, exposures, cost }) => [name, exposuresText(exposures), cost ?? ''].join(APART)).join(',');

/** Whether each has a name of its own, none the underlying's. */
export function isToldApart(options: readonly TypedOption[]): boolean {
  return new Set([UNDERLYING_NAME, ...options.map((o) => o.name)]).size === options.length + 1;
}

/** A name that an address can carry, without its marks. */
export const plainName = (text: string): string => text.replaceAll(/[~,]/g, ' ').trim().slice(0, 40);
