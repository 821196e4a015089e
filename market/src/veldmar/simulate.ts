import { black76Price } from '@umwelt/core/pricing';
import { calendarYears } from '@umwelt/core/time';
import { type RandomSource, randomSource } from './random.ts';
import { listedExpiries, sessionInstants } from './sessions.ts';
import { revertingTotalVariance, ssviTotalVariance } from './smile-model.ts';
import {
  CHARACTERS,
  CROWN_CURVE,
  LISTED,
  type ListedUnderlying,
  type MarketCharacter,
  SCHEDULED_EVENTS,
} from './underlyings.ts';

/** Quotes of one expiry as they are stored; NaN where nothing is quoted. Instants in milliseconds since 1970 UTC. */
export interface SimulatedSlice {
  symbol: string;
  instant: number;
  expiry: number;
  underlyingPrice: number;
  strikes: number[];
  callBid: number[];
  callAsk: number[];
  callLast: number[];
  callVolume: number[];
  callOpenInterest: number[];
  putBid: number[];
  putAsk: number[];
  putLast: number[];
  putVolume: number[];
  putOpenInterest: number[];
}

export interface SimulatedBar {
  symbol: string;
  /** Civil date, YYYY-MM-DD */
  date: string;
  open: number;
  high: number;
  low: number;
  close: number;
  volume: number;
}

export interface SimulatedMarket {
  slices: SimulatedSlice[];
  bars: SimulatedBar[];
}

const SESSIONS_PER_YEAR = 252;
/** One quote in this many is spoilt, by turns in each of the ways below. */
const FAULT_EVERY = 350;
const STEPS_PER_SESSION = 24;

/**
 * The demo market: daily chains and bars of all listed underlyings for the last sessions before the demo's today.
 * The same seed gives the same data.
 */
export function simulateMarket(o: { seed: number; sessions: number }): SimulatedMarket {
  const market: SimulatedMarket = { slices: [], bars: [] };
  LISTED.forEach((listed, i) => {
    const character = CHARACTERS.find((c) => c.symbol === listed.symbol);
    if (!character) throw new Error(`no character for ${listed.symbol}`);
    simulateUnderlying(listed, character, randomSource(o.seed + 7919 * i), o.sessions, market);
  });
  return market;
}

interface State {
  price: number;
  variance: number;
  tilt: number;
}

function simulateUnderlying(
  listed: ListedUnderlying,
  character: MarketCharacter,
  random: RandomSource,
  sessions: number,
  market: SimulatedMarket,
): void {
  const instants = sessionInstants(sessions);
  const path = simulatePath(character, random, instants);
  instants.forEach((instant, i) => {
    const { state, bar } = path[i];
    const date = new Date(instant + 3_600_000).toISOString().slice(0, 10);
    const round = (price: number) => roundTo(price, listed.underlyingTick);
    const { open, high, low, close } = bar;
    market.bars.push({
      symbol: listed.symbol,
      date,
      open: round(open),
      high: round(high),
      low: round(low),
      close: round(close),
      volume: Math.round(1e5 * (1 + random.uniform())),
    });
    for (const expiry of listedExpiries(instant)) {
      const at = { instant, expiry, state: { ...state, price: round(state.price) } };
      market.slices.push(quoteSlice(listed, character, random, at));
    }
  });
}

/** Square-root variance with correlated price, in small steps; scaled at the end to meet the last price. */
function simulatePath(character: MarketCharacter, random: RandomSource, instants: number[]) {
  const step = 1 / SESSIONS_PER_YEAR / STEPS_PER_SESSION;
  const target = character.longLevel ** 2;
  let logPrice = 0;
  let variance = character.level ** 2;
  let tilt = character.tilt;
  const days: { state: State; bar: { open: number; high: number; low: number; close: number } }[] = [];
  for (let i = 0; i < instants.length; i++) {
    const bar = { open: logPrice, high: logPrice, low: logPrice, close: logPrice };
    for (let k = 0; k < STEPS_PER_SESSION; k++) {
      const shock = random.normal();
      const own = random.normal();
      const deviation = Math.sqrt(variance * step);
      logPrice += -0.5 * variance * step + deviation * shock;
      const blended = character.leverage * shock + Math.sqrt(1 - character.leverage ** 2) * own;
      variance += character.meanReversion * (target - variance) * step;
      // Relative to the level, so that a quiet currency stays quiet.
      variance += character.volatilityOfVolatility * character.longLevel * deviation * blended;
      variance = Math.max(variance, 0.2 * target);
      bar.high = Math.max(bar.high, logPrice);
      bar.low = Math.min(bar.low, logPrice);
    }
    bar.close = logPrice;
    tilt = character.tilt + 0.9 * (tilt - character.tilt) + 0.012 * random.normal();
    days.push({ state: { price: logPrice, variance, tilt }, bar });
  }
  const shift = Math.log(character.price) - logPrice;
  // Only ratios of prices were simulated: shift them so that the last price is the character's.
  return days.map(({ state, bar }) => ({
    state: { ...state, price: Math.exp(state.price + shift) },
    bar: {
      open: Math.exp(bar.open + shift),
      high: Math.exp(bar.high + shift),
      low: Math.exp(bar.low + shift),
      close: Math.exp(bar.close + shift),
    },
  }));
}

function quoteSlice(
  listed: ListedUnderlying,
  character: MarketCharacter,
  random: RandomSource,
  at: { instant: number; expiry: number; state: State },
): SimulatedSlice {
  const { instant, expiry, state } = at;
  const time = calendarYears(instant, expiry);
  const rate = crownRate(time * 365);
  const forward = state.price * Math.exp((rate - character.yield) * time);
  const discountFactor = Math.exp(-rate * time);
  let atmTotalVariance = revertingTotalVariance({
    now: state.variance,
    longRun: character.longLevel ** 2,
    speed: character.meanReversion,
    time,
  });
  for (const event of SCHEDULED_EVENTS) {
    const move = event.moves[listed.symbol];
    if (move && event.instant > instant && event.instant <= expiry) atmTotalVariance += move * move;
  }
  const deviation = Math.sqrt(atmTotalVariance);
  const strikes = strikeLadder(forward, deviation);
  const slice: SimulatedSlice = {
    symbol: listed.symbol,
    instant,
    expiry,
    underlyingPrice: state.price,
    strikes,
    callBid: [],
    callAsk: [],
    callLast: [],
    callVolume: [],
    callOpenInterest: [],
    putBid: [],
    putAsk: [],
    putLast: [],
    putVolume: [],
    putOpenInterest: [],
  };
  // Both sides of a strike share its noise: a volatility is quoted, prices follow.
  for (const strike of strikes) {
    const logMoneyness = Math.log(strike / forward);
    const variance = ssviTotalVariance({
      logMoneyness,
      atmTotalVariance,
      tilt: state.tilt,
      strength: character.tiltStrength,
    });
    const volatility = Math.sqrt(variance / time) * (1 + 0.0015 * random.normal());
    const interest = Math.exp(-0.5 * (logMoneyness / deviation) ** 2);
    for (const side of ['call', 'put'] as const) {
      const price = black76Price({ side, forward, strike, timeToExpiry: time, volatility, discountFactor });
      const quote = quoteAround(price, listed, character, random);
      slice[`${side}Bid`].push(quote.bid);
      slice[`${side}Ask`].push(quote.ask);
      slice[`${side}Last`].push(roundTo(price * (1 + 0.05 * random.normal()), listed.optionTick));
      const volume = Math.floor(-400 * Math.log(1 - random.uniform()) * interest);
      slice[`${side}Volume`].push(volume);
      slice[`${side}OpenInterest`].push(Math.floor(volume * (3 + 12 * random.uniform())));
    }
  }
  return slice;
}

function quoteAround(price: number, listed: ListedUnderlying, character: MarketCharacter, random: RandomSource) {
  const tick = price < listed.tickChange ? listed.optionTick : listed.wideTick;
  const half = Math.max(tick, character.spread * price * (0.6 + 0.9 * random.uniform()));
  const bid = Math.max(0, Math.floor((price - half) / tick) * tick);
  const ask = Math.ceil((price + half) / tick) * tick;
  const quote = { bid: roundTo(bid, tick), ask: roundTo(ask, tick) };
  const draw = random.uniform() * FAULT_EVERY;
  if (bid < 8 * tick || draw >= 1) return quote;
  if (draw < 1 / 3) return { bid: roundTo(ask + 3 * tick, tick), ask: quote.bid };
  if (draw < 2 / 3) return { bid: roundTo(bid * 1.6, tick), ask: roundTo(ask * 1.6, tick) };
  return { bid: quote.bid, ask: 0 };
}

/** Round strikes from 3.4 deviations below to 2.8 above the forward, about 40 of them. */
function strikeLadder(forward: number, deviation: number): number[] {
  const low = forward * Math.exp(-3.4 * deviation);
  const high = forward * Math.exp(2.8 * deviation);
  const raw = (high - low) / 40;
  const scale = 10 ** Math.floor(Math.log10(raw));
  const step = scale * ([1, 2, 2.5, 5, 10].find((m) => m * scale >= raw) ?? 10);
  const strikes: number[] = [];
  for (let n = Math.ceil(low / step); n * step <= high; n++) strikes.push(roundTo(n * step, step / 10));
  return strikes;
}

/** Crown rate for a number of days, linear between the points of the curve. */
export function crownRate(days: number): number {
  const { days: nodes, rates } = CROWN_CURVE;
  const next = nodes.findIndex((d) => d >= days);
  if (next <= 0) return rates[next === 0 ? 0 : rates.length - 1];
  const share = (days - nodes[next - 1]) / (nodes[next] - nodes[next - 1]);
  return rates[next - 1] + share * (rates[next] - rates[next - 1]);
}

/** Rounds to a multiple of a step and drops the binary residue (0.1 x 3 becomes 0.3). */
function roundTo(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toPrecision(12));
}
