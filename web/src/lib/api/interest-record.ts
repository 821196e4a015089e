import { z } from 'zod';
import { instantText } from './quantity.ts';

export const interestRecordResponse = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    /** Before each expiry at which its level was taken */
    sessions: z.number().int(),
    /** What counts as near, in deviations of those sessions */
    reach: z.number(),
    /** Expiries that do not overlap */
    count: z.number().int(),
    /** Of them, settled near the level */
    near: z.number().int(),
    /** As many as chance alone brings */
    expected: z.number(),
    /** Chance of as many or more where nothing draws the price to the level */
    chance: z.number(),
    expiries: z.array(
      z.object({
        date: z.iso.date(),
        seen: instantText,
        level: z.number(),
        settled: z.number(),
        /** Price */
        reach: z.number(),
        isNear: z.boolean(),
      }),
    ),
  })
  .meta({ id: 'InterestRecord' });
export type InterestRecord = z.infer<typeof interestRecordResponse>;
