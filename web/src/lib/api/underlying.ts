import { z } from 'zod';
import { figure, symbolText, zoneText } from './quantity.ts';

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
