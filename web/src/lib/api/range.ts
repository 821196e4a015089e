import { z } from 'zod';
import { expiryDate, figure, instantText, optionSide } from './quantity.ts';

/** Where a probability may come from, in the order in which they are shown. */
export const ODDS_SOURCES = [
  'smile',
  'own',
  'atm',
  'borrowed',
  'index',
  'realized',
  'forecast',
  'typed',
  'history',
] as const;
export type OddsSource = (typeof ODDS_SOURCES)[number];

/** Kinds of expected move that are told as one distance from the forward. */
const MOVE_KINDS = ['straddle', 'oneSigma', 'meanAbsolute', 'varianceMove'] as const;
export type MoveKind = (typeof MOVE_KINDS)[number];
/** How an expected move is told: as one distance, or as the middle part of the law. */
export const MOVE_CHOICES = [...MOVE_KINDS, 'range'] as const;
export type MoveChoice = (typeof MOVE_CHOICES)[number];

/** Of a range that nobody asked to be another. */
const USUAL_COVERAGE = 0.68;
const MOST_COVERAGES = 9;

const coverage = z.coerce.number().gt(0).lt(1);
/** Days between expiries that are asked about at once. */
const MOST_DAYS = 9;
export const daysBetween = z.coerce.number().gt(0).max(20_000);
export const rangeChoice = z.object({
  coverage: z.array(coverage).max(MOST_COVERAGES).default([USUAL_COVERAGE]),
  /** Days from the instant on which nothing expires, told from the surface */
  days: z.array(daysBetween).max(MOST_DAYS).default([]),
});

/** Listed strikes on either side of a price; null where none is listed there. */
const listed = z.tuple([figure, figure]);
const range = z.object({ coverage: z.number(), low: figure, high: figure, lowListed: listed, highListed: listed });

const move = z
  .object({
    move: figure,
    /** Probability to end within it, under the smile */
    coverage: figure,
  })
  .meta({ id: 'MoveCoverage' });

const rangeExpiry = z
  .object({
    date: expiryDate,
    days: z.number(),
    forward: z.number(),
    /** The straddle at the forward, at mid */
    straddle: figure,
    oneSigma: figure,
    meanAbsolute: figure,
    varianceMove: figure,
    /** One session's, annual volatility over the root of 252 */
    dailyMove: figure,
    ranges: z.array(range),
    /** How likely the price ends within each kind of move, under the smile */
    coverages: z.object({ straddle: move, oneSigma: move, meanAbsolute: move, varianceMove: move }),
    events: z.array(z.object({ label: z.string(), instant: instantText, move: figure })),
    /** Where the density is highest, and further humps */
    humps: z.array(z.number()),
    /** How the smile goes on below and above its quotes; null of a level, whose law is lognormal */
    wings: z.tuple([z.enum(['own', 'settling', 'arbitrage']), z.enum(['own', 'settling', 'arbitrage'])]).nullable(),
  })
  .meta({ id: 'RangeExpiry' });
export type RangeExpiry = z.infer<typeof rangeExpiry>;

export const rangeResponse = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    price: z.number(),
    expiries: z.array(rangeExpiry),
    /** By days on which nothing expires, in the order asked; null before the first and after the last expiry */
    between: z.array(rangeExpiry.nullable()),
  })
  .meta({ id: 'Range' });

export const ODDS_KINDS = ['above', 'below', 'between', 'touch'] as const;
export type OddsKind = (typeof ODDS_KINDS)[number];

const price = z.coerce.number().positive().max(1e12);
const yearlyDrift = z.coerce.number().min(-2).max(2).default(0);
const typedVolatility = z.coerce.number().gt(0).max(5).optional();

/** What a probability is asked of. */
export const oddsChoice = z.object({
  kind: z.enum(ODDS_KINDS),
  level: z.array(price).min(1).max(2),
  /** Decimal, of the source `typed` */
  volatility: typedVolatility,
  /** Growth of the expected price beyond the forward, per year; an assumption, 0 under the pricing law */
  drift: yearlyDrift,
});

/** Says where a kind does not take as many levels. */
export function checkLevels(
  { kind, level }: { kind: OddsKind; level: readonly number[] },
  context: z.RefinementCtx,
): void {
  const wanted = kind === 'between' ? [2] : kind === 'touch' ? [1, 2] : [1];
  if (wanted.includes(level.length)) return;
  const message = `${kind} takes ${wanted.join(' or ')}, got ${level.length}`;
  context.addIssue({ code: 'custom', path: ['level'], message });
}
export type OddsChoice = z.infer<typeof oddsChoice>;

const sourceOdds = z
  .object({
    source: z.enum(ODDS_SOURCES),
    probability: figure,
    /** Annual volatility that it rests on; null of a law without one, and of two levels with two */
    volatility: figure,
    /** One standard deviation of the probability, where it was drawn */
    standardError: z.number().optional(),
    /** Why there is none, or what stands in */
    reason: z.string().optional(),
  })
  .meta({ id: 'SourceOdds' });
export type SourceOddsRow = z.infer<typeof sourceOdds>;

export const oddsResponse = z.object({ results: z.array(sourceOdds) });

export const STRIKE_GOALS = ['itm', 'touch', 'delta'] as const;
export const strikesChoice = z.object({
  probability: z.coerce.number().gt(0).lt(1),
  kind: z.enum(STRIKE_GOALS).default('itm'),
  source: z.enum(ODDS_SOURCES).default('smile'),
  volatility: typedVolatility,
  drift: yearlyDrift,
});
export type StrikesChoice = z.infer<typeof strikesChoice>;

const oddsStrike = z
  .object({
    strike: z.number(),
    listedBelow: figure,
    listedAbove: figure,
    /** Theory at the strike, whether it is listed or not */
    premium: figure,
    premiumBelow: figure,
    premiumAbove: figure,
  })
  .meta({ id: 'OddsStrike' });
export type OddsStrike = z.infer<typeof oddsStrike>;

export const strikesResponse = z.object({
  [optionSide.enum.put]: oddsStrike.nullable(),
  [optionSide.enum.call]: oddsStrike.nullable(),
});
export type StrikesResponse = z.infer<typeof strikesResponse>;

/** Years of daily bars that a picture of the price goes back. */
export const MOST_BAR_SESSIONS = 504;
export const barsChoice = z.object({ sessions: z.coerce.number().int().min(1).max(MOST_BAR_SESSIONS).default(126) });

const dailyBar = z.object({
  session: z.iso.date(),
  open: z.number(),
  high: z.number(),
  low: z.number(),
  close: z.number(),
});
export type DailyBarRow = z.infer<typeof dailyBar>;

export const barsResponse = z.object({ symbol: z.string(), asOf: instantText, bars: z.array(dailyBar) });

/** Levels to keep, as they are at the instant that is asked about. */
export const freezeRequest = z.strictObject({
  name: z.string().trim().min(1).max(60),
  move: z.enum(MOVE_CHOICES).default('straddle'),
  coverage: z.number().gt(0).lt(1).default(USUAL_COVERAGE),
  /** Only these expiries; all in line without it */
  expiries: z.array(expiryDate).min(1).max(60).optional(),
});

const frozenLevel = z
  .object({
    date: expiryDate,
    forward: z.number(),
    low: z.number(),
    high: z.number(),
    coverage: figure,
    /** Of sessions that have ended by the instant that is asked about */
    state: z.enum(['open', 'inside', 'outside']),
    /** Close of the last session up to the expiry; null before any */
    settled: figure,
    /** From the nearer level, as a share of it: above 0 inside, below 0 outside */
    distance: figure,
    /** First session that closed outside */
    left: z.iso.date().nullable(),
  })
  .meta({ id: 'FrozenLevel' });
export type FrozenLevel = z.infer<typeof frozenLevel>;

export const frozenSet = z
  .object({
    id: z.string(),
    name: z.string(),
    instant: instantText,
    price: z.number(),
    move: z.enum(MOVE_CHOICES),
    levels: z.array(frozenLevel),
  })
  .meta({ id: 'FrozenSet' });
export type FrozenSet = z.infer<typeof frozenSet>;

export const frozenResponse = z.object({ symbol: z.string(), asOf: instantText, frozen: z.array(frozenSet) });
