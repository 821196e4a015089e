import { CLOSE_MINUTE, dateText, dayOf, instantAt, minuteOf, OPEN_MINUTE } from './civil-day.ts';
import { pricedDividendsOf } from './dividends.ts';
import { MarketProcess, type SmileState } from './market-process.ts';
import { mixSeed, type RandomSource, randomSource } from '../random/index.ts';
import { eventOutcome, SCHEDULED_EVENTS } from './scheduled-events.ts';
import { sessionsUpTo, TODAY, TODAY_DAY } from './sessions.ts';
import { sharesSince } from './splits.ts';
import { UNIVERSE } from './universe.ts';

export interface SimulatedBar {
  /** Civil date, YYYY-MM-DD */
  date: string;
  open: number;
  high: number;
  low: number;
  close: number;
  volume: number;
}

/** Bar of a quarter of an hour, by the instant at which it ends. */
export interface SimulatedIntradayBar extends Omit<SimulatedBar, 'date'> {
  instant: number;
}

/** Sessions with bars and measures: two years. */
export const HISTORY_SESSIONS = 504;
/** Sessions simulated before them, so that the history does not start from the script's exact values. */
const WARM_UP = 40;
/** Minutes between the states that are kept. */
export const GRID_MINUTES = 15;
const MARKS = (CLOSE_MINUTE - OPEN_MINUTE) / GRID_MINUTES + 1;
/** Share of a session's variance that comes overnight. */
export const NIGHT_SHARE = 0.25;
export const DAY_SHARE = 1 - NIGHT_SHARE;

/** What is known of one underlying at one instant. */
export interface UnderlyingState extends SmileState {
  price: number;
  /** Price at which the session opened */
  open: number;
}

/**
 * The demo's past: prices and smile states of everything listed, at every 15-minute mark of every session up to today's
 * instant. One pass over the whole market makes it, in about a second; quotes are made from it piece by piece.
 */
export class MarketHistory {
  readonly sessions: readonly number[];
  readonly seed: number;
  /** Logarithm of price without dividends, [underlying][session x MARKS + mark] */
  readonly #logPrice: Float64Array[];
  readonly #columns: Record<keyof SmileState, Float32Array[]>;
  readonly #high: Float64Array[];
  readonly #low: Float64Array[];
  /** The same between each mark and the one before it, [underlying][session x MARKS + mark] */
  readonly #markHigh: Float64Array[];
  readonly #markLow: Float64Array[];
  /** What to add to the price (dividends still to be paid), and factor, per session */
  readonly #factor: Float64Array[];
  readonly #marksToday: number;
  readonly #bridge: RandomSource;

  constructor(seed: number) {
    this.seed = seed;
    this.#bridge = randomSource(mixSeed(seed, 6));
    const days = sessionsUpTo(TODAY_DAY, HISTORY_SESSIONS + WARM_UP);
    this.sessions = days.slice(WARM_UP);
    this.#marksToday = (minuteOf(TODAY) - OPEN_MINUTE) / GRID_MINUTES + 1;
    const perUnderlying = (size: number) => UNIVERSE.map(() => new Float64Array(size));
    const small = () => UNIVERSE.map(() => new Float32Array(HISTORY_SESSIONS * MARKS));
    this.#logPrice = perUnderlying(HISTORY_SESSIONS * MARKS);
    this.#high = perUnderlying(HISTORY_SESSIONS);
    this.#low = perUnderlying(HISTORY_SESSIONS);
    this.#markHigh = perUnderlying(HISTORY_SESSIONS * MARKS);
    this.#markLow = perUnderlying(HISTORY_SESSIONS * MARKS);
    this.#factor = perUnderlying(HISTORY_SESSIONS);
    this.#columns = { variance: small(), longVariance: small(), tilt: small(), strength: small() };
    this.#simulate(days);
    this.#anchor();
  }

  #simulate(days: number[]): void {
    const process = new MarketProcess(this.seed, days.length - 1);
    const logs = new Float64Array(UNIVERSE.length);
    const events = SCHEDULED_EVENTS.filter((e) => e.instant > instantAt(days[0], 0) && e.instant <= TODAY);
    let nextEvent = 0;
    const add = (returns: Float64Array, until: number) => {
      for (let i = 0; i < logs.length; i++) logs[i] += returns[i];
      for (; nextEvent < events.length && events[nextEvent].instant <= until; nextEvent++) {
        UNIVERSE.forEach((u, i) => (logs[i] += eventOutcome(events[nextEvent], leaderOf(u), this.seed)));
      }
    };
    days.forEach((day, d) => {
      const session = d - WARM_UP;
      const before = days.length - 1 - d;
      add(process.step(NIGHT_SHARE, before, day), instantAt(day, OPEN_MINUTE));
      this.#keep(process, logs, session, 0, before);
      for (let mark = 1; mark < MARKS; mark++) {
        add(process.step(DAY_SHARE / (MARKS - 1), before, day), instantAt(day, OPEN_MINUTE + mark * GRID_MINUTES));
        this.#keep(process, logs, session, mark, before);
      }
    });
  }

  /** Whether a mark lies in the past, as today's later ones do not. */
  #isPast(session: number, mark: number): boolean {
    return session < HISTORY_SESSIONS - 1 || mark < this.#marksToday;
  }

  /**
   * Highest and lowest price between two marks: drawn from the law of a Brownian bridge's extremes, P(max > m) =
   * exp(-2 (m - a) (m - b) / s^2), since steps of a quarter of an hour would miss them.
   */
  #extremes(i: number, session: number, mark: number): void {
    const at = session * MARKS + mark;
    const [a, b] = [this.#logPrice[i][at - 1], this.#logPrice[i][at]];
    const { realizedShare } = UNIVERSE[i].character;
    const variance = ((this.#columns.variance[i][at] * DAY_SHARE) / (MARKS - 1) / 252) * realizedShare ** 2;
    const gap = (b - a) ** 2;
    const up = Math.sqrt(gap - 2 * variance * Math.log(1 - this.#bridge.uniform()));
    const down = Math.sqrt(gap - 2 * variance * Math.log(1 - this.#bridge.uniform()));
    const [high, low] = [0.5 * (a + b + up), 0.5 * (a + b - down)];
    this.#markHigh[i][at] = high;
    this.#markLow[i][at] = low;
    this.#high[i][session] = Math.max(this.#high[i][session], high);
    this.#low[i][session] = Math.min(this.#low[i][session], low);
  }

  #keep(process: MarketProcess, logs: Float64Array, session: number, mark: number, before: number): void {
    if (session < 0) return;
    const at = session * MARKS + mark;
    const { variance, longVariance, tilt, strength } = this.#columns;
    for (let i = 0; i < logs.length; i++) {
      this.#logPrice[i][at] = logs[i];
      if (mark === 0) this.#high[i][session] = this.#low[i][session] = logs[i];
      const state = process.smileState(i, before);
      variance[i][at] = state.variance;
      longVariance[i][at] = state.longVariance;
      tilt[i][at] = state.tilt;
      strength[i][at] = state.strength;
    }
    if (mark > 0 && this.#isPast(session, mark)) {
      for (let i = 0; i < logs.length; i++) this.#extremes(i, session, mark);
    }
  }

  /** Walks back from today's known price: before an ex-date the price was higher by the dividend. */
  #anchor(): void {
    const last = HISTORY_SESSIONS - 1;
    UNIVERSE.forEach((u, i) => {
      const dividends = new Map(pricedDividendsOf(u).map((d) => [d.exDay, d.amount]));
      let factor = u.character.price / Math.exp(this.#logPrice[i][last * MARKS + this.#marksToday - 1]);
      for (let s = last; s >= 0; s--) {
        this.#factor[i][s] = factor;
        const amount = dividends.get(this.sessions[s]);
        if (amount === undefined || s === 0) continue;
        // Cum-dividend at the last close, ex at this open: the night's return is that of price and dividend together.
        const open = factor * Math.exp(this.#logPrice[i][s * MARKS]);
        factor *= (open + amount) / open;
      }
    });
  }

  /** Position of an instant on the grid. @throws RangeError off the grid or outside the history */
  #at(instant: number): { session: number; mark: number } {
    const session = this.sessions.indexOf(dayOf(instant));
    const mark = (minuteOf(instant) - OPEN_MINUTE) / GRID_MINUTES;
    if (session < 0 || !Number.isInteger(mark) || mark < 0 || mark >= MARKS || instant > TODAY) {
      throw new RangeError(`instant must be a 15-minute mark of a stored session: ${new Date(instant).toISOString()}`);
    }
    return { session, mark };
  }

  /** State of underlying `i` at a 15-minute mark of a session. @throws RangeError for any other instant */
  stateAt(i: number, instant: number): UnderlyingState {
    const { session, mark } = this.#at(instant);
    const at = session * MARKS + mark;
    const { variance, longVariance, tilt, strength } = this.#columns;
    return {
      price: this.#factor[i][session] * Math.exp(this.#logPrice[i][at]),
      open: this.#factor[i][session] * Math.exp(this.#logPrice[i][session * MARKS]),
      variance: variance[i][at],
      longVariance: longVariance[i][at],
      tilt: tilt[i][at],
      strength: strength[i][at],
    };
  }

  /** Instants of the 15-minute grid in a session, the open's included, up to now. */
  marksOf(day: number): number[] {
    const count = day === TODAY_DAY ? this.#marksToday : MARKS;
    return Array.from({ length: count }, (_, mark) => instantAt(day, OPEN_MINUTE + mark * GRID_MINUTES));
  }

  /** Bars of each quarter of an hour of a session of underlying `i`, ascending, up to now. */
  intradayBars(i: number, day: number): SimulatedIntradayBar[] {
    const session = this.sessions.indexOf(day);
    const { underlyingTick, character } = UNIVERSE[i];
    const random = randomSource(mixSeed(this.seed, 9, i, day));
    const usual = Math.sqrt((character.longLevel ** 2 * DAY_SHARE) / (MARKS - 1) / 252);
    return this.marksOf(day)
      .slice(1)
      .map((instant, m) => {
        const at = session * MARKS + m + 1;
        const price = (log: number) => roundTick(this.#factor[i][session] * Math.exp(log), underlyingTick);
        const range = this.#markHigh[i][at] - this.#markLow[i][at];
        const volume = ((character.liquidity * 900) / (MARKS - 1)) * (0.4 + (0.5 * range) / usual);
        return {
          instant,
          open: price(this.#logPrice[i][at - 1]),
          high: price(this.#markHigh[i][at]),
          low: price(this.#markLow[i][at]),
          close: price(this.#logPrice[i][at]),
          volume: Math.round(volume * Math.exp(0.25 * random.normal())),
        };
      });
  }

  /** Daily bars of underlying `i`, ascending, in shares of their day; today's so far. */
  bars(i: number): SimulatedBar[] {
    const { symbol, underlyingTick, character } = UNIVERSE[i];
    const random = randomSource(mixSeed(this.seed, 3, i));
    const perSession = character.liquidity * 900;
    return this.sessions.map((day, s) => {
      const shares = sharesSince(symbol, day);
      const price = (log: number) => roundTick(shares * this.#factor[i][s] * Math.exp(log), underlyingTick);
      const closeMark = day === TODAY_DAY ? this.#marksToday - 1 : MARKS - 1;
      const range = this.#high[i][s] - this.#low[i][s];
      // Volume follows the day's range.
      const usual = Math.sqrt(character.longLevel ** 2 / 252);
      const share = day === TODAY_DAY ? closeMark / (MARKS - 1) : 1;
      return {
        date: dateText(day),
        open: price(this.#logPrice[i][s * MARKS]),
        high: price(this.#high[i][s]),
        low: price(this.#low[i][s]),
        close: price(this.#logPrice[i][s * MARKS + closeMark]),
        volume: Math.round(
          (perSession / shares) * share * (0.4 + (0.5 * range) / usual) * Math.exp(0.25 * random.normal()),
        ),
      };
    });
  }
}

function roundTick(value: number, tick: number): number {
  const decimals = Math.max(0, Math.ceil(-Math.log10(tick) - 1e-9)) + 1;
  return Number((Math.round(value / tick) * tick).toFixed(decimals));
}

/** A follower has the jumps of what it follows. */
function leaderOf(u: (typeof UNIVERSE)[number]): string {
  return u.character.follows?.symbol ?? u.symbol;
}
