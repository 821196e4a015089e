import { z } from 'zod';

const range = { symbol: z.string(), from: z.number().int(), to: z.number().int() };

/** What a job is asked to do. Ranges are days since 1970 in the exchange's zone, instants ISO 8601. */
export const jobPayload = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('demo-chains'), ...range }),
  z.object({ kind: z.literal('demo-measures'), ...range }),
  z.object({
    kind: z.literal('derive-measures'),
    underlyingId: z.number().int(),
    from: z.iso.datetime(),
    to: z.iso.datetime(),
  }),
]);
export type JobPayload = z.infer<typeof jobPayload>;
