import { REALIZED_ESTIMATORS } from '@umwelt/core/volatility';
import { z } from 'zod';
import { figure, positive } from './quantity.ts';

/** A hundred years of sessions leave room. */
const MOST_BARS = 30_000;

const bar = z
  .strictObject({ open: positive, high: positive, low: positive, close: positive })
  .refine((b) => b.high >= Math.max(b.open, b.close, b.low), {
    path: ['high'],
    message: 'must not lie below another price of the bar',
  })
  .refine((b) => b.low <= Math.min(b.open, b.close), {
    path: ['low'],
    message: 'must not lie above another price of the bar',
  })
  .nullable();

export const realizedVolatilityRequest = z.strictObject({
  bars: z.array(bar).max(MOST_BARS),
  estimator: z.enum(REALIZED_ESTIMATORS),
  window: z.number().int().min(2).max(MOST_BARS),
});

export const realizedVolatilityResponse = z
  .object({ series: z.array(figure) })
  .meta({ id: 'RealizedVolatilitySeries' });
