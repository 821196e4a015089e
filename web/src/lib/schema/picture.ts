import { z } from 'zod';
import { expiryDate, figure, instantText, optionSide } from './quantity.ts';

const reason = z.enum(['crossed', 'no-bid', 'no-ask', 'stale', 'below-intrinsic', 'too-wide']);
export type QuoteReasonText = z.infer<typeof reason>;

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
    optionTick: figure,
    underlyingTick: figure,
  })
  .meta({ id: 'Underlying' });
export type UnderlyingSummary = z.infer<typeof underlyingSummary>;

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
  verdict: z.array(reason.nullable()),
});

export const sviParameters = z.object({
  a: z.number(),
  b: z.number(),
  rho: z.number(),
  m: z.number(),
  sigma: z.number(),
});

export const smileDescription = z.discriminatedUnion('model', [
  z.object({ model: z.literal('svi-raw'), parameters: sviParameters }),
  z.object({ model: z.literal('flat'), parameters: z.object({ volatility: z.number() }) }),
]);

export const expiryPicture = z
  .object({
    date: expiryDate,
    expiry: instantText,
    years: z.number(),
    days: z.number(),
    isMonthly: z.boolean(),
    forward: z.number(),
    discountFactor: z.number(),
    forwardSource: z.enum(['parity', 'carry']),
    forwardReason: z.enum(['too-few-pairs', 'not-a-line', 'chosen', 'not-settled']).nullable(),
    forwardError: figure,
    carryForward: figure,
    curveRate: figure,
    impliedRate: z.number(),
    impliedYield: z.number(),
    pairsUsed: z.number(),
    pairsLeftOut: z.array(z.number()),
    smile: smileDescription
      .and(z.object({ rmse: z.number(), insideMarket: z.number(), range: z.tuple([z.number(), z.number()]) }))
      .nullable(),
    atm: figure,
    riskReversal25: figure,
    butterfly25: figure,
    riskReversal10: figure,
    butterfly10: figure,
    isArbitrageFree: z.boolean(),
    standing: standing.nullable(),
    strikes: z.array(z.number()),
    call: sideColumns,
    put: sideColumns,
  })
  .meta({ id: 'ExpiryPicture' });
export type ExpiryPicture = z.infer<typeof expiryPicture>;

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
    standing: standing.nullable(),
    history: z.array(z.object({ instant: instantText, atm30: z.number() })),
    term: z.object({ name: z.enum(['contango', 'backwardation', 'flat', 'humped']), slope: z.number() }).nullable(),
    events: z.array(z.object({ instant: instantText, kind: z.string(), label: z.string() })),
    expiries: z.array(expiryPicture),
  })
  .meta({ id: 'Picture' });
export type Picture = z.infer<typeof picture>;
export type Standing = z.infer<typeof standing>;
export type Side = z.infer<typeof optionSide>;
