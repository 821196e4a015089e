import { z } from 'zod';
import type { QuoteSource, QuoteWave } from '../quote-source/index.ts';
import { CLOSE_MINUTE, dateText, dayOf, instantAt, OPEN_MINUTE } from './civil-day.ts';
import { pricedDividendsOf } from './dividends.ts';
import { listedExpiries } from './expiries.ts';
import { futuresCurve } from './futures-curve.ts';
import { DAY_SHARE, type MarketHistory, NIGHT_SHARE, type SimulatedBar } from './market-history.ts';
import { MarketProcess, type SmileState } from './market-process.ts';
import { quoteSlice, roundTo } from './quote-slice.ts';
import { mixSeed } from '../random/index.ts';
import { eventOutcome, SCHEDULED_EVENTS } from './scheduled-events.ts';
import { nextSession, TODAY, TODAY_DAY } from './sessions.ts';
import { listedIndex, UNIVERSE } from './universe.ts';

const SECOND = 1000;
const SESSION_SECONDS = (CLOSE_MINUTE - OPEN_MINUTE) * 60;
/** Longest step of the process: a wave at high speed takes several. */
const LONGEST_STEP_SECONDS = 300;

const underlyingState = z.object({
  price: z.number().positive(),
  variance: z.number().positive(),
  longVariance: z.number().positive(),
  tilt: z.number(),
  strength: z.number().positive(),
  open: z.number().positive(),
  high: z.number().positive(),
  low: z.number().positive(),
  volume: z.number().nonnegative(),
});

/** State between two waves, kept by whoever drives the market so that it can be taken up again. */
export const liveMarketState = z.object({
  sequence: z.number().int().nonnegative(),
  instant: z.number().int(),
  underlyings: z.record(z.string(), underlyingState),
});
export type LiveMarketState = z.infer<typeof liveMarketState>;
type UnderlyingNow = z.infer<typeof underlyingState>;

/**
 * The exchange running on from the demo's today: a stand-in for a market data service. The state and the seed decide
 * what comes next, so a market taken up from a stored state goes on as if it had never stopped.
 */
export class LiveMarket implements QuoteSource {
  readonly #seed: number;
  readonly #process: MarketProcess;
  #sequence: number;
  #instant: number;
  readonly #now: UnderlyingNow[];

  constructor(seed: number, state: LiveMarketState) {
    this.#seed = seed;
    this.#sequence = state.sequence;
    this.#instant = state.instant;
    this.#now = UNIVERSE.map((u) => ({ ...state.underlyings[u.symbol] }));
    this.#process = new MarketProcess(mixSeed(seed, 7, state.sequence), sessionsSince(state.instant), {
      from: this.#now,
      day: dayOf(state.instant),
    });
  }

  /** State at the demo's today. */
  static startingState(history: MarketHistory): LiveMarketState {
    const underlyings: Record<string, UnderlyingNow> = {};
    UNIVERSE.forEach((u, i) => {
      const { open, high, low, volume } = history.bars(i)[history.sessions.length - 1];
      underlyings[u.symbol] = { ...history.stateAt(i, TODAY), open, high, low, volume };
    });
    return { sequence: 0, instant: TODAY, underlyings };
  }

  state(): LiveMarketState {
    const underlyings = Object.fromEntries(UNIVERSE.map((u, i) => [u.symbol, { ...this.#now[i] }]));
    return { sequence: this.#sequence, instant: this.#instant, underlyings };
  }

  next(seconds: number, symbols: readonly string[]): Promise<QuoteWave> {
    const closedBars: QuoteWave['closedBars'] = [];
    this.#sequence++;
    this.#process.reseed(mixSeed(this.#seed, 8, this.#sequence));
    let left = Math.max(1, Math.round(seconds));
    while (left > 0) {
      const day = dayOf(this.#instant);
      const close = instantAt(day, CLOSE_MINUTE);
      if (this.#instant >= close) {
        closedBars.push(...this.#bars(dateText(day)));
        this.#openNextSession(day);
        // The night costs no time of the wave.
        continue;
      }
      const step = Math.min(left, LONGEST_STEP_SECONDS, (close - this.#instant) / SECOND);
      this.#move((DAY_SHARE * step) / SESSION_SECONDS, this.#instant + step * SECOND, step / SESSION_SECONDS);
      left -= step;
    }
    return Promise.resolve({ ...this.#wave(symbols), closedBars });
  }

  /** Quotes as they stand, without moving on. */
  current(symbols: readonly string[]): QuoteWave {
    return { ...this.#wave(symbols), closedBars: [] };
  }

  #openNextSession(day: number): void {
    const next = nextSession(day);
    const open = instantAt(next, OPEN_MINUTE);
    this.#move(NIGHT_SHARE, open, 0);
    UNIVERSE.forEach((u, i) => {
      const now = this.#now[i];
      const paid = pricedDividendsOf(u).find((d) => d.exDay === next);
      if (paid) now.price = Math.max(0.1 * now.price, now.price - paid.amount);
      now.open = now.high = now.low = now.price;
      now.volume = 0;
    });
  }

  /** One step of the process, with the events on the way. */
  #move(sessionShare: number, until: number, volumeShare: number): void {
    const events = SCHEDULED_EVENTS.filter((e) => e.instant > this.#instant && e.instant <= until);
    const before = sessionsSince(until);
    const returns = this.#process.step(sessionShare, before, dayOf(until));
    UNIVERSE.forEach((u, i) => {
      const leader = u.character.follows?.symbol ?? u.symbol;
      let move = returns[i];
      for (const event of events) move += eventOutcome(event, leader, this.#seed);
      const now = this.#now[i];
      const state: SmileState = this.#process.smileState(i, before);
      Object.assign(now, state);
      now.price *= Math.exp(move);
      now.high = Math.max(now.high, now.price);
      now.low = Math.min(now.low, now.price);
      now.volume += Math.round(u.character.liquidity * 900 * volumeShare);
    });
    this.#instant = until;
  }

  #wave(symbols: readonly string[]): Omit<QuoteWave, 'closedBars'> {
    const prices = Object.fromEntries(
      UNIVERSE.map((u, i) => [u.symbol, roundTo(this.#now[i].price, u.underlyingTick)]),
    );
    const chains: QuoteWave['chains'] = [];
    const futuresCurves: QuoteWave['futuresCurves'] = [];
    for (const symbol of symbols) {
      const i = listedIndex(symbol);
      const listed = UNIVERSE[i];
      const instant = this.#instant;
      const slices = listedExpiries(instant, listed.cycle).map((expiry) => {
        const {
          truth: _truth,
          symbol: _symbol,
          instant: _instant,
          ...quoted
        } = quoteSlice(this.#seed, listed, this.#now[i], { instant, expiry });
        return quoted;
      });
      chains.push({ symbol, slices });
      if (listed.kind === 'future') {
        futuresCurves.push({ symbol, ...futuresCurve(listed, prices[symbol], dayOf(instant)) });
      }
    }
    return { sequence: this.#sequence, instant: this.#instant, prices, chains, futuresCurves };
  }

  /** Bars of the session so far. */
  bars(): QuoteWave['closedBars'] {
    return this.#bars(dateText(dayOf(this.#instant)));
  }

  #bars(date: string): (SimulatedBar & { symbol: string })[] {
    return UNIVERSE.map((u, i) => {
      const round = (value: number) => roundTo(value, u.underlyingTick);
      const { open, high, low, price, volume } = this.#now[i];
      return {
        symbol: u.symbol,
        date,
        open: round(open),
        high: round(high),
        low: round(low),
        close: round(price),
        volume,
      };
    });
  }
}

/** Sessions before today, counted negative after it. */
function sessionsSince(instant: number): number {
  const day = dayOf(instant);
  let count = 0;
  for (let d = TODAY_DAY; d < day; d = nextSession(d)) count--;
  return count;
}
