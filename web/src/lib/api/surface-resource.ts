import { z } from 'zod';
import { borrowedSmilePicture } from './borrow.ts';
import { carryPicture } from './carry.ts';
import { quoteReason } from './market-resource.ts';
import { expiryDate, figure, instantText } from './quantity.ts';
import { smileDescriptionWith } from './smile.ts';
import { underlyingSummary } from './underlying.ts';

/** A discount factor with its standard deviation. */
const factorEstimate = z.object({ discountFactor: z.number(), error: z.number() }).meta({ id: 'FactorEstimate' });

/** What was implied and fitted of an expiry. */
export const expirySurface = z
  .object({
    date: expiryDate,
    expiry: instantText,
    years: z.number(),
    days: z.number(),
    isMonthly: z.boolean(),
    /** What its options are on: a spot, or a futures price */
    model: z.enum(['spot', 'futures']),
    /** Of what its options are on: the spot, or the future of its delivery */
    underlyingPrice: z.number(),
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
    /** The strike that is listed nearest to the forward, and the volatility of its call's mid */
    atMoney: z.object({ strike: z.number(), callVolatility: figure }),
    /** How many of its quotes were kept out, by reason */
    keptOut: z.array(z.object({ reason: quoteReason, count: z.number() })),
  })
  .meta({ id: 'ExpirySurface' });
export type ExpirySurface = z.infer<typeof expirySurface>;

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

/** Places of the shown instant among those that are stored; another that is stored later changes them and nothing else. */
export const shownMoment = z.object({
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
});
export type ShownMoment = z.infer<typeof shownMoment>;

/** What is implied and fitted of an underlying at an instant: enough to make core's VolatilitySurface of it again. */
export const surfaceResource = z
  .object({
    underlying: underlyingSummary,
    asOf: instantText,
    ...shownMoment.shape,
    price: z.number(),
    /** Whether the price is quoted, or was implied by parity because a file lacked it */
    priceSource: z.enum(['quote', 'parity']),
    atm30: figure,
    index30: figure,
    /** Of the whole fitted smiles, where no more than 15 % of it lies beyond the quotes */
    index30Completed: figure,
    /** Shape of the smile at 30 days by rule; null without a smile */
    shape: z
      .object({
        name: z.enum(['downside', 'upside', 'symmetric smile', 'flat']),
        riskReversal25: z.object({ value: z.number() }),
        butterfly25: z.object({ value: z.number() }),
      })
      .nullable(),
    /** The surface at fixed days, those between the first and the last expiry */
    maturities: z.array(maturity),
    /** The surface at 30 days, from the nearest expiry alone where 30 days lie beyond all; null without a smile */
    month: maturity.nullable(),
    /** Prices of the delivery months of a future, nearest first */
    futuresCurve: z.object({ deliveries: z.array(expiryDate), prices: z.array(z.number()) }).nullable(),
    term: z.object({ name: z.enum(['contango', 'backwardation', 'flat', 'humped']), slope: z.number() }).nullable(),
    events: z.array(scheduledEvent),
    /** What events add to total variance between expiries, each at its time; those that could as well add nothing are not among them */
    jumps: z.array(z.object({ years: z.number(), variance: z.number() })),
    /** Variance between two expiries that no scheduled event explains */
    unexplained: z.array(z.object({ expiry: expiryDate, variance: z.number(), excess: z.number() })),
    /** What early exercise and theory rest on beside curve and dividends */
    carry: carryPicture,
    /** Cash that goes ex before the last expiry, as theory takes it: known, or implied by the quotes; by years from the instant */
    dividends: z.array(z.object({ time: z.number(), amount: z.number() })),
    expiries: z.array(expirySurface),
  })
  .meta({ id: 'Surface' });
export type SurfaceResource = z.infer<typeof surfaceResource>;
