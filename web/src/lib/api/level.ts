import { FORECAST_MODELS, REALIZED_ESTIMATORS } from '@umwelt/core/volatility';
import { z } from 'zod';
import { expiryDate, figure, instantText } from './quantity.ts';

/** What is taken for implied volatility: model-free, or at the money, or at a delta, each at fixed days; or one expiry's at the money. */
export const IMPLIED_CHOICES = ['atm', 'index', 'put', 'call', 'expiry'] as const;
export type ImpliedChoice = (typeof IMPLIED_CHOICES)[number];

const yesOrNo = z.enum(['yes', 'no']);

/** What Level compares, as an address says it. */
export const levelChoice = z.object({
  implied: z.enum(IMPLIED_CHOICES).default('atm'),
  /** Of what is at fixed days */
  days: z.coerce.number().int().min(7).max(365).default(30),
  /** Of put or call, undiscounted and absolute */
  delta: z.coerce.number().min(0.05).max(0.5).default(0.25),
  estimator: z.enum(REALIZED_ESTIMATORS).default('yang-zhang'),
  /** Sessions */
  window: z.coerce.number().int().min(2).max(252).default(21),
  /** Sessions of the past that rank and percentile look at */
  over: z.coerce.number().int().min(20).max(504).default(252),
  /** Scheduled events are left out of implied, and their sessions of realized */
  withoutEvents: yesOrNo.default('no'),
});
export type LevelChoice = z.infer<typeof levelChoice>;

export const forecastModel = z.enum(FORECAST_MODELS);

/** Where a value stands among those before it. */
const place = z
  .object({
    rank: figure,
    percentile: z.number(),
    below: z.number(),
    low: z.number(),
    lowSession: z.string(),
    high: z.number(),
    highSession: z.string(),
    count: z.number(),
  })
  .meta({
    id: 'Place',
    description: 'Place of a value within its own past, with the sessions of the lowest and the highest',
  });
export type Place = z.infer<typeof place>;

const session = z.object({
  session: z.iso.date(),
  /** Null of a session without a bar */
  price: figure,
  implied: figure,
  /** Share of the sessions before it with a lower one */
  percentile: figure,
  realized: figure,
  /** What came: realized over the sessions that implied spoke of */
  later: figure,
  optionVolume: figure,
  openInterest: figure,
});
export type LevelSession = z.infer<typeof session>;

const coneHorizon = z.object({
  days: z.number().int(),
  min: z.number(),
  p10: z.number(),
  p25: z.number(),
  p50: z.number(),
  p75: z.number(),
  p90: z.number(),
  max: z.number(),
  windows: z.number().int(),
  independent: z.number().int(),
  spread: z.number(),
});
export type ConeRow = z.infer<typeof coneHorizon>;

const band = z.object({
  from: z.number(),
  to: z.number(),
  sessions: z.number().int(),
  independent: z.number().int(),
  mean: figure,
  median: figure,
  worst: figure,
  positive: figure,
  interval: z.tuple([z.number(), z.number()]).nullable(),
});
export type LevelBand = z.infer<typeof band>;

const levelExpiry = z.object({
  date: expiryDate,
  days: z.number(),
  /** Sessions until then */
  sessions: z.number().int(),
  atm: figure,
  /** Over as many sessions */
  realized: figure,
  /** Volatility expected until then by the model that is shown */
  forecast: figure,
  ratio: figure,
  /** Share of past windows of that length with a lower realized volatility */
  coneShare: figure,
});
export type LevelExpiry = z.infer<typeof levelExpiry>;

const realizedNow = z.object({
  estimator: z.enum(REALIZED_ESTIMATORS),
  window: z.number().int(),
  volatility: figure,
  standardError: figure,
});

export const levelResponse = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    implied: z.object({
      atm30: figure,
      index30: figure,
      index30Completed: figure,
      rank: figure,
      percentile: figure,
      low: figure,
      high: figure,
    }),
    realized: z.array(realizedNow),
    forecasts: z.array(z.object({ model: forecastModel, days: z.number(), volatility: figure })),
    ratio: figure,
    cone: z.array(coneHorizon),
    choice: levelChoice,
    /** Sessions that implied speaks of */
    horizon: z.number().int(),
    /** Of the implied that was chosen */
    now: figure,
    place: place.nullable(),
    realizedNow: z.object({
      volatility: figure,
      standardError: figure,
      /** Last session that has ended */
      until: z.string().nullable(),
      /** The instant's own session has not ended and is left out */
      isTodayLeftOut: z.boolean(),
      /** Sessions left out for their events */
      eventSessions: z.number().int(),
      /** Why there is none */
      missing: z.enum(['no-bars', 'too-few', 'gap']).nullable(),
      overnightShare: figure,
    }),
    ratioNow: figure,
    ratioPlace: place.nullable(),
    premiumPlace: place.nullable(),
    /** Daily move of one standard deviation that implied stands for */
    dailyMove: figure,
    jumps: z
      .object({ share: z.number(), standardError: z.number(), sessions: z.number().int(), volatility: z.number() })
      .nullable(),
    expiries: z.array(levelExpiry),
    bands: z.array(band),
    sessions: z.array(session),
    events: z.array(z.object({ instant: instantText, session: z.string(), kind: z.string(), label: z.string() })),
    /** Stored sessions whose measures are still to be derived */
    waiting: z.number().int(),
  })
  .meta({ id: 'Level' });
export type Level = z.infer<typeof levelResponse>;

const comparison = z
  .object({
    meanDifference: z.number(),
    standardError: z.number(),
    statistic: z.number(),
    probability: z.number(),
    count: z.number().int(),
  })
  .meta({
    id: 'ForecastComparison',
    description: 'Diebold and Mariano against the naive forecast, corrected for short samples',
  });

const record = z.object({
  model: forecastModel,
  count: z.number().int(),
  independent: z.number().int(),
  qlike: figure,
  meanSquaredError: figure,
  bias: figure,
  versusNaive: comparison.nullable(),
  versusNaiveSquared: comparison.nullable(),
});
export type ForecastRecordRow = z.infer<typeof record>;

export const forecastRecordResponse = z
  .object({
    symbol: z.string(),
    asOf: instantText,
    /** Sessions ahead */
    horizon: z.number().int(),
    /** Session of the first and the last forecast that could be judged */
    from: z.string().nullable(),
    to: z.string().nullable(),
    records: z.array(record),
    /** The model that lost least by QLIKE; null of none */
    best: forecastModel.nullable(),
    /** Whether it beat the naive one by more than chance: null where too few cases are independent */
    isBestBeyondChance: z.boolean().nullable(),
    /** What each expected at the end of each session */
    series: z.array(z.object({ session: z.string(), forecasts: z.partialRecord(forecastModel, figure) })),
    fits: z.array(
      z.object({
        model: z.enum(['garch', 'gjr']),
        persistence: z.number(),
        longVolatility: z.number(),
        parameters: z.array(z.object({ name: z.string(), value: z.number(), standardError: figure })),
      }),
    ),
  })
  .meta({ id: 'ForecastRecord' });
export type ForecastRecord = z.infer<typeof forecastRecordResponse>;
