import { z } from 'zod';

const sviParameters = z.object({
  a: z.number(),
  b: z.number(),
  rho: z.number(),
  m: z.number(),
  sigma: z.number(),
});

const sviRaw = z.object({ model: z.literal('svi-raw'), parameters: sviParameters });
const spline = z.object({
  model: z.literal('spline'),
  parameters: z.object({
    knots: z.array(z.number()),
    totalVariance: z.array(z.number()),
    curvature: z.array(z.number()),
  }),
});
const flat = z.object({ model: z.literal('flat'), parameters: z.object({ volatility: z.number() }) });

/** A smile by the name of its formula and the formula's parameters; see core's SmileDescription. */
export const smileDescription = z.discriminatedUnion('model', [sviRaw, spline, flat]);

/** A smile's description with more fields beside. Not an intersection: of two closed shapes that holds nothing. */
export function smileDescriptionWith<T extends z.core.$ZodShape>(more: T) {
  return z.discriminatedUnion('model', [sviRaw.extend(more), spline.extend(more), flat.extend(more)]);
}
