import {
  FORECAST_MODELS,
  forecaster,
  jumpShare,
  type PremiumReading,
  premiumByBand,
  type RealizedEstimator,
  realizedSeries,
  realizedVolatility,
  SESSIONS_PER_YEAR,
  standing,
  volatilityCone,
} from '@umwelt/core/volatility';
import { isoInZone } from '@umwelt/market/zone';
import { randomSource } from '@umwelt/market/random';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { Level, LevelExpiry, LevelSession, Place } from '../../api/level.ts';
import { sessionsOf } from '../../market/index.ts';
import { eventSessions } from './event-sessions.ts';
import { forecastHistory } from './forecast-history.ts';
import { impliedBy, impliedDays } from './implied-past.ts';
import type { LevelInput } from './level-input.ts';
import {
  byDate,
  lastKnownFor,
  laterRealized,
  lengthEstimator,
  overnightShare,
  shownRealized,
  without,
} from './realized-sessions.ts';
import type { SessionBars } from './session-bars.ts';
import { sessionDate } from './session-date.ts';

/** Lengths of the cone, sessions. */
const CONE_SESSIONS = [5, 10, 15, 21, 31, 42, 63, 84, 126, 189, 252];
/** Fewer sessions before it give a past session no percentile. */
const LEAST_FOR_PERCENTILE = 63;
/** Sessions that a past session's percentile looks at. */
const PERCENTILE_SESSIONS = 252;
/** Fewer sessions say nothing about a volatility. */
const LEAST_SESSIONS = 5;
/** Sessions whose bars within tell jumps from what moves all the time. */
const JUMP_SESSIONS = 5;
const SEED = 20_310_314;
/** Realized that implied is compared with in one figure: sessions, and the ratio's estimator. */
const RATIO = { estimator: 'yang-zhang', window: 30 } as const;

/** Implied volatility against its past and against what the underlying did: pure computation. */
export function levelOf(input: LevelInput): Level {
  const { symbol, zone, asOf, ended, isOver, past, now, choice, expiries } = input;
  const { estimator, window } = choice;
  const iso = (at: Date) => isoInZone(at.getTime(), zone);
  const today = sessionDate(asOf, zone);
  const focus = choice.implied === 'expiry' ? expiries[0] : undefined;
  const horizon = Math.max(1, sessionsOf(impliedDays(choice, focus?.days)));
  const impliedOf = impliedBy(choice, { zone, expiry: focus?.date });

  const dates = [...new Set([...ended.sessions, ...past.map((m) => sessionDate(m.instant, zone)), today])].sort();
  const moved = eventSessions(input.events, dates, input);
  const left = new Set(choice.withoutEvents === 'yes' ? moved : []);
  const kept = without(ended, left);
  const estimate = { estimator, window };
  const realizedAt = byDate(kept, realizedSeries(kept.bars, estimate));
  const laterAt = laterRealized(kept, horizon, lengthEstimator(estimator));

  const measuresAt = new Map([...past, now].map((m) => [sessionDate(m.instant, zone), m]));
  const priceAt = new Map(ended.sessions.map((s, i) => [s, adjustedClose(ended, i)]));
  const implied = dates.map((date) => {
    const m = measuresAt.get(date);
    return m ? impliedOf(m) : NaN;
  });
  const percentiles = implied.map((_, i) => percentileOf(implied, i));
  const realized = dates.map(
    (date, i) => realizedAt.get(date) ?? lastKnownFor(date, i, { dates, realizedAt, left, today }),
  );
  const later = dates.map((date) => laterAt.get(date) ?? NaN);
  const last = dates.length - 1;
  const nowImplied = implied[last];
  const places = (values: number[]) => placeOf(values, dates, choice.over);
  const end = realizedVolatility(kept.bars, kept.sessions.length - 1, estimate);
  const ratios = implied.map((v, i) => v / realized[i]);
  const premiums = implied.map((v, i) => v - realized[i]);

  const atm30 = impliedBy({ ...choice, implied: 'atm', days: 30, withoutEvents: 'no' }, { zone, expiry: undefined });
  const atm30Place = placeOf(
    dates.map((date) => valueOr(measuresAt.get(date), atm30)),
    dates,
    PERCENTILE_SESSIONS,
  );
  const comparison = realizedVolatility(ended.bars, ended.sessions.length - 1, RATIO).volatility;
  const cone = volatilityCone(kept.bars, { estimator: lengthEstimator(estimator), horizons: CONE_SESSIONS });
  const history = forecastHistory(ended, [...past, now], zone);
  const learnt = ended.sessions.length > 0 ? forecaster(history, ended.sessions.length - 1) : undefined;
  const horizons = [...new Set([horizon, ...expiries.map((e) => Math.max(1, sessionsOf(e.days)))])];
  const forecastAt = new Map(horizons.map((h) => [h, learnt?.forecast(ended.sessions.length - 1, h)]));

  return {
    symbol,
    asOf: iso(asOf),
    implied: {
      atm30: finiteOrNull(atm30(now)),
      index30: now.index30,
      index30Completed: input.index30Completed,
      rank: atm30Place?.rank ?? null,
      percentile: atm30Place?.percentile ?? null,
      low: atm30Place?.low ?? null,
      high: atm30Place?.high ?? null,
    },
    realized: shownRealized(kept.bars, estimate),
    forecasts: horizons.flatMap((h) =>
      FORECAST_MODELS.map((model) => ({
        model,
        days: daysOfSessions(h, expiries, horizon, choice, focus?.days),
        volatility: finiteOrNull(forecastAt.get(h)?.[model]),
      })),
    ),
    ratio: finiteOrNull(atm30(now) / comparison),
    cone: cone.map(({ sessions, ...rest }) => ({ days: sessions, ...rest })),
    choice,
    horizon,
    now: finiteOrNull(nowImplied),
    place: places(implied),
    realizedNow: {
      volatility: finiteOrNull(end.volatility),
      standardError: finiteOrNull(end.standardError),
      until: ended.sessions[ended.sessions.length - 1] ?? null,
      isTodayLeftOut: !isOver,
      eventSessions: ended.sessions.length - kept.sessions.length,
      missing: missingOf(kept, end.volatility, window),
      overnightShare: finiteOrNull(overnightShare(kept.bars, window)),
    },
    ratioNow: finiteOrNull(ratios[last]),
    ratioPlace: places(ratios),
    premiumPlace: places(premiums),
    dailyMove: finiteOrNull(nowImplied / Math.sqrt(SESSIONS_PER_YEAR)),
    jumps: jumpsOf(input),
    expiries: expiries.map((e) => expiryLevel(e, { kept, estimator, forecast: forecastAt })),
    bands: premiumByBand(readings({ implied, later, percentiles }), {
      horizon,
      uniform: randomSource(SEED).uniform,
    }).map(({ mean, median, worst, positive, interval, ...counts }) => ({
      ...counts,
      mean: finiteOrNull(mean),
      median: finiteOrNull(median),
      worst: finiteOrNull(worst),
      positive: finiteOrNull(positive),
      interval: interval ?? null,
    })),
    sessions: dates.map((date, i): LevelSession => ({
      session: date,
      price: finiteOrNull(i === last ? now.underlyingPrice : priceAt.get(date)),
      implied: finiteOrNull(implied[i]),
      percentile: finiteOrNull(percentiles[i]),
      realized: finiteOrNull(realized[i]),
      later: finiteOrNull(later[i]),
      optionVolume: measuresAt.get(date)?.optionVolume ?? null,
      openInterest: measuresAt.get(date)?.openInterest ?? null,
    })),
    events: input.events.flatMap(({ instant, kind, label }, i) =>
      moved[i] === undefined ? [] : [{ instant: iso(instant), session: moved[i], kind, label }],
    ),
    waiting: input.waiting,
  };
}

/** Close in shares of the last session: splits taken out, dividends left in. */
function adjustedClose({ bars, shares }: SessionBars, index: number): number {
  return bars.close[index] / shares[index];
}

function percentileOf(values: readonly number[], index: number): number {
  const before = values.slice(Math.max(0, index - PERCENTILE_SESSIONS), index).filter((v) => !Number.isNaN(v));
  if (before.length < LEAST_FOR_PERCENTILE) return NaN;
  return standing(values[index], before)?.percentile ?? NaN;
}

/** Place of the last value among the sessions before it. */
function placeOf(values: readonly number[], dates: readonly string[], over: number): Place | null {
  const last = values.length - 1;
  const from = Math.max(0, last - over);
  const found = standing(values[last], values.slice(from, last));
  if (!found) return null;
  const sessionOf = (value: number) => dates[values.findLastIndex((v, i) => i >= from && v === value)];
  return {
    ...found,
    rank: finiteOrNull(found.rank),
    lowSession: sessionOf(found.low),
    highSession: sessionOf(found.high),
  };
}

function valueOr<T>(of: T | undefined, read: (of: T) => number): number {
  return of === undefined ? NaN : read(of);
}

/** Days of a number of sessions, as the expiry has them that it is of. */
function daysOfSessions(
  sessions: number,
  expiries: LevelInput['expiries'],
  horizon: number,
  choice: LevelInput['choice'],
  focusDays: number | undefined,
): number {
  const own = expiries.find((e) => Math.max(1, sessionsOf(e.days)) === sessions);
  return sessions === horizon || !own ? impliedDays(choice, focusDays) : own.days;
}

function missingOf({ sessions }: SessionBars, volatility: number, window: number): Level['realizedNow']['missing'] {
  if (!Number.isNaN(volatility)) return null;
  if (sessions.length === 0) return 'no-bars';
  return sessions.length <= window ? 'too-few' : 'gap';
}

/** Jumps in the last sessions whose bars within are stored, those that have ended. */
function jumpsOf({ intraday, zone, ended }: LevelInput): Level['jumps'] {
  const bySession = new Map<string, number[]>();
  let before: { date: string; close: number } | undefined;
  for (const { instant, open, close } of intraday) {
    const date = sessionDate(instant, zone);
    const from = before?.date === date ? before.close : open;
    bySession.set(date, [...(bySession.get(date) ?? []), Math.log(close / from)]);
    before = { date, close };
  }
  const whole = ended.sessions.slice(-JUMP_SESSIONS).flatMap((s) => (bySession.has(s) ? [bySession.get(s) ?? []] : []));
  const found = jumpShare(whole);
  if (!found) return null;
  return {
    share: found.share,
    standardError: found.standardError,
    sessions: whole.length,
    volatility: Math.sqrt((found.realizedVariance / whole.length) * SESSIONS_PER_YEAR),
  };
}

function expiryLevel(
  { date, days, atm }: LevelInput['expiries'][number],
  o: { kept: SessionBars; estimator: RealizedEstimator; forecast: Map<number, Record<string, number> | undefined> },
): LevelExpiry {
  const sessions = Math.max(1, sessionsOf(days));
  const { bars } = o.kept;
  const estimator = lengthEstimator(o.estimator);
  const over =
    sessions < LEAST_SESSIONS
      ? NaN
      : realizedVolatility(bars, bars.close.length - 1, { estimator, window: sessions }).volatility;
  const windows = sessions < LEAST_SESSIONS ? [] : realizedSeries(bars, { estimator, window: sessions });
  const known = [...windows].filter((v) => !Number.isNaN(v));
  const isKnown = atm !== null && known.length >= 8 * sessions;
  return {
    date,
    days,
    sessions,
    atm,
    realized: finiteOrNull(over),
    forecast: finiteOrNull(o.forecast.get(sessions)?.har),
    ratio: atm === null ? null : finiteOrNull(atm / over),
    coneShare: isKnown ? known.filter((v) => v < atm).length / known.length : null,
  };
}

function readings(o: { implied: number[]; later: number[]; percentiles: number[] }): PremiumReading[] {
  return o.implied.map((implied, i) => ({ implied, later: o.later[i], percentile: o.percentiles[i] }));
}
