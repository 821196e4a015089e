import { z } from 'zod';
import { borrowRate, CARRY_CHOICES, financingRate } from './carry.ts';
import { expiryDate, instantText, optionSide, symbolText } from './quantity.ts';

export const FORWARD_SOURCES = ['parity', 'carry'] as const;
export const VOLATILITY_SOURCES = ['smile', 'own', 'atm', 'borrowed', 'index', 'realized', 'typed'] as const;
export const BASES = ['share', 'contract'] as const;
export const CHAIN_TABLES = ['quotes', 'spreads', 'prints'] as const;
export const SKEW_AXES = ['strike', 'distance', 'moneyness', 'deviations', 'delta'] as const;

export const SKEW_PANELS = ['smiles', 'distance', 'others', 'year', 'replay', 'surface'] as const;
/** Lines that Term may draw beside the level. */
export const TERM_LINES = ['forward', 'wings', 'index', 'realized'] as const;
/** Most pictures that are held beside the one that is shown. */
export const MOST_COMPARED = 4;
export const DISTANCES = ['percent', 'strikes', 'delta'] as const;

/** The instant of the feed's newest quotes, whatever it is. */
export const LIVE = 'live';
/** What is seen: a stored instant (the one at or before a time), or the feed's newest quotes. */
export const asOfText = z.union([instantText, z.literal(LIVE)]);

const list = <T extends z.ZodType<unknown, string>>(item: T) =>
  z
    .string()
    .transform((text) => text.split(',').filter((part) => part !== ''))
    .pipe(z.array(item).max(200));

/** One quote put back by hand: 2031-03-21/125/call. */
const restoredQuote = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}\/[\d.]+\/(call|put)$/)
  .transform((text) => {
    const [expiry, strike, side] = text.split('/');
    return { expiry, strike: Number(strike), side: side as z.infer<typeof optionSide> };
  });

/** Another underlying at the instant that is shown (KELPA), or any at another (KELPA@2031-02-14T17:30:00+01:00). */
const comparison = z
  .string()
  .transform((text) => {
    const [symbol, asOf] = text.split('@') as [string, string | undefined];
    return asOf === undefined ? { symbol } : { symbol, asOf };
  })
  .pipe(z.object({ symbol: symbolText, asOf: instantText.optional() }));
export type Comparison = z.infer<typeof comparison>;

/** How a comparison is written in the URL. */
export function comparisonText({ symbol, asOf }: Comparison): string {
  return asOf === undefined ? symbol : `${symbol}@${asOf}`;
}

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
  restored: list(restoredQuote).default([]),
});
const { asOf, expiry, forwardSource, carry, financing, borrowCost, volatilitySource, typedVolatility, restored } =
  pictureQuery.shape;

/**
 * State of a view as its URL carries it: instant, expiries, assumptions, quotes put back, what Workings shows. One
 * schema for pages and API; unknown or malformed parameters fall back to the default rather than fail a whole page.
 */
export const asOfContext = z.object({
  asOf: asOf.catch(undefined),
  /** Expiries shown; absent means all */
  expiries: list(expiryDate).optional().catch(undefined),
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
  /** What Skew shows: smiles now, put and call side by side, the past year, or the smile through it */
  skew: z.enum(SKEW_PANELS).default('smiles').catch('smiles'),
  /** How Skew counts the same distance both ways */
  by: z.enum(DISTANCES).default('percent').catch('percent'),
  axis: z.enum(SKEW_AXES).default('strike').catch('strike'),
  /** Lines of Term beside the level */
  lines: list(z.enum(TERM_LINES)).default(['forward', 'realized']).catch(['forward', 'realized']),
  /** What Term and Skew hold beside the picture */
  compare: list(comparison)
    .transform((all) => all.slice(0, MOST_COMPARED))
    .default([])
    .catch([]),
  /** What Chain lists: quotes of the focus expiry, listed spreads, or the prints of the session */
  table: z.enum(CHAIN_TABLES).default('quotes').catch('quotes'),
  sides: z.enum(['out', 'both']).default('out').catch('out'),
  /** Identifier of the figure that Workings explains */
  workings: z.string().max(120).optional().catch(undefined),
});
export type AsOfContext = z.infer<typeof asOfContext>;

/** Parameters that change what is derived; the others are of the view alone. */
export const DERIVING = ['asOf', 'forwardSource', 'carry', 'financing', 'borrowCost', 'restored'] as const;
/** Context as far as it changes what is derived of given quotes. */
export type DerivingContext = Pick<AsOfContext, 'forwardSource' | 'restored'> &
  Partial<Pick<AsOfContext, 'carry' | 'financing' | 'borrowCost'>>;

/** Context of a URL's query. */
export function parseContext(parameters: URLSearchParams): AsOfContext {
  return asOfContext.parse(Object.fromEntries(parameters));
}
