import { HEDGED_GREEKS } from '@umwelt/core/hedge';
import { z } from 'zod';
import { listText } from '../../api/list-text.ts';
import { expiryDate, optionSide } from '../../api/quantity.ts';
import type { PickableOption } from '../../api/picked-legs.ts';
import { workingsId } from '../../api/workings-id.ts';
import { SHOWN_MEASURES } from './structure-measure.ts';
import { isToldApart, typedOption, typedSums } from './typed-exposures.ts';

/** Most units of the underlying, in contracts' worth. */
export const MOST_HELD = 1e6;
/** What stands below the chart. */
export const STRUCTURE_PANELS = ['legs', 'chances', 'neutralize', 'reach', 'decay', 'compare', 'shelf'] as const;
/** What legs may be taken at: the middle, what is bid and offered where they trade, or theory. */
export const TAKEN_AT = ['mid', 'market', 'theory'] as const;
export type TakenAt = (typeof TAKEN_AT)[number];
/** What figures may be of: all contracts, one of the smallest structure that it is a multiple of, one unit of the underlying of that. */
export const FIGURES_OF = ['position', 'structure', 'share'] as const;
/** How a smile may go with the price. */
export const SMILE_MOVES = ['strike', 'moneyness', 'local'] as const;
/** What may run down in the lower chart. */
export const MAP_AXES = ['day', 'volatility'] as const;
export type MapAxis = (typeof MAP_AXES)[number];

/** A price that was paid for a leg, as an address carries it: `2031-04-18~4600~put~38.5`. */
const paidLeg = z
  .string()
  .max(60)
  .transform((text) => {
    const [expiry, strike, side, price] = text.split('~');
    return { expiry, strike: Number(strike), side, price: Number(price) };
  })
  .pipe(
    z.object({
      ...{ expiry: expiryDate, strike: z.number().positive(), side: optionSide },
      price: z.number().min(0).max(1e9),
    }),
  );
export type PaidLeg = z.output<typeof paidLeg>;

const hedgeOption = z
  .string()
  .max(40)
  .transform((text) => {
    const [expiry, strike, side] = text.split('~');
    return { expiry, strike: Number(strike), side };
  })
  .pipe(z.object({ expiry: expiryDate, strike: z.number().positive(), side: optionSide }));
export const hedgeOptionsText = (options: readonly PickableOption[]): string | undefined =>
  options.length === 0
    ? undefined
    : options.map(({ expiry, strike, side }) => [expiry, strike, side].join('~')).join(',');

export const paidText = (paid: readonly PaidLeg[]): string | undefined =>
  paid.length === 0
    ? undefined
    : paid.map(({ expiry, strike, side, price }) => [expiry, strike, side, price].join('~')).join(',');

/** What Structure's address carries beside the shared context, which holds the options. */
export const structureParameters = z.object({
  /** Units of the underlying beside the options, in contracts' worth: below 0 owed */
  held: z.coerce.number().min(-MOST_HELD).max(MOST_HELD).default(0).catch(0),
  /** Prices of legs that are not their mid */
  paid: listText(paidLeg).default([]).catch([]),
  /** What a leg is taken at where nothing is typed */
  take: z.enum(TAKEN_AT).default('mid').catch('mid'),
  /** What figures and charts are of */
  per: z.enum(FIGURES_OF).default('position').catch('position'),
  /** Days from now that are looked at beside now and the first expiry */
  day: z.coerce.number().min(0).max(20_000).optional().catch(undefined),
  /** On every volatility, points */
  shift: z.coerce.number().min(-50).max(100).default(0).catch(0),
  /** Whether near expiries move by more: by the root of their time */
  rooted: z.enum(['yes', 'no']).default('no').catch('no'),
  /** On the volatility of a strike a tenth below its forward, points; in proportion elsewhere */
  tilt: z.coerce.number().min(-20).max(20).default(0).catch(0),
  /** How a smile goes with the price: it stays with its strikes, goes with the price, or twice as far */
  smile: z.enum(SMILE_MOVES).default('strike').catch('strike'),
  /** On the rate, points */
  rate: z.coerce.number().min(-10).max(20).default(0).catch(0),
  /** Price that is looked at; the underlying's own where there is none */
  at: z.coerce.number().positive().max(1e9).optional().catch(undefined),
  /** Prices between which is drawn, where they are chosen */
  from: z.coerce.number().positive().max(1e9).optional().catch(undefined),
  to: z.coerce.number().positive().max(1e9).optional().catch(undefined),
  measure: z.enum(SHOWN_MEASURES).default('profit').catch('profit'),
  /** What runs down in the lower chart */
  down: z.enum(MAP_AXES).default('day').catch('day'),
  /** Whether each leg is drawn by itself, too */
  each: z.enum(['yes', 'no']).default('no').catch('no'),
  /** Profit that is waited for, and loss that ends it, currency; half of the most where nothing is typed */
  target: z.coerce.number().min(-1e12).max(1e12).optional().catch(undefined),
  limit: z.coerce.number().min(-1e12).max(1e12).optional().catch(undefined),
  /** Kept structures that are drawn beside it */
  with: listText(z.uuid()).default([]).catch([]),
  panel: z.enum(STRUCTURE_PANELS).default('legs').catch('legs'),
  /** Sums that are to be brought to nothing */
  sums: listText(z.enum(HEDGED_GREEKS)).default(['delta']).catch(['delta']),
  /** Options that may be traded to that end */
  by: listText(hedgeOption).default([]).catch([]),
  /** Options of typed Greeks that may be traded, too */
  typed: listText(typedOption).refine(isToldApart).default([]).catch([]),
  /** Sums of what is held elsewhere, added to those of the legs */
  elsewhere: typedSums.optional().catch(undefined),
  /** Whether whole contracts alone are traded */
  whole: z.enum(['yes', 'no']).default('yes').catch('yes'),
  workings: workingsId,
});
export type StructureParameters = z.output<typeof structureParameters>;
