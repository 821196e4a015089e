import { z } from 'zod';
import { expiryDate, instantText, storedSymbol } from './quantity.ts';
import { smileDescription } from './smile.ts';

export const BORROW_KINDS = ['shape', 'total'] as const;

/** Whose smile an underlying borrows, and how: kept, and followed from then on. */
export const smileLink = z
  .strictObject({
    donor: storedSymbol,
    kind: z.enum(BORROW_KINDS),
    /** Added to the volatility, decimal; null: fitted to the borrower's own quotes, expiry by expiry */
    shift: z.number().min(-1).max(1).nullable(),
    /** Strike over forward of the donor for one of the borrower */
    ratio: z.number().min(0.5).max(2).default(1),
  })
  .meta({ id: 'SmileLink' });
export type SmileLink = z.infer<typeof smileLink>;

/** One step from a donor's smile to a borrower's; see core's Borrowing. */
const borrowing = z.object({
  kind: z.enum(BORROW_KINDS),
  atm: z.number(),
  shift: z.number(),
  logRatio: z.number(),
  years: z.number(),
});

/** The smile an expiry borrows: the smile at the end of the chain, and the steps from it, nearest to it first. */
export const borrowedSmilePicture = z
  .object({
    donor: z.string(),
    donorExpiry: expiryDate,
    isOtherDate: z.boolean(),
    base: z.object({ smile: smileDescription, years: z.number() }),
    steps: z.array(borrowing),
  })
  .meta({ id: 'BorrowedSmile' });
export type BorrowedSmilePicture = z.infer<typeof borrowedSmilePicture>;

/** How the link of an underlying stands at an instant. */
export const borrowState = z
  .object({
    link: smileLink,
    /** Underlyings from the nearest donor on */
    chain: z.array(z.string()),
    donorAsOf: instantText.nullable(),
    /** Why nothing is borrowed: the donor is not stored, has no quotes at the instant, or the chain leads back */
    trouble: z.enum(['donor-missing', 'donor-without-quotes', 'cycle']).nullable(),
    /** The donor's quotes are of another instant */
    isStale: z.boolean(),
  })
  .meta({ id: 'BorrowState' });
export type BorrowState = z.infer<typeof borrowState>;

export const borrowResponse = z
  .object({ state: borrowState.nullable(), expiries: z.record(expiryDate, borrowedSmilePicture) })
  .meta({ id: 'Borrow' });
export type BorrowResponse = z.infer<typeof borrowResponse>;
