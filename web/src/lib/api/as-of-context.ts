import { z } from 'zod';
import { borrowRate, CARRY_CHOICES, financingRate } from './carry.ts';
import { listText } from './list-text.ts';
import { readLegs } from './picked-legs.ts';
import { expiryDate, instantText, optionSide } from './quantity.ts';

export const FORWARD_SOURCES = ['parity', 'carry'] as const;
export const VOLATILITY_SOURCES = ['smile', 'own', 'atm', 'borrowed', 'index', 'realized', 'typed'] as const;
export const BASES = ['share', 'contract'] as const;

/** The instant of the feed's newest quotes, whatever it is. */
export const LIVE = 'live';
/** What is seen: a stored instant (the one at or before a time), or the feed's newest quotes. */
export const asOfText = z.union([instantText, z.literal(LIVE)]);

/** Sets of expiries by name: all in line, standard monthlies, and monthlies where there would be too many lines to read. */
export const EXPIRY_SETS = ['all', 'monthly', 'readable'] as const;
export type ExpirySet = (typeof EXPIRY_SETS)[number];

/** One quote put back by hand: 2031-03-21/125/call. */
const restoredQuote = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}\/[\d.]+\/(call|put)$/)
  .transform((text) => {
    const [expiry, strike, side] = text.split('/');
    return { expiry, strike: Number(strike), side: side as z.infer<typeof optionSide> };
  });

/** What a picture, and theory over it, is asked for by: instant, expiry in focus, assumptions, quotes put back. */
export const pictureQuery = z.object({
  asOf: asOfText.optional(),
  /** Expiry in focus; absent means the first standard monthly */
  expiry: expiryDate.optional(),
  forwardSource: z.enum(FORWARD_SOURCES).default('parity'),
  carry: z.enum(CARRY_CHOICES).default('inferred'),
  /** Decimals, for the carry that is typed */
  financing: z.coerce.number().pipe(financingRate).optional(),
  borrowCost: z.coerce.number().pipe(borrowRate).optional(),
  volatilitySource: z.enum(VOLATILITY_SOURCES).default('smile'),
  /** Decimal, for the source of that name */
  typedVolatility: z.coerce.number().gt(0).max(5).optional(),
  restored: listText(restoredQuote).default([]),
});
const { asOf, expiry, forwardSource, carry, financing, borrowCost, volatilitySource, typedVolatility, restored } =
  pictureQuery.shape;

/**
 * What all views of an underlying share, as their URL carries it: instant, expiries, assumptions, quotes put back. One schema for
 * pages and API; unknown or malformed parameters fall back to the default rather than fail a whole page. Each view has
 * parameters of its own beside it.
 */
export const asOfContext = z.object({
  asOf: asOf.catch(undefined),
  /** Expiries shown, by name or by date; absent means as the view opens */
  expiries: z
    .union([z.enum(EXPIRY_SETS), listText(expiryDate)])
    .optional()
    .catch(undefined),
  expiry: expiry.catch(undefined),
  /** Days of the tenor in focus where no expiry is: the nearest is meant */
  tenor: z.coerce.number().int().min(0).max(20_000).optional().catch(undefined),
  forwardSource: forwardSource.catch('parity'),
  carry: carry.catch('inferred'),
  financing: financing.catch(undefined),
  borrowCost: borrowCost.catch(undefined),
  volatilitySource: volatilitySource.catch('smile'),
  typedVolatility: typedVolatility.catch(undefined),
  basis: z.enum(BASES).default('share').catch('share'),
  restored: restored.catch([]),
  /** Options that were picked, of whatever view */
  legs: z
    .string()
    .transform((text) => readLegs(text).legs)
    .default([]),
});
export type AsOfContext = z.infer<typeof asOfContext>;

/** Parameters that change what is derived; the others are of the view alone. */
export const DERIVING = ['asOf', 'forwardSource', 'carry', 'financing', 'borrowCost', 'restored'] as const;
/** Context as far as it changes what is derived of given quotes. */
export type DerivingContext = Pick<AsOfContext, 'forwardSource' | 'restored'> &
  Partial<Pick<AsOfContext, 'carry' | 'financing' | 'borrowCost'>>;

/** The parameters of a query that change what is derived. */
export function derivingQuery(parameters: URLSearchParams): URLSearchParams {
  const kept = new URLSearchParams();
  for (const name of DERIVING) {
    const value = parameters.get(name);
    if (value !== null) kept.set(name, value);
  }
  return kept;
}

/** Context of a URL's query. */
export function parseContext(parameters: URLSearchParams): AsOfContext {
  return asOfContext.parse(Object.fromEntries(parameters));
}
