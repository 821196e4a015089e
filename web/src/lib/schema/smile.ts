import { z } from 'zod';

const sviParameters = z.object({
  a: z.number(),
  b: z.number(),
  rho: z.number(),
  m: z.number(),
  sigma: z.number(),
});

/** A smile by the name of its formula and the formula's parameters; see core's SmileDescription. */
export const smileDescription = z.discriminatedUnion('model', [
  z.object({ model: z.literal('svi-raw'), parameters: sviParameters }),
  z.object({
    model: z.literal('spline'),
    parameters: z.object({
      knots: z.array(z.number()),
      totalVariance: z.array(z.number()),
      curvature: z.array(z.number()),
    }),
  }),
  z.object({ model: z.literal('flat'), parameters: z.object({ volatility: z.number() }) }),
]);
