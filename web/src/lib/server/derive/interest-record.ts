import { normalCdf, normalQuantile } from '@umwelt/core/math';
import { leastWorthLevel, levelRecord, type LevelTrial, settledWorths } from '@umwelt/core/probability';
import { isoInZone } from '@umwelt/market/zone';
import type { InterestRecord } from '../../api/interest-record.ts';
import type { OpenInterestSlice } from '../repositories/open-interest.ts';
import type { StoredLaw } from '../repositories/stored-laws.ts';
import type { SessionBars } from './session-bars.ts';
import { sessionDate } from './session-date.ts';

/** Sessions before an expiry at which its level is taken: a week. */
export const LEAD = 5;
/** Near is within this share of a deviation of the sessions that are left. */
export const REACH = 0.25;

/** An expiry that is over, and the straddle that it had LEAD sessions before. */
export interface PastExpiry {
  date: string;
  /** Index of its session, and of the one it is looked at from */
  end: number;
  start: number;
  law: StoredLaw;
  straddle: StoredLaw['straddles'][number];
}

/** Expiries that are over, at least LEAD sessions apart, so that what one brought is not what another brought. */
export function pastExpiries(laws: readonly StoredLaw[], { sessions }: SessionBars, zone: string): PastExpiry[] {
  const found: PastExpiry[] = [];
  for (const law of laws) {
    const start = sessions.indexOf(sessionDate(law.instant, zone));
    const end = start + LEAD;
    if (start < 0 || end >= sessions.length || (found.at(-1)?.end ?? -1) > start) continue;
    const straddle = law.straddles.find((s) => s.expiry.slice(0, 10) === sessions[end]);
    if (straddle) found.push({ date: sessions[end], end, start, law, straddle });
  }
  return found;
}

/**
 * How often expiries settled near the level at which their open options were worth least, against chance: that of a lognormal
 * price with the deviation that the straddle at the forward paid for then (its price undiscounted, 2 F (2 N(s / 2) - 1)).
 */
export function interestRecord(
  expiries: readonly PastExpiry[],
  slices: readonly OpenInterestSlice[],
  { bars, shares }: SessionBars,
  zone: string,
): Omit<InterestRecord, 'symbol' | 'asOf'> {
  const rows = expiries.flatMap((expiry) => {
    const { law, straddle, date, end, start } = expiry;
    const slice = slices.find(
      (s) => s.expiry.getTime() === Date.parse(straddle.expiry) && s.instant.getTime() === law.instant.getTime(),
    );
    const settled = (bars.close[end] / shares[end]) * shares[start];
    const level = slice && leastWorthLevel(settledWorths(slice))?.price;
    const deviation = 2 * normalQuantile(straddle.straddle / (4 * straddle.forward) + 0.5);
    if (level === undefined || Number.isNaN(settled) || !(deviation > 0)) return [];
    const below = (price: number) =>
      price <= 0 ? 0 : normalCdf(Math.log(price / straddle.forward) / deviation + 0.5 * deviation);
    const trial: LevelTrial = { level, settled, below, reach: REACH * deviation * straddle.forward };
    return [{ trial, date, seen: isoInZone(law.instant.getTime(), zone) }];
  });
  return {
    ...{ sessions: LEAD, reach: REACH },
    ...levelRecord(rows.map((r) => r.trial)),
    expiries: rows.map(({ trial, date, seen }) => ({
      ...{ date, seen, level: trial.level, settled: trial.settled, reach: trial.reach },
      isNear: Math.abs(trial.settled - trial.level) <= trial.reach,
    })),
  };
}
