import {
  binomialInterval,
  finishAbove,
  type OddsWindow,
  quantileLaw,
  reliabilityOf,
  scoreSources,
} from '@umwelt/core/probability';
import { forecaster, REFIT_SESSIONS, realizedVolatility } from '@umwelt/core/volatility';
import { isoInZone } from '@umwelt/market/zone';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { OddsRecord, RecordedSource } from '../../api/odds-record.ts';
import { RECORDED_SOURCES } from '../../api/odds-record.ts';
import { sessionsOf, TENOR_DAYS } from '../../market/index.ts';
import type { StoredLaw } from '../repositories/stored-laws.ts';
import { eventSessions } from './event-sessions.ts';
import { forecastHistory } from './forecast-history.ts';
import { QUANTILES } from './measures-of.ts';
import type { SessionBars } from './session-bars.ts';
import { sessionDate } from './session-date.ts';

/** All that a record is made of; nothing is later than the instant. */
export interface OddsRecordInput {
  symbol: string;
  zone: string;
  sessionClose: string;
  asOf: Date;
  /** Sessions that have ended by the instant */
  ended: SessionBars;
  laws: StoredLaw[];
  events: { instant: Date }[];
  /** One of the fixed days */
  days: number;
  /** Windows with a scheduled event in them, without, or all */
  eventful: 'all' | 'with' | 'without';
}

/** Middle parts of the law that are judged: the places of their ends among the fixed probabilities. */
const COVERAGES = [
  { coverage: 0.5, low: 2, high: 3 },
  { coverage: 0.68, low: 1, high: 4 },
  { coverage: 0.9, low: 0, high: 5 },
] as const;
/** An expiry stands for a number of days when it is no farther from it than this share. */
const NEAR = 0.35;
const YEAR = 365;
/** Sessions of realized volatility, at least. */
const LEAST_REALIZED = 21;

/** What odds were worth: those told at the end of past sessions against what came, over windows that do not overlap. */
export function oddsRecordOf(input: OddsRecordInput): OddsRecord {
  const { symbol, zone, asOf, ended, days, eventful } = input;
  const { sessions, bars, shares } = ended;
  const horizon = Math.max(1, sessionsOf(days));
  const tenor = TENOR_DAYS.indexOf(days);
  const lawAt = new Map(input.laws.map((law) => [sessionDate(law.instant, zone), law]));
  const moved = new Set(eventSessions(input.events, sessions, input).filter((s) => s !== undefined));
  const volatilityOf = forecastsOf(ended, zone);
  const closeAt = (i: number) => bars.close[i] / shares[i];

  // Back from the last session that has ended, so that the newest windows are whole; judged forward, as they were lived.
  const starts: number[] = [];
  for (let start = sessions.length - 1 - horizon; start >= 0; start -= horizon) starts.unshift(start);
  const judged = starts.flatMap((start) => {
    const end = start + horizon;
    const law = lawAt.get(sessions[start]);
    const outcome = Math.log(closeAt(end) / closeAt(start));
    if (!law || Number.isNaN(outcome)) return [];
    const hasEvent = sessions.slice(start + 1, end + 1).some((s) => moved.has(s));
    if (eventful !== 'all' && hasEvent !== (eventful === 'with')) return [];
    const realized = realizedAt(ended, start, horizon);
    const window = windowOf(law, { tenor, days, outcome, realized, forecast: volatilityOf(start, horizon) });
    return [{ window, law, index: start }];
  });
  const windows = judged.map((j) => j.window);
  const spoken = judged.filter(({ window }) => window.laws.smile !== undefined);
  return {
    symbol,
    asOf: isoInZone(asOf.getTime(), zone),
    days,
    sessions: horizon,
    windows: windows.length,
    from: judged.length > 0 ? sessions[judged[0].index] : null,
    to: judged.length > 0 ? sessions[judged[judged.length - 1].index + horizon] : null,
    coverages: COVERAGES.map(({ coverage, low, high }) => {
      const inside = spoken.filter(({ window, law }) => {
        const k = window.outcome - carryOf(law, days);
        return (
          k >= law.quantiles[tenor * QUANTILES.length + low] && k <= law.quantiles[tenor * QUANTILES.length + high]
        );
      }).length;
      return { coverage, ...shareOf(inside, spoken.length) };
    }),
    straddle: straddleRecord(judged, { ended, days, tenor }),
    sources: scoreSources(windows, RECORDED_SOURCES).map(({ source, windows: count, scores }) => ({
      source: source as RecordedSource,
      windows: count,
      brier: scores ? scores.brier : null,
      logScore: scores ? scores.logScore : null,
      bins: scores ? scores.evenness.counts : null,
      chance: scores ? finiteOrNull(scores.evenness.chance) : null,
    })),
    reliability: reliabilityOf(windows, 'smile').map(({ told, came, ...bin }) => ({
      ...bin,
      told: finiteOrNull(told),
      came: finiteOrNull(came),
    })),
  };
}

function shareOf(inside: number, count: number) {
  const [low, high] = binomialInterval(inside, count);
  return { inside, count, low, high };
}

/** Growth of the forward to a number of days, as the expiry nearest to them had it. */
function carryOf({ straddles, underlyingPrice }: StoredLaw, days: number): number {
  if (straddles.length === 0) return 0;
  const years = days / YEAR;
  const near = straddles.reduce((a, b) => (Math.abs(b.years - years) < Math.abs(a.years - years) ? b : a));
  return (Math.log(near.forward / underlyingPrice) / near.years) * years;
}

function windowOf(
  law: StoredLaw,
  o: { tenor: number; days: number; outcome: number; realized: number; forecast: number },
): OddsWindow {
  const { tenor, days, outcome } = o;
  const years = days / YEAR;
  const carry = carryOf(law, days);
  const atm = law.atmByTenor[tenor];
  const smile = quantileLaw(
    law.quantiles.subarray(tenor * QUANTILES.length, (tenor + 1) * QUANTILES.length),
    QUANTILES,
  );
  const plain = (volatility: number | null) =>
    volatility === null || !(volatility > 0)
      ? undefined
      : (x: number) => 1 - finishAbove({ spot: 1, timeToExpiry: years, volatility, drift: carry / years }, Math.exp(x));
  return {
    laws: {
      smile: smile && ((x) => smile(x - carry)),
      atm: plain(atm),
      index: plain(law.index30),
      realized: plain(o.realized),
      forecast: plain(o.forecast),
    },
    outcome,
    scale: (atm > 0 ? atm : (law.index30 ?? NaN)) * Math.sqrt(years),
  };
}

/** Realized over as long as the window, of sessions up to its start. */
function realizedAt({ bars }: SessionBars, start: number, horizon: number): number {
  const window = Math.max(LEAST_REALIZED, horizon);
  return start + 1 < window ? NaN : realizedVolatility(bars, start, { estimator: 'yang-zhang', window }).volatility;
}

/** GARCH's expectation at the end of a session, fitted anew every month on what was known then. */
function forecastsOf(ended: SessionBars, zone: string): (index: number, horizon: number) => number {
  const history = forecastHistory(ended, [], zone);
  const fits = new Map<number, ReturnType<typeof forecaster>>();
  return (index, horizon) => {
    const learnt = Math.floor(index / REFIT_SESSIONS) * REFIT_SESSIONS;
    if (!fits.has(learnt)) fits.set(learnt, forecaster(history, learnt));
    return fits.get(learnt)?.forecast(index, horizon).garch ?? NaN;
  };
}

/** Straddles of the expiry nearest to the days against what its sessions brought, with the coverage that the money implied then. */
function straddleRecord(
  judged: readonly { window: OddsWindow; law: StoredLaw; index: number }[],
  { ended, days, tenor }: { ended: SessionBars; days: number; tenor: number },
): OddsRecord['straddle'] {
  const { sessions, bars, shares } = ended;
  let [inside, count, told] = [0, 0, 0];
  for (const { law, index } of judged) {
    const near = law.straddles
      .filter((s) => Math.abs(s.years * YEAR - days) <= NEAR * days)
      .reduce<StoredLaw['straddles'][number] | undefined>(
        (a, b) => (a && Math.abs(a.years * YEAR - days) <= Math.abs(b.years * YEAR - days) ? a : b),
        undefined,
      );
    const atm = law.atmByTenor[tenor];
    if (!near || !(atm > 0)) continue;
    const date = near.expiry.slice(0, 10);
    const end = sessions.findLastIndex((s) => s <= date);
    // Its expiry must have come, and its own session must have a bar.
    if (end <= index || sessions[sessions.length - 1] < date || Number.isNaN(bars.close[end])) continue;
    const settled = (bars.close[end] / shares[end]) * shares[index];
    count++;
    if (Math.abs(settled - near.forward) <= near.straddle) inside++;
    const law0 = { spot: near.forward, timeToExpiry: near.years, volatility: atm, drift: 0 };
    told += finishAbove(law0, near.forward - near.straddle) - finishAbove(law0, near.forward + near.straddle);
  }
  return { told: count === 0 ? null : told / count, ...shareOf(inside, count) };
}
