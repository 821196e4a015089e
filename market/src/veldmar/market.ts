import { instantAt, dayNumber, dayOf, CLOSE_MINUTE, OPEN_MINUTE } from './civil-day.ts';
import { listedExpiries } from './expiries.ts';
import type { ListedSpread, TradePrint } from '../quote-source/index.ts';
import { type FuturesCurve, futuresCurve } from './futures-curve.ts';
import {
  GRID_MINUTES,
  MarketHistory,
  type SimulatedBar,
  type SimulatedIntradayBar,
  type UnderlyingState,
} from './market-history.ts';
import { quoteSlice, roundTo, type SimulatedSlice } from './quote-slice.ts';
import { listedSpreads } from './listed-spreads.ts';
import { tradesBetween } from './trade-tape.ts';
import { sessionInstant, sessionsUpTo, TODAY_DAY } from './sessions.ts';
import { listedIndex, UNIVERSE } from './universe.ts';

/** The one seed that the demo comes from. */
export const DEMO_SEED = 20310314;
/** Raise when the simulator makes other data from the same seed: a stored demo of another version is made anew. */
export const SIMULATOR_VERSION = 6;

/** Sessions whose closing chains are kept: a year for flagships, five weeks for the rest. */
export const KEPT_SESSIONS = { flagship: 252, other: 25 } as const;
/** Underlyings with chains every 15 minutes, and the days besides the last five sessions: a readout, a rate decision. */
export const INTRADAY_SYMBOLS = ['VM50', 'MERRO', 'TYNDA', 'RYE'] as const;
export const INTRADAY_EVENT_DAYS = [dayNumber(2031, 1, 16), dayNumber(2031, 2, 28)] as const;
const INTRADAY_SESSIONS = 5;

/** The demo market as one can ask for it piece by piece; the same seed gives the same data, in any order of asking. */
export class VeldmarMarket {
  readonly history: MarketHistory;
  readonly seed: number;

  constructor(seed: number) {
    this.seed = seed;
    this.history = new MarketHistory(seed);
  }

  bars(symbol: string): SimulatedBar[] {
    return this.history.bars(listedIndex(symbol));
  }

  /** Bars of each quarter of an hour of the days whose chains are kept at each. */
  intradayBars(symbol: string): SimulatedIntradayBar[] {
    return intradayDays(symbol).flatMap((day) => this.history.intradayBars(listedIndex(symbol), day));
  }

  stateAt(symbol: string, instant: number): UnderlyingState {
    return this.history.stateAt(listedIndex(symbol), instant);
  }

  /** All listed expiries' quotes of an underlying at a 15-minute mark. */
  slices(symbol: string, instant: number): SimulatedSlice[] {
    const listed = UNIVERSE[listedIndex(symbol)];
    const state = this.stateAt(symbol, instant);
    return listedExpiries(instant, listed.cycle).map((expiry) =>
      quoteSlice(this.seed, listed, state, { instant, expiry }),
    );
  }

  /** Listed spreads with their quotes, from the chains of the same instant. */
  spreads(symbol: string, slices: readonly SimulatedSlice[]): ListedSpread[] {
    return listedSpreads(UNIVERSE[listedIndex(symbol)], slices);
  }

  /**
   * Prints since the chains before in the same session, or since its opening when there are none.
   * @param slices chains at the end; not empty
   */
  trades(symbol: string, before: readonly SimulatedSlice[], slices: readonly SimulatedSlice[]): TradePrint[] {
    const { instant } = slices[0];
    const opening = instantAt(dayOf(instant), OPEN_MINUTE);
    const from = before.length > 0 ? { instant: before[0].instant, slices: [...before] } : opening;
    return tradesBetween(this.seed, UNIVERSE[listedIndex(symbol)], from, { instant, slices: [...slices] });
  }

  /** Prices of the delivery months; undefined for what is not a future. */
  futuresCurve(symbol: string, instant: number, day: number): FuturesCurve | undefined {
    const listed = UNIVERSE[listedIndex(symbol)];
    if (listed.kind !== 'future') return undefined;
    return futuresCurve(listed, roundTo(this.stateAt(symbol, instant).price, listed.underlyingTick), day);
  }
}

/** Days whose closing chains are kept, ascending. */
export function keptDays(symbol: string): number[] {
  const { isFlagship } = UNIVERSE[listedIndex(symbol)];
  return sessionsUpTo(TODAY_DAY, isFlagship ? KEPT_SESSIONS.flagship : KEPT_SESSIONS.other);
}

/** Instants of the chains kept between days of a session: none for most. */
export function intradayDays(symbol: string): number[] {
  if (!(INTRADAY_SYMBOLS as readonly string[]).includes(symbol)) return [];
  return [...INTRADAY_EVENT_DAYS, ...sessionsUpTo(TODAY_DAY, INTRADAY_SESSIONS)];
}

/** Instants whose chains are kept on a day: the close, and every quarter of an hour where those are kept. */
export function keptInstants(symbol: string, day: number): number[] {
  const close = sessionInstant(day);
  if (!intradayDays(symbol).includes(day)) return [close];
  const instants: number[] = [];
  // The first quarter of an hour belongs to the opening.
  for (let instant = instantAt(day, CLOSE_MINUTE) - 33 * GRID_MINUTES * 60_000; instant <= close;) {
    instants.push(instant);
    instant += GRID_MINUTES * 60_000;
  }
  return instants;
}
