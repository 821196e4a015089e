import { z } from 'zod';
import { figure, instantText } from './quantity.ts';

/** Sources whose odds are kept, or can be made again of what is kept. */
export const RECORDED_SOURCES = ['smile', 'atm', 'index', 'realized', 'forecast', 'history'] as const;
export type RecordedSource = (typeof RECORDED_SOURCES)[number];
export const RECORD_DAYS = [7, 14, 30, 60, 90] as const;
/** Whose windows are looked at: the underlying's own, those of its sector, or all. */
export const POOLS = ['own', 'sector', 'all'] as const;
export const EVENTFUL = ['all', 'with', 'without'] as const;

export const recordChoice = z.object({
  days: z.coerce
    .number()
    .refine((n): n is (typeof RECORD_DAYS)[number] => (RECORD_DAYS as readonly number[]).includes(n), {
      message: `one of ${RECORD_DAYS.join(', ')}`,
    })
    .default(30),
  eventful: z.enum(EVENTFUL).default('all'),
  pool: z.enum(POOLS).default('own'),
});
export type RecordChoice = z.infer<typeof recordChoice>;

const share = {
  inside: z.number().int(),
  count: z.number().int(),
  /** 95 % interval of the share */
  low: z.number(),
  high: z.number(),
};

const eventOutcome = z
  .object({
    label: z.string(),
    instant: instantText,
    /** End of the session before; null where nothing was kept of it */
    evening: instantText.nullable(),
    /** One standard deviation as it was priced that evening, of the logarithm of the price; and the ends of its 95 % interval */
    move: figure,
    low: figure,
    high: figure,
    /** Logarithm of the return of the event's session */
    came: figure,
  })
  .meta({ id: 'EventOutcome' });
export type EventOutcome = z.infer<typeof eventOutcome>;

export const oddsRecordResponse = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    days: z.number().int(),
    sessions: z.number().int(),
    /** Whose windows these are */
    underlyings: z.array(z.string()),
    /** Those of one underlying do not overlap */
    windows: z.number().int(),
    /** That have no session in common: those of several underlyings over the same sessions are one */
    independent: z.number().int(),
    from: z.iso.date().nullable(),
    to: z.iso.date().nullable(),
    coverages: z.array(z.object({ coverage: z.number(), ...share })),
    straddle: z.object({ told: figure, ...share }),
    sources: z.array(
      z.object({
        source: z.enum(RECORDED_SOURCES),
        windows: z.number().int(),
        brier: figure,
        logScore: figure,
        bins: z.array(z.number().int()).nullable(),
        chance: figure,
      }),
    ),
    /** Of the underlying itself, newest first */
    events: z.array(eventOutcome),
    reliability: z.array(
      z.object({ from: z.number(), to: z.number(), count: z.number().int(), told: figure, came: figure }),
    ),
  })
  .meta({ id: 'OddsRecord' });
export type OddsRecord = z.infer<typeof oddsRecordResponse>;
