import { z } from 'zod';
import { expiryDate, instantText } from './quantity.ts';

const values = z.record(z.string(), z.number().nullable());

/** Everything that the catalogue measures of an underlying at an instant, by the identifiers of its measures. */
export const measuredResponse = z.object({
  symbol: z.string(),
  asOf: instantText,
  level: values.meta({
    id: 'LevelMeasures',
    description: 'Measures of the underlying; null where one is unknown',
  }),
  expiries: z.array(
    z.object({
      expiry: expiryDate,
      days: z.number(),
      values: values.meta({ id: 'ExpiryMeasures', description: 'Measures of the expiry; null where one is unknown' }),
    }),
  ),
});
export type MeasuredResponse = z.infer<typeof measuredResponse>;

/** What is kept of the catalogue, one entry a session. */
export const storedMeasuresResponse = z.object({
  symbol: z.string(),
  asOf: instantText,
  sessions: z.array(
    z.object({
      instant: instantText,
      values: values.meta({
        id: 'StoredMeasures',
        description: 'Measures kept of the instant; null where one is unknown',
      }),
    }),
  ),
});
export type StoredMeasuresResponse = z.infer<typeof storedMeasuresResponse>;
