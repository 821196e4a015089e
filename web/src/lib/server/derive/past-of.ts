import { smileShapeName, type Surface } from '@umwelt/core/surface';
import {
  closeReturn,
  realizedVolatility,
  type Standing as CoreStanding,
  standing,
  yangZhangParts,
} from '@umwelt/core/volatility';
import { isoInZone } from '@umwelt/market/zone';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { ExpiryPast, PastResource, Standing } from '../../api/past-resource.ts';
import { sessionsOf, TENOR_DAYS } from '../../market/index.ts';
import type { SessionMeasures } from '../repositories/measures.ts';
import type { ResourceInput } from './resource-input.ts';
import { sessionDate } from './session-date.ts';
import type { SessionBars } from './session-bars.ts';
import { standingAmong } from './standing-among.ts';

/** Fewer sessions do not make a volatility. */
const LEAST_SESSIONS = 5;

/** Where the figures of an instant stand among those of the year before it. @param surface of the same rows */
export function pastOf(
  surface: Surface,
  { stored, rows, past, pastStored, ended, previousPrice }: ResourceInput,
): PastResource {
  const { symbol, zone } = stored;
  const iso = (at: Date): string => isoInZone(at.getTime(), zone);
  const derived = new Set(past.map((m) => sessionDate(m.instant, zone)));
  const standingAt = standingAmong(past);
  const realizedOver = realizedBy(ended);
  return {
    symbol,
    asOf: iso(rows[0].instant),
    previousPrice: previousPrice ?? null,
    standing: standingRecord(standingAt(surface.atm30, 30)),
    indexStanding: standingRecord(
      standing(
        surface.index30 ?? NaN,
        past.map((m) => m.index30 ?? NaN),
      ),
    ),
    realized30: realizedMonth(ended),
    history: past
      .map((m) => ({ instant: iso(m.instant), atm30: m.atmByTenor[TENOR_DAYS.indexOf(30)] }))
      .filter((h) => Number.isFinite(h.atm30)),
    waiting: pastStored.filter((date) => !derived.has(date)).length,
    shape: shapeStanding(surface, past),
    expiries: surface.expiries.map((e, i) => {
      const days = e.slice.timeToExpiry * 365;
      return {
        date: sessionDate(rows[i].expiry, zone),
        realized: realizedOver(days),
        standing: e.measures ? standingRecord(standingAt(e.measures.atm, days)) : null,
      };
    }),
  };
}

/** Standing of the figures of the shape at 30 days; null without a smile. */
function shapeStanding(surface: Surface, past: SessionMeasures[]): PastResource['shape'] {
  const month = surface.volatility?.constantMaturity(30 / 365);
  if (!month || !smileShapeName(month)) return null;
  const among = (figure: 'riskReversal25' | 'butterfly25') =>
    standingRecord(
      standing(
        month[figure],
        past.map((m) => m[figure] ?? NaN),
      ),
    );
  return { riskReversal25: among('riskReversal25'), butterfly25: among('butterfly25') };
}

/** Sessions over which implied is compared in one figure. */
const MONTH_SESSIONS = 30;

function realizedMonth({ sessions, bars }: SessionBars): PastResource['realized30'] {
  const end = sessions.length - 1;
  const found = realizedVolatility(bars, end, { estimator: 'yang-zhang', window: MONTH_SESSIONS });
  if (!Number.isFinite(found.volatility)) return null;
  return { ...found, ...yangZhangParts(bars, end, MONTH_SESSIONS), until: sessions[end] };
}

/** Realized volatility over as many ended sessions as a number of days holds. */
function realizedBy({ sessions: dates, bars }: SessionBars) {
  return (days: number): ExpiryPast['realized'] => {
    const sessions = sessionsOf(days);
    if (sessions < LEAST_SESSIONS) return null;
    const end = dates.length - 1;
    const { volatility } = realizedVolatility(bars, end, { estimator: 'close-to-close', window: sessions });
    if (!Number.isFinite(volatility)) return null;
    let [sum, squares] = [0, 0];
    for (let i = end - sessions + 1; i <= end; i++) {
      const change = closeReturn(bars, i);
      sum += change;
      squares += change * change;
    }
    return { volatility, sessions, sum, squares };
  };
}

function standingRecord(s: CoreStanding | undefined): Standing | null {
  return s ? { ...s, rank: finiteOrNull(s.rank) } : null;
}
