import {
  askWindow,
  finishAbove,
  historyPaths,
  learnHistory,
  type OddsWindow,
  pathsAbove,
  quantileLaw,
  type ToldWindow,
} from '@umwelt/core/probability';
import { type DailyBars, forecaster, type GarchFit, REFIT_SESSIONS, realizedVolatility } from '@umwelt/core/volatility';
import { mixSeed, randomSource } from '@umwelt/market/random';
import { sessionsOf, TENOR_DAYS } from '../../market/index.ts';
import type { StoredLaw } from '../repositories/stored-laws.ts';
import { eventSessions } from './event-sessions.ts';
import { forecastHistory } from './forecast-history.ts';
import { QUANTILES } from './measures-of.ts';
import type { SessionBars } from './session-bars.ts';
import { sessionDate } from './session-date.ts';

/** All that windows are made of; nothing is later than the instant. */
export interface OddsWindowsInput {
  zone: string;
  sessionClose: string;
  /** Sessions that have ended by the instant */
  ended: SessionBars;
  laws: StoredLaw[];
  events: { instant: Date }[];
  /** One of the fixed days */
  days: number;
  /** Windows with a scheduled event in them, without, or all */
  eventful: 'all' | 'with' | 'without';
}

/** A window that is over: what was told of it, and whether it kept to that. */
export interface JudgedWindow {
  window: ToldWindow;
  end: string;
  /** By the coverages in their order; null where the smile told nothing */
  inside: boolean[] | null;
  /** Of the expiry nearest to the days: whether the price stayed within it, and how likely the money made that */
  straddle: { isInside: boolean; told: number } | null;
}

/** Middle parts of the law that are judged: the places of their ends among the fixed probabilities. */
export const COVERAGES = [
  { coverage: 0.5, low: 2, high: 3 },
  { coverage: 0.68, low: 1, high: 4 },
  { coverage: 0.9, low: 0, high: 5 },
] as const;
/** An expiry stands for a number of days when it is no farther from it than this share. */
const NEAR = 0.35;
const YEAR = 365;
/** Sessions of realized volatility, at least. */
const LEAST_REALIZED = 21;
/** Paths of the drawn history: a share of a half is known to a point, below what a window decides. */
const PATHS = 2500;
const SEED = 20_310_314;

/** What was told at the end of past sessions against what came, over windows that do not overlap. */
export function oddsWindows(input: OddsWindowsInput): JudgedWindow[] {
  const { zone, ended, days, eventful } = input;
  const { sessions, bars, shares } = ended;
  const horizon = Math.max(1, sessionsOf(days));
  const tenor = TENOR_DAYS.indexOf(days);
  const lawAt = new Map(input.laws.map((law) => [sessionDate(law.instant, zone), law]));
  const moved = new Set(eventSessions(input.events, sessions, input).filter((s) => s !== undefined));
  const volatilityOf = forecastsOf(ended, zone);
  const historyOf = drawnHistory(bars, horizon);
  const closeAt = (i: number) => bars.close[i] / shares[i];

  // Back from the last session that has ended, so that the newest windows are whole; judged forward, as they were lived.
  const starts: number[] = [];
  for (let start = sessions.length - 1 - horizon; start >= 0; start -= horizon) starts.unshift(start);
  return starts.flatMap((start): JudgedWindow[] => {
    const end = start + horizon;
    const law = lawAt.get(sessions[start]);
    const outcome = Math.log(closeAt(end) / closeAt(start));
    if (!law || Number.isNaN(outcome)) return [];
    const hasEvent = sessions.slice(start + 1, end + 1).some((s) => moved.has(s));
    if (eventful !== 'all' && hasEvent !== (eventful === 'with')) return [];
    const realized = realizedAt(ended, start, horizon);
    const history = historyOf(start, carryOf(law, days));
    const window = windowOf(law, { tenor, days, outcome, realized, forecast: volatilityOf(start, horizon), history });
    const moneyness = outcome - carryOf(law, days);
    const quantile = (place: number) => law.quantiles[tenor * QUANTILES.length + place];
    return [
      {
        window: askWindow(window, sessions[start]),
        end: sessions[end],
        inside: window.laws.smile
          ? COVERAGES.map(({ low, high }) => moneyness >= quantile(low) && moneyness <= quantile(high))
          : null,
        straddle: straddleOf(law, { ended, days, tenor, index: start }),
      },
    ];
  });
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
  o: {
    tenor: number;
    days: number;
    outcome: number;
    realized: number;
    forecast: number;
    history: ((logReturn: number) => number) | undefined;
  },
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
      history: o.history,
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

/** Shares of paths drawn from what was known at the end of a session, its GARCH fitted anew every month. */
function drawnHistory(
  bars: DailyBars,
  horizon: number,
): (index: number, growth: number) => ((logReturn: number) => number) | undefined {
  const fits = new Map<number, GarchFit | undefined>();
  const upTo = (index: number): DailyBars => ({
    previousClose: bars.previousClose.subarray(0, index + 1),
    open: bars.open.subarray(0, index + 1),
    high: bars.high.subarray(0, index + 1),
    low: bars.low.subarray(0, index + 1),
    close: bars.close.subarray(0, index + 1),
  });
  return (index, growth) => {
    const learnt = Math.floor(index / REFIT_SESSIONS) * REFIT_SESSIONS;
    if (!fits.has(learnt)) fits.set(learnt, learnHistory(upTo(learnt))?.fit);
    const past = learnHistory(upTo(index), fits.get(learnt));
    if (!past) return undefined;
    const { uniform } = randomSource(mixSeed(SEED, index));
    const paths = historyPaths({ past, sessions: horizon, growth, paths: PATHS, uniform });
    return (x) => 1 - pathsAbove(paths, 1, Math.exp(x)).probability;
  };
}

/** The straddle of the expiry nearest to the days against what its sessions brought, with the coverage that the money implied. */
function straddleOf(
  law: StoredLaw,
  o: { ended: SessionBars; days: number; tenor: number; index: number },
): JudgedWindow['straddle'] {
  const { days, index } = o;
  const { sessions, bars, shares } = o.ended;
  const near = law.straddles
    .filter((s) => Math.abs(s.years * YEAR - days) <= NEAR * days)
    .reduce<StoredLaw['straddles'][number] | undefined>(
      (a, b) => (a && Math.abs(a.years * YEAR - days) <= Math.abs(b.years * YEAR - days) ? a : b),
      undefined,
    );
  const atm = law.atmByTenor[o.tenor];
  if (!near || !(atm > 0)) return null;
  const date = near.expiry.slice(0, 10);
  const end = sessions.findLastIndex((s) => s <= date);
  // Its expiry must have come, and its own session must have a bar.
  if (end <= index || sessions[sessions.length - 1] < date || Number.isNaN(bars.close[end])) return null;
  const settled = (bars.close[end] / shares[end]) * shares[index];
  const plain = { spot: near.forward, timeToExpiry: near.years, volatility: atm, drift: 0 };
  return {
    isInside: Math.abs(settled - near.forward) <= near.straddle,
    told: finishAbove(plain, near.forward - near.straddle) - finishAbove(plain, near.forward + near.straddle),
  };
}
