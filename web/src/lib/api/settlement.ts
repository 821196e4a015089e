import { z } from 'zod';
import { pictureQuery } from './as-of-context.ts';
import { listText } from './list-text.ts';
import { expiryDate, figure, instantText } from './quantity.ts';

/** Price that options which ended on a date were settled at. */
export const settlement = z
  .object({
    expiry: expiryDate,
    /** Null while none of that session is stored */
    price: figure,
    source: z.enum(['daily bar', 'futures curve']).nullable(),
  })
  .meta({ id: 'Settlement' });
export type Settlement = z.infer<typeof settlement>;

/** Most expiries that are asked for at once. */
const MOST_EXPIRIES = 24;
export const settlementsQuery = pictureQuery.extend({
  ended: listText(expiryDate)
    .refine((dates) => dates.length <= MOST_EXPIRIES, `at most ${MOST_EXPIRIES} expiries`)
    .default([]),
});
export const settlementsResponse = z.object({
  symbol: z.string(),
  asOf: instantText,
  settlements: z.array(settlement),
});
