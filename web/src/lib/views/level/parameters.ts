import { FORECAST_MODELS } from '@umwelt/core/volatility';
import { z } from 'zod';
import { levelChoice } from '../../api/level.ts';
import { workingsId } from '../../api/workings-id.ts';

/** What is drawn: both volatilities, implied less realized, or one over the other. */
export const LEVEL_SHOWS = ['levels', 'difference', 'ratio'] as const;
export type LevelShow = (typeof LEVEL_SHOWS)[number];
/** Realized as it was known in each session, or what came in the sessions that implied spoke of. */
export const REALIZED_SHOWS = ['trailing', 'later'] as const;
/** Years. */
export const LEVEL_SPANS = [1, 2] as const;
export const LAID_UNDER = ['none', 'volume', 'interest'] as const;
export type LaidUnder = (typeof LAID_UNDER)[number];

const { implied, days, delta, estimator, window, over, withoutEvents } = levelChoice.shape;

/** What Level's address carries beside the shared context. */
export const levelParameters = z.object({
  implied: implied.catch('atm'),
  days: days.catch(30),
  delta: delta.catch(0.25),
  estimator: estimator.catch('yang-zhang'),
  window: window.catch(21),
  over: over.catch(252),
  withoutEvents: withoutEvents.catch('no'),
  show: z.enum(LEVEL_SHOWS).default('levels').catch('levels'),
  realized: z.enum(REALIZED_SHOWS).default('trailing').catch('trailing'),
  span: z.coerce
    .number()
    .refine((n): n is 1 | 2 => n === 1 || n === 2)
    .default(1)
    .catch(1),
  under: z.enum(LAID_UNDER).default('none').catch('none'),
  /** The model whose past forecasts are drawn */
  forecast: z
    .enum(['none', ...FORECAST_MODELS])
    .default('none')
    .catch('none'),
  workings: workingsId,
});
export type LevelParameters = z.infer<typeof levelParameters>;
