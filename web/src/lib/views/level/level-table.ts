import type { ForecastModel } from '@umwelt/core/volatility';
import type { ForecastRecord, LevelSession } from '../../api/level.ts';
import type { ShownTable } from '../../ui/shown-table.ts';

/** What is drawn through time, in numbers. */
export function levelTable(
  sessions: readonly LevelSession[],
  forecast: { model: ForecastModel; record: ForecastRecord } | undefined,
): ShownTable {
  const expected = new Map(forecast?.record.series.map((s) => [s.session, s.forecasts[forecast.model] ?? null]) ?? []);
  return {
    header: [
      ...['session', 'price', 'implied', 'percentile', 'realized', 'later realized', 'option volume', 'open interest'],
      ...(forecast ? [`forecast ${forecast.model}`] : []),
    ],
    rows: sessions.map((s) => [
      ...[s.session, s.price, s.implied, s.percentile, s.realized, s.later, s.optionVolume, s.openInterest],
      ...(forecast ? [expected.get(s.session) ?? null] : []),
    ]),
  };
}
