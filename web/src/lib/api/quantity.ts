import { isSymbol, SYMBOL_RULE } from '@umwelt/market/symbol';
import { isInRange, isZone, INSTANT_RANGE } from '@umwelt/market/zone';
import { z } from 'zod';

/** ISO 8601 instant with offset, as milliseconds since 1970 UTC. */
export const instantText = z.iso
  .datetime({ offset: true })
  // What is no instant at all has been said already.
  .refine(
    (text) => Number.isNaN(Date.parse(text)) || isInRange(Date.parse(text)),
    `an existing instant of the years ${INSTANT_RANGE}`,
  )
  .meta({ description: 'ISO 8601 instant with offset' });
/** Symbol of an underlying. */
export const symbolText = z.string().refine(isSymbol, SYMBOL_RULE);
/** A symbol as it may be stored from before the rule: what is asked for, not what is taken in. */
export const storedSymbol = z.string().min(1).max(200);
/** Time zone by its IANA name, or a fixed offset. */
export const zoneText = z.string().max(64).refine(isZone, 'an IANA time zone or an offset such as +01:00');
/** Civil date of an expiry, YYYY-MM-DD. */
export const expiryDate = z.iso.date();
export const optionSide = z.enum(['call', 'put']);
export type Side = z.infer<typeof optionSide>;
export const positive = z.number().positive();
/** A measured number, or null where it is not defined. */
export const figure = z.number().nullable();
