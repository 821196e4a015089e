import { z } from 'zod';
import { figure, optionSide, positive } from './quantity.ts';
import { smileDescriptionWith } from './smile.ts';

const quotes = z.array(figure).max(2000);

const fitSliceRequest = z
  .strictObject({
    years: positive,
    strikes: z.array(positive).min(1).max(2000),
    callBid: quotes,
    callAsk: quotes,
    putBid: quotes,
    putAsk: quotes,
  })
  .superRefine((slice, context) => {
    for (const column of ['callBid', 'callAsk', 'putBid', 'putAsk'] as const) {
      if (slice[column].length === slice.strikes.length) continue;
      context.addIssue({
        code: 'custom',
        path: [column],
        message: `one value per strike is needed (${slice.strikes.length}), got ${slice[column].length}`,
      });
    }
    slice.strikes.forEach((strike, i) => {
      if (i === 0 || strike > slice.strikes[i - 1]) return;
      context.addIssue({ code: 'custom', path: ['strikes', i], message: 'strikes must ascend' });
    });
  });

export const surfaceFitRequest = z
  .strictObject({ underlying: positive, rate: z.number().optional(), slices: z.array(fitSliceRequest).min(1).max(200) })
  .superRefine((body, context) => {
    body.slices.forEach((slice, i) => {
      if (i === 0 || slice.years > body.slices[i - 1].years) return;
      context.addIssue({ code: 'custom', path: ['slices', i, 'years'], message: 'slices must ascend in years' });
    });
  })
  .meta({ id: 'SurfaceFitRequest' });
export type SurfaceFitRequest = z.infer<typeof surfaceFitRequest>;

export const surfaceFitResponse = z
  .object({
    slices: z.array(
      z.object({
        forward: z.number(),
        discountFactor: z.number(),
        smile: smileDescriptionWith({ rmse: z.number(), insideMarket: z.number() }).nullable(),
        atm: figure,
        riskReversal25: figure,
        butterfly25: figure,
        rejected: z.array(
          z.object({
            strike: z.number(),
            side: optionSide,
            reason: z.enum(['crossed', 'no-bid', 'no-ask', 'stale', 'below-intrinsic', 'too-wide']),
          }),
        ),
        arbitrageFree: z.boolean(),
      }),
    ),
    index30: figure,
    /** Of the whole fitted smiles; null where more than 15 % of it lies beyond the quotes */
    index30Completed: figure,
  })
  .meta({ id: 'SurfaceFitResponse' });
export type SurfaceFitResponse = z.infer<typeof surfaceFitResponse>;
