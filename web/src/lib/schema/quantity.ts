import { z } from 'zod';

/** ISO 8601 instant with offset, as milliseconds since 1970 UTC. */
export const instantText = z.iso.datetime({ offset: true }).meta({ description: 'ISO 8601 instant with offset' });
/** Symbol of an underlying. */
export const symbolText = z
  .string()
  .min(1)
  .max(24)
  .regex(/^[A-Z0-9._-]+$/, 'capital letters, digits, dot, dash or underscore');
/** Civil date of an expiry, YYYY-MM-DD. */
export const expiryDate = z.iso.date();
export const optionSide = z.enum(['call', 'put']);
export const positive = z.number().positive();
/** A measured number, or null where it is not defined. */
export const figure = z.number().nullable();
