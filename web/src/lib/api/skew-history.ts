import { z } from 'zod';
import { expiryDate, figure, instantText } from './quantity.ts';
import { smileDescription } from './smile.ts';

/** The smile of one past session, at the expiry nearest to the tenor. */
export const pastSmile = z.object({
  expiry: expiryDate,
  years: z.number(),
  forward: z.number(),
  smile: smileDescription,
  range: z.tuple([z.number(), z.number()]),
});
export type PastSmile = z.infer<typeof pastSmile>;

const skewSession = z.object({
  instant: instantText,
  price: z.number(),
  atm30: figure,
  riskReversal25: figure,
  butterfly25: figure,
  smile: pastSmile.nullable(),
});
export type SkewSession = z.infer<typeof skewSession>;

/** What took place at an instant of the year. */
const pastEvent = z.object({ instant: instantText, kind: z.string(), label: z.string() });
export type PastEvent = z.infer<typeof pastEvent>;

/** A year of an underlying's skew, one entry a session, the instant itself last. */
export const skewHistoryResponse = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    days: z.number(),
    sessions: z.array(skewSession),
    events: z.array(pastEvent),
  })
  .meta({ id: 'SkewHistory' });
export type SkewHistory = z.infer<typeof skewHistoryResponse>;

/** Days to expiry that the smiles are taken nearest to. */
export const skewTenor = z.object({ days: z.coerce.number().min(1).max(1000).default(30) });
