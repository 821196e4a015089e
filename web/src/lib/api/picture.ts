import { z } from 'zod';
import { borrowedSmilePicture } from './borrow.ts';
import { carryPicture } from './carry.ts';
import { expiryDate, figure, instantText, optionSide, symbolText, zoneText } from './quantity.ts';
import { smileDescriptionWith } from './smile.ts';

/** Why a quote is not used. */
export const quoteReason = z.enum(['crossed', 'no-bid', 'no-ask', 'stale', 'below-intrinsic', 'too-wide']);
export type QuoteReasonText = z.infer<typeof quoteReason>;

export const underlyingSummary = z
  .object({
    symbol: z.string(),
    name: z.string(),
    sector: z.string(),
    source: z.enum(['demo', 'import']),
    kind: z.enum(['index', 'fund', 'share', 'future', 'currency']),
    exercise: z.enum(['european', 'american']),
    model: z.enum(['spot', 'futures']),
    settlement: z.enum(['cash', 'physical']),
    multiplier: z.number(),
    currency: z.string(),
    foreignCurrency: z.string().nullable(),
    zone: z.string(),
    /** Time of day, HH:MM in its zone, that an expiry's date means */
    sessionClose: z.string(),
    optionTick: figure,
    underlyingTick: figure,
  })
  .meta({ id: 'Underlying' });
export type UnderlyingSummary = z.infer<typeof underlyingSummary>;

/** What of an underlying can be changed. */
export const underlyingChange = z
  .strictObject({
    symbol: symbolText.optional(),
    kind: underlyingSummary.shape.kind.optional(),
    exercise: underlyingSummary.shape.exercise.optional(),
    model: underlyingSummary.shape.model.optional(),
    multiplier: z.number().positive().max(1e9).optional(),
    currency: z
      .string()
      .regex(/^[A-Z]{3}$/, 'three capital letters, ISO 4217')
      .optional(),
    zone: zoneText.optional(),
    sessionClose: z
      .string()
      .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'HH:MM')
      .optional(),
  })
  .refine((change) => Object.values(change).some((value) => value !== undefined), 'name what is to change')
  .meta({ id: 'UnderlyingChange' });
export type UnderlyingChange = z.infer<typeof underlyingChange>;

const standing = z
  .object({ rank: figure, percentile: z.number(), low: z.number(), high: z.number(), count: z.number() })
  .meta({ id: 'Standing', description: 'Place of a value within its own past' });

/** Quotes of one side by strike, with the volatilities of bid, mid and ask and the verdict on each. */
const sideColumns = z.object({
  bid: z.array(figure),
  ask: z.array(figure),
  bidSize: z.array(figure),
  askSize: z.array(figure),
  last: z.array(figure),
  volume: z.array(figure),
  openInterest: z.array(figure),
  bidVolatility: z.array(figure),
  midVolatility: z.array(figure),
  askVolatility: z.array(figure),
  verdict: z.array(quoteReason.nullable()),
  /** What early exercise adds to the price, taken off the quotes before they are turned into volatilities; 0 for European options */
  earlyExercise: z.array(z.number()),
});

/** A discount factor with its standard deviation. */
const factorEstimate = z.object({ discountFactor: z.number(), error: z.number() }).meta({ id: 'FactorEstimate' });

export const expiryPicture = z
  .object({
    date: expiryDate,
    expiry: instantText,
    years: z.number(),
    days: z.number(),
    isMonthly: z.boolean(),
    /** What its options are on: a spot, or a futures price */
    model: z.enum(['spot', 'futures']),
    forward: z.number(),
    discountFactor: z.number(),
    forwardSource: z.enum(['parity', 'carry']),
    forwardReason: z.enum(['too-few-pairs', 'not-a-line', 'chosen', 'not-settled']).nullable(),
    forwardError: figure,
    carryForward: figure,
    curveRate: figure,
    impliedRate: z.number(),
    /** Standard deviation of the implied rate; null where the curve's is used as it is */
    rateError: figure,
    /** What the discount factor was weighed from: the expiry's own pairs, and curve and other expiries */
    factorSides: z.object({
      parity: factorEstimate.nullable(),
      known: factorEstimate.nullable(),
      parityShare: z.number(),
    }),
    impliedYield: z.number(),
    /** Yield or cost to borrow that is left when cash dividends are taken into account; null without any */
    yieldBesideDividends: figure,
    /** What American options may be exercised into before this expiry; null for European ones */
    exercisedInto: z
      .discriminatedUnion('kind', [
        z.object({ kind: z.literal('future') }),
        z.object({
          kind: z.literal('spot'),
          spot: z.number(),
          dividendYield: z.number(),
          /** Cash, by years from the instant */
          dividends: z.array(z.object({ time: z.number(), amount: z.number() })),
        }),
      ])
      .nullable(),
    /** What the quotes were made of: prices, or volatilities at which they were computed */
    quotedIn: z.enum(['price', 'volatility']),
    pairsUsed: z.number(),
    pairsLeftOut: z.array(z.number()),
    smile: smileDescriptionWith({
      rmse: z.number(),
      insideMarket: z.number(),
      range: z.tuple([z.number(), z.number()]),
      quality: z.number(),
      /** Why it is a level without shape, where it is one */
      levelReason: z.enum(['too-few-points', 'not-converged']).nullable(),
      /** What the nearest fit without constraints had, when it was not free of arbitrage */
      unconstrained: z
        .object({ rmse: z.number(), butterfly: z.array(z.number()), calendar: z.array(z.number()) })
        .nullable(),
    }).nullable(),
    atm: figure,
    riskReversal25: figure,
    butterfly25: figure,
    riskReversal10: figure,
    butterfly10: figure,
    isArbitrageFree: z.boolean(),
    /** Smile taken over from another underlying, once it is asked for */
    borrowed: borrowedSmilePicture.optional(),
    /** Out of line with the other expiries, and the at-the-money volatility that they imply instead */
    outlier: z.object({ expected: z.number() }).nullable(),
    /** At-the-money volatility without the scheduled events before the expiry; null for an outlier */
    exEvent: figure,
    /** Model-free volatility to this expiry, from its out-of-the-money quotes */
    index: figure,
    /** Model-free volatility of the whole fitted smile, and the share of its variance beyond the quotes; null of a level */
    indexCompleted: z.object({ volatility: z.number(), beyond: z.number() }).nullable(),
    /** Realized over as many days as are left, up to the instant, with the sessions that makes; null without the bars */
    realized: z.object({ volatility: z.number(), sessions: z.number() }).nullable(),
    standing: standing.nullable(),
    strikes: z.array(z.number()),
    call: sideColumns,
    put: sideColumns,
  })
  .meta({ id: 'ExpiryPicture' });
export type ExpiryPicture = z.infer<typeof expiryPicture>;

const scheduledEvent = z
  .object({
    instant: instantText,
    kind: z.string(),
    label: z.string(),
    /** Move of one standard deviation that the term structure implies, with its 95 % interval; null when not identifiable */
    implied: z
      .object({ variance: z.number(), move: z.number(), interval: z.tuple([z.number(), z.number()]) })
      .nullable(),
  })
  .meta({ id: 'ScheduledEvent' });
export type ScheduledEvent = z.infer<typeof scheduledEvent>;

/** The surface at a number of days. */
const maturity = z
  .object({
    days: z.number(),
    atm: z.number(),
    riskReversal25: figure,
    butterfly25: figure,
    /** Of the options whose undiscounted forward delta is 25 hundredths; null of a level */
    callVolatility25: figure,
    putVolatility25: figure,
    forward: z.number(),
    /** The expiries around it, and the share of the variance from the one to the other that has come by then */
    near: expiryDate.nullable(),
    far: expiryDate,
    share: z.number(),
  })
  .meta({ id: 'Maturity' });
export type Maturity = z.infer<typeof maturity>;

/** Everything the views show of one underlying at one instant. */
export const picture = z
  .object({
    underlying: underlyingSummary,
    asOf: instantText,
    /** Whether these are the feed's newest quotes */
    isLive: z.boolean(),
    /** Stored instants before and after */
    previous: instantText.nullable(),
    next: instantText.nullable(),
    /** Last stored instants of the sessions before and after */
    previousSession: instantText.nullable(),
    nextSession: instantText.nullable(),
    first: instantText,
    latest: instantText,
    price: z.number(),
    previousPrice: figure,
    atm30: figure,
    index30: figure,
    /** Of the whole fitted smiles, where no more than 15 % of it lies beyond the quotes */
    index30Completed: figure,
    standing: standing.nullable(),
    history: z.array(z.object({ instant: instantText, atm30: z.number() })),
    /** Shape of the smile at 30 days by rule, with each figure's standing among the year before; null without a smile */
    shape: z
      .object({
        name: z.enum(['downside', 'upside', 'symmetric smile', 'flat']),
        riskReversal25: z.object({ value: z.number(), standing: standing.nullable() }),
        butterfly25: z.object({ value: z.number(), standing: standing.nullable() }),
      })
      .nullable(),
    /** The surface at fixed days, those between the first and the last expiry */
    maturities: z.array(maturity),
    /** The same at 30 days, from the nearest expiry alone where 30 days lie beyond all; null without a smile */
    month: maturity.nullable(),
    /** Whether the price is quoted, or was implied by parity because a file lacked it */
    priceSource: z.enum(['quote', 'parity']),
    /** Prices of the delivery months of a future, nearest first */
    futuresCurve: z.object({ deliveries: z.array(expiryDate), prices: z.array(z.number()) }).nullable(),
    term: z.object({ name: z.enum(['contango', 'backwardation', 'flat', 'humped']), slope: z.number() }).nullable(),
    events: z.array(scheduledEvent),
    /** Variance between two expiries that no scheduled event explains */
    unexplained: z.array(z.object({ expiry: expiryDate, variance: z.number(), excess: z.number() })),
    /** What early exercise and theory rest on beside curve and dividends */
    carry: carryPicture,
    expiries: z.array(expiryPicture),
  })
  .meta({ id: 'Picture' });
export type Picture = z.infer<typeof picture>;
export type Standing = z.infer<typeof standing>;
export type Side = z.infer<typeof optionSide>;
