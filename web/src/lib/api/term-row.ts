import { z } from 'zod';
import { expiryDate, figure } from './quantity.ts';

/** One expiry of the term structure; volatilities per year as decimals. */
export const termRow = z
  .object({
    expiry: expiryDate,
    days: z.number(),
    isMonthly: z.boolean(),
    forward: z.number(),
    atm: figure,
    riskReversal25: figure,
    butterfly25: figure,
    /** Between the listed expiry before (or the instant) and this one; null where variance falls, or the two are on different deliveries of a future */
    forwardVolatility: figure,
    percentile: figure,
    rank: figure,
  })
  .meta({ id: 'TermRow' });
export type TermRow = z.infer<typeof termRow>;
