import { expect, test } from 'vitest';
import type { ForecastRecord, Level } from '../src/lib/api/level.ts';
import { levelReading } from '../src/lib/views/level/level-reading.ts';
import { levelVerdict } from '../src/lib/views/level/level-verdict.ts';

/* High and low say by what: two measures within the underlying's own past, which may disagree. */

/** A made past: implied 20 % on each of 100 sessions, a forecast that lies 0 to 9.9 points below it. */
function made(o: {
  ratio: number;
  ratioPercentile: number;
  now: number;
  forecast: number;
  count?: number;
}): [Level, ForecastRecord] {
  const days = Array.from({ length: o.count ?? 100 }, (_, i) =>
    new Date(Date.UTC(2030, 6, 1) + i * 864e5).toISOString().slice(0, 10),
  );
  const level = {
    ...{ now: o.now, ratioNow: o.ratio, dailyMove: 0.0125, place: null, asOf: '2031-03-14T13:00:00Z', waiting: 0 },
    ratioPlace: { percentile: o.ratioPercentile, count: o.count ?? 100 },
    choice: { implied: 'atm', days: 30, estimator: 'close-to-close', window: 21, over: 252, withoutEvents: 'no' },
    realizedNow: {
      volatility: o.now / o.ratio,
      standardError: 0.01,
      until: null,
      isTodayLeftOut: false,
      eventSessions: 0,
      missing: null,
      overnightShare: null,
    },
    ...{ jumps: null, bands: [], forecasts: [{ model: 'har', days: 30, volatility: o.forecast }] },
    sessions: days.map((session) => ({ session, implied: 0.2 })),
  } as unknown as Level;
  const record = {
    ...{ best: 'implied', horizon: 21, isBestBeyondChance: null },
    records: (['naive', 'implied', 'har'] as const).map((model, i) => ({
      model,
      qlike: [0.05, 0.03, 0.04][i],
      independent: 5,
    })),
    series: days.map((session, i) => ({ session, forecasts: { har: 0.2 - 0.001 * i } })),
  } as unknown as ForecastRecord;
  return [level, record];
}
const said = (given: ReturnType<typeof made>) =>
  levelReading(...given, undefined)
    .map((sentence) => sentence.map((part) => (typeof part === 'string' ? part : part.text)).join(''))
    .join(' ');

test('both measures are named with their share of the past, and 1.15 stands as a reference alone', () => {
  // 8.05 points over the forecast: more than on 81 of 100 sessions.
  const high = made({ ratio: 1.1, ratioPercentile: 0.9, now: 0.2, forecast: 0.1195 });
  expect(levelVerdict(...high)).toEqual({
    byRatio: { side: 'high', percentile: 0.9, count: 100 },
    byForecast: { side: 'high', percentile: 0.81, count: 100, model: 'har' },
  });
  expect(said(high)).toMatch(
    /Among its own past options are high: its ratio to realized exceeds 90 % of 100 sessions, implied less .+ exceeds 81 % of 100 sessions\. Common practice takes a ratio over 1\.15 as high, one under 1 as low; it is 1\.10\./,
  );
});

test('a ratio far over 1.15 is no verdict where it is usual, and measures that disagree are said to', () => {
  expect(said(made({ ratio: 1.4, ratioPercentile: 0.5, now: 0.2, forecast: 0.15 }))).toContain(
    'options are neither high nor low',
  );
  // Dear by the ratio, beside a forecast that puts it too low: under it by more than ever.
  const apart = said(made({ ratio: 1.3, ratioPercentile: 0.95, now: 0.2, forecast: 0.236 }));
  expect(apart).toMatch(
    /Two measures disagree: by its ratio to realized options are high, by implied less .+ options are low/,
  );
  const short = made({ ratio: 1.3, ratioPercentile: 0.95, now: 0.2, forecast: 0.1, count: 40 });
  expect(levelVerdict(...short)).toEqual({ byRatio: undefined, byForecast: undefined });
  expect(said(short)).toContain('takes a past of sixty sessions');
});
