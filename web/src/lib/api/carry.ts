import { z } from 'zod';
import { expiryDate, instantText } from './quantity.ts';

/** What early exercise rests on: what is known, unless the quotes contradict it; what is known, whatever they say; what is typed. */
export const CARRY_CHOICES = ['inferred', 'known', 'typed'] as const;
/** Rate per year by which financing may lie beside a curve, or the rate without one; decimal. */
export const financingRate = z.number().min(-0.5).max(0.5);
/** Cost to borrow, or yield, per year beside the known one; decimal. */
export const borrowRate = z.number().min(-0.5).max(2);

const estimated = z.object({ value: z.number(), error: z.number() }).meta({ id: 'Estimated' });

/** What American quotes on a spot imply together where what is known does not explain them. */
export const inferredCarry = z
  .object({
    /** Whether financing is over a curve, or the rate itself */
    hasCurve: z.boolean(),
    /** Per year */
    financing: estimated,
    borrow: estimated,
    /** Financing less borrow, which few days tell better than either */
    drift: estimated,
    /** Whether the quotes tell financing and borrow apart */
    areToldApart: z.boolean(),
    dividends: z.array(
      z.object({
        amount: estimated,
        instant: instantText,
        /** Standard deviation of the instant */
        days: z.number(),
        /** The expiries between which it lies; null before the first */
        from: expiryDate.nullable(),
        to: expiryDate,
      }),
    ),
  })
  .meta({ id: 'InferredCarry' });
export type InferredCarry = z.infer<typeof inferredCarry>;

/** Carry that a user has taken over as known, from an instant on. */
export const carryTerms = z
  .strictObject({
    from: instantText,
    financing: financingRate,
    borrow: borrowRate,
    dividends: z.array(z.strictObject({ instant: instantText, amount: z.number().gt(0).max(1e9) })).max(40),
  })
  .meta({ id: 'CarryTerms' });
export type CarryTerms = z.infer<typeof carryTerms>;

/** What stands behind early exercise and theory of an underlying at an instant. */
export const carryPicture = z
  .object({
    source: z.enum([...CARRY_CHOICES, 'taken']),
    inferred: inferredCarry.nullable(),
    taken: carryTerms.nullable(),
  })
  .meta({ id: 'Carry' });
export type CarryPicture = z.infer<typeof carryPicture>;

/** A line of the carry of a chain: an expiry's forward with what it rests on. */
export const carryRow = z
  .object({
    expiry: expiryDate,
    days: z.number(),
    source: carryPicture.shape.source,
    forward: z.number(),
    forwardError: z.number().nullable(),
    rate: z.number(),
    rateError: z.number().nullable(),
    /** Yield or cost to borrow beside cash dividends; null of a future */
    borrow: z.number().nullable(),
    /** Paid before the expiry */
    dividends: z.number(),
  })
  .meta({ id: 'CarryRow' });
export type CarryRow = z.infer<typeof carryRow>;

export const carryResponse = carryPicture
  .extend({ symbol: z.string(), asOf: instantText, expiries: z.array(carryRow) })
  .meta({ id: 'CarryResponse' });
