import { z } from 'zod';
import { listText } from '../../api/list-text.ts';
import { recordChoice } from '../../api/odds-record.ts';
import { daysBetween, MOVE_CHOICES, STRIKE_GOALS } from '../../api/range.ts';
import { workingsId } from '../../api/workings-id.ts';

/** How far ahead the fan is drawn: months, or to the last expiry. */
export const FAN_SPANS = ['quarter', 'half', 'year', 'all'] as const;
export type FanSpan = (typeof FAN_SPANS)[number];

/** What stands below the fan. */
export const RANGE_PANELS = ['odds', 'strikes', 'interest', 'frozen', 'record'] as const;

const priceText = z.string().transform(Number).pipe(z.number().positive());

/** What Range's address carries beside the shared context. */
export const rangeParameters = z.object({
  move: z.enum(MOVE_CHOICES).default('straddle').catch('straddle'),
  coverage: z.coerce.number().min(0.05).max(0.99).default(0.68).catch(0.68),
  /** Growth of the expected price beyond the forward, per year */
  drift: z.coerce.number().min(-2).max(2).default(0).catch(0),
  /** Prices whose odds are read: one, or two */
  level: listText(priceText).pipe(z.array(z.number()).max(2)).default([]).catch([]),
  /** Days ahead on which nothing expires, whose expected move is told too */
  between: daysBetween.optional().catch(undefined),
  ahead: z.enum(FAN_SPANS).default('half').catch('half'),
  panel: z.enum(RANGE_PANELS).default('odds').catch('odds'),
  /** Probability that strikes are looked for by */
  chance: z.coerce.number().gt(0).lt(1).default(0.2).catch(0.2),
  goal: z.enum(STRIKE_GOALS).default('itm').catch('itm'),
  /** Days ahead, and windows, of the record */
  over: recordChoice.shape.days.catch(30),
  eventful: recordChoice.shape.eventful.catch('all'),
  pool: recordChoice.shape.pool.catch('own'),
  workings: workingsId,
});
export type RangeParameters = z.infer<typeof rangeParameters>;
