import { closeReturn, type ForecastHistory, garmanKlassOvernight } from '@umwelt/core/volatility';
import { daysOf } from '../../market/index.ts';
import { atmAt } from './implied-past.ts';
import type { LevelMeasures } from './level-input.ts';
import type { SessionBars } from './session-bars.ts';
import { sessionDate } from './session-date.ts';

/** What forecasts rest on, of sessions that have ended, with what options implied at the end of each. */
export function forecastHistory(
  { sessions, bars }: SessionBars,
  measures: readonly LevelMeasures[],
  zone: string,
): ForecastHistory {
  const at = new Map(measures.map((m) => [sessionDate(m.instant, zone), m]));
  return {
    returns: Float64Array.from(sessions, (_, i) => closeReturn(bars, i)),
    variances: Float64Array.from(sessions, (_, i) => garmanKlassOvernight(bars, i)),
    implied(index, ahead) {
      const known = at.get(sessions[index]);
      return known ? atmAt(known, daysOf(ahead)) : NaN;
    },
  };
}
