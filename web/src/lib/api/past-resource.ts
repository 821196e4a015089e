import { z } from 'zod';
import { expiryDate, figure, instantText } from './quantity.ts';

export const standing = z
  .object({
    rank: figure,
    percentile: z.number(),
    below: z.number(),
    low: z.number(),
    high: z.number(),
    count: z.number(),
  })
  .meta({ id: 'Standing', description: 'Place of a value within its own past' });
export type Standing = z.infer<typeof standing>;

/** An expiry against the past. */
export const expiryPast = z
  .object({
    date: expiryDate,
    /**
     * Realized over as many days as are left, up to the instant, with the sessions that makes and the sums of their log returns and
     * of the squares of those; null without the bars
     */
    realized: z
      .object({ volatility: z.number(), sessions: z.number(), sum: z.number(), squares: z.number() })
      .nullable(),
    standing: standing.nullable(),
  })
  .meta({ id: 'ExpiryPast' });
export type ExpiryPast = z.infer<typeof expiryPast>;

/** Where figures of an instant stand among those of the year before it; nothing later is looked at. */
export const pastResource = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    previousPrice: figure,
    /** Of volatility at 30 days */
    standing: standing.nullable(),
    /** Of model-free volatility at 30 days */
    indexStanding: standing.nullable(),
    /** Over the last 30 sessions that have ended (Yang & Zhang 2000); null without their bars */
    realized30: z
      .object({
        volatility: z.number(),
        standardError: z.number(),
        until: z.string(),
        overnight: z.number(),
        openToClose: z.number(),
        rogersSatchell: z.number(),
      })
      .nullable(),
    history: z.array(z.object({ instant: instantText, atm30: z.number() })),
    /** Stored sessions of the year whose measures are still to be derived: all that stands here rests on the others */
    waiting: z.number(),
    /** Of the shape's figures; null without a smile at 30 days */
    shape: z.object({ riskReversal25: standing.nullable(), butterfly25: standing.nullable() }).nullable(),
    expiries: z.array(expiryPast),
  })
  .meta({ id: 'Past' });
export type PastResource = z.infer<typeof pastResource>;
