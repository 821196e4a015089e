import { z } from 'zod';

const leg = z.object({
  /** Milliseconds since 1970 UTC; null for the underlying itself */
  expiry: z.number().int().nullable(),
  side: z.enum(['call', 'put']).nullable(),
  strike: z.number().positive().nullable(),
  /** Contracts bought with one unit of the order, negative when sold */
  ratio: z.number().int(),
});

/** What a user wants done: one unit is every leg in its ratio. */
export const orderRequest = z.object({
  symbol: z.string().min(1),
  legs: z
    .array(leg)
    .min(1)
    .max(8)
    .refine((legs) => legs.every((l) => l.ratio !== 0), 'a leg must have a ratio other than 0'),
  quantity: z.number().int().positive(),
  /** Most paid for one unit, per unit of underlying; negative for the least received. Null takes what is there */
  limit: z.number().nullable(),
});
export type OrderRequest = z.infer<typeof orderRequest>;

const fill = z.object({
  instant: z.number().int(),
  quantity: z.number().int().positive(),
  /** Net, per unit of underlying and order; negative is received */
  price: z.number(),
  legPrices: z.array(z.number()),
  fee: z.number().nonnegative(),
});
export type Fill = z.infer<typeof fill>;

export const order = orderRequest.extend({
  id: z.number().int().positive(),
  placedAt: z.number().int(),
  state: z.enum(['working', 'filled', 'cancelled', 'refused']),
  /** Why it was refused */
  reason: z.enum(['not-quoted', 'expired']).nullable(),
  filled: z.number().int().nonnegative(),
  fills: z.array(fill),
});
export type Order = z.infer<typeof order>;
export type OrderLeg = OrderRequest['legs'][number];
