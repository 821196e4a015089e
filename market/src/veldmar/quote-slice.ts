import type { Side } from '@umwelt/core/pricing';
import { calendarYears } from '@umwelt/core/time';
import { dateText, dayNumber, dayOf, instantAt, minuteOf, CLOSE_MINUTE, OPEN_MINUTE } from './civil-day.ts';
import type { QuotedSlice } from '../quote-source/index.ts';
import { pricedDividendsOf } from './dividends.ts';
import { drawFault, type FaultKind, type InjectedFault, LEAST_TICKS, WRONG_EXPIRY } from './faults.ts';
import { futuresCurve } from './futures-curve.ts';
import type { Listed } from './listing.ts';
import type { UnderlyingState } from './market-history.ts';
import { orderFlow } from './order-flow.ts';
import { mixSeed, type RandomSource, randomSource } from '../random/index.ts';
import { curveOn, rateAt } from './rate-curves.ts';
import { eventVariances } from './scheduled-events.ts';
import { strikeLadder } from './strike-ladder.ts';
import { theoreticalValues } from './theoretical-values.ts';
import { atmTotalVariance, ssviTotalVariance } from './total-variance.ts';
import { listedIndex } from './universe.ts';

/** Quotes of one expiry as the simulator makes them. */
export interface SimulatedSlice extends QuotedSlice {
  symbol: string;
  instant: number;
  /** What the simulator knows and no file tells: the faults it put in, and the true volatilities */
  truth: {
    forward: number;
    volatilities: Float64Array;
    faults: InjectedFault[];
    isWrongExpiry: boolean;
    /** Half widths by which orders move each strike's quotes */
    flow: Float64Array;
  };
}

/** Noise of a strike's volatility, as a share of it: neighbours never agree exactly. */
const VOLATILITY_NOISE = 0.0015;
/** A market maker's cushion on the underlying itself, as a share of its price, felt by the delta. */
const HEDGE_SPREAD = 0.00012;
/** A stale quote was made when the underlying stood this many daily deviations away, and up to one more. */
const STALE_DEVIATIONS = 2;

/** Quotes of one expiry at one instant, made from the underlying's state alone. */
export function quoteSlice(
  seed: number,
  listed: Listed,
  state: UnderlyingState,
  at: { instant: number; expiry: number },
): SimulatedSlice {
  const { instant, expiry } = at;
  const { symbol, character } = listed;
  const random = randomSource(mixSeed(seed, 4, listedIndex(symbol), Math.trunc(instant / 1000), expiry / 60_000));
  const day = dayOf(instant);
  const timeToExpiry = calendarYears(instant, expiry);
  const rate = rateAt(curveOn(listed.currency, day), timeToExpiry);
  const spot = roundTo(state.price, listed.underlyingTick);
  const carried = carry(listed, { spot, day, instant, expiry, rate, timeToExpiry });
  const { forward } = carried;

  const isWrongExpiry =
    symbol === WRONG_EXPIRY.symbol &&
    dateText(dayOf(expiry)) === WRONG_EXPIRY.expiry &&
    dateText(day) >= WRONG_EXPIRY.from;
  const varianceTo = (until: number) =>
    atmTotalVariance({
      ...state,
      reversion: character.reversion,
      season: character.varianceSeason,
      events: eventVariances(character.follows?.symbol ?? symbol),
      instant,
      day,
      expiry: until,
    });
  const total = varianceTo(isWrongExpiry ? wrongExpiryInstant() : expiry);
  const strikes = strikeLadder(listed, forward, varianceTo(expiry), timeToExpiry);
  const volatilities = strikes.map((strike) =>
    Math.sqrt(
      ssviTotalVariance({
        logMoneyness: Math.log(strike / forward),
        atmTotalVariance: total,
        tilt: state.tilt,
        strength: state.strength,
      }) / timeToExpiry,
    ),
  );
  const noisy = volatilities.map((volatility) => volatility * (1 + VOLATILITY_NOISE * random.normal()));
  const theory = theoreticalValues({
    forward,
    rate,
    timeToExpiry,
    strikes,
    volatilities: noisy,
    exercise: carried.exercise,
  });
  const deviation = Math.sqrt(total);
  const flow = orderFlow(seed, listed, { day, expiry, strikes, deviation });
  const dailyDeviation = Math.sqrt(state.variance / 252);
  const column = () => new Float64Array(strikes.length);
  const slice: SimulatedSlice = {
    symbol,
    instant,
    expiry,
    underlyingPrice: carried.underlyingPrice,
    strikes,
    callBid: column(),
    callAsk: column(),
    callBidSize: column(),
    callAskSize: column(),
    callLast: column(),
    callVolume: column(),
    callOpenInterest: column(),
    putBid: column(),
    putAsk: column(),
    putBidSize: column(),
    putAskSize: column(),
    putLast: column(),
    putVolume: column(),
    putOpenInterest: column(),
    truth: { forward, volatilities, faults: [], isWrongExpiry, flow },
  };
  const opening = { ...atTheOpen(listed, day, expiry), price: state.open, busy: busyMoments(seed, listed, day) };
  const sizes = randomSource(mixSeed(seed, 10, listedIndex(symbol), Math.trunc(instant / 1000), expiry / 60_000));
  const traded = tradedShare(instant);
  const sides = [
    { side: 'call', ...theory.call, columns: columnsOf(slice, 'call') },
    { side: 'put', ...theory.put, columns: columnsOf(slice, 'put') },
  ] as const;
  const { exercise } = carried;
  const discount = Math.exp(-rate * timeToExpiry);
  const leastOf = (side: Side, strike: number) => {
    const sign = side === 'call' ? 1 : -1;
    const carriedValue = discount * sign * (forward - strike);
    return Math.max(0, carriedValue, exercise.kind === 'european' ? 0 : sign * (carried.underlyingPrice - strike));
  };
  for (let i = 0; i < strikes.length; i++) {
    const distance = Math.log(strikes[i] / forward) / deviation;
    const typicalSize = 0.3 * character.liquidity * Math.exp(-0.35 * distance * distance);
    const size = () => Math.max(1, Math.round(typicalSize * (0.3 - Math.log(1 - sizes.uniform()))));
    for (const { side, price, delta, vega, columns } of sides) {
      const quote = quoteAround(
        price[i],
        {
          vega: vega[i],
          delta: delta[i],
          distance,
          spot: carried.underlyingPrice,
          flow: flow[i],
          least: leastOf(side, strikes[i]),
        },
        listed,
        random,
      );
      const fault = drawFault(random);
      if (fault && !isWrongExpiry && quote.bid >= LEAST_TICKS * quote.tick) {
        const isShown = spoil(quote, fault, dailyDeviation * carried.underlyingPrice * delta[i], random);
        if (isShown) slice.truth.faults.push({ kind: fault, side, index: i });
      }
      columns.bid[i] = quote.bid;
      columns.ask[i] = quote.ask;
      columns.bidSize[i] = quote.bid > 0 ? size() : 0;
      columns.askSize[i] = size();
      const { interest, volume } = contractActivity(seed, listed, { ...opening, strike: strikes[i], side, traded });
      columns.openInterest[i] = interest;
      columns.volume[i] = volume;
      const last =
        price[i] +
        0.5 * (quote.ask - quote.bid) * random.normal() +
        0.15 * dailyDeviation * carried.underlyingPrice * delta[i] * random.normal();
      columns.last[i] = interest === 0 ? NaN : Math.max(quote.tick, roundTo(last, quote.tick));
    }
  }
  return slice;
}

function columnsOf(slice: SimulatedSlice, side: Side) {
  return {
    bid: slice[`${side}Bid`],
    ask: slice[`${side}Ask`],
    bidSize: slice[`${side}BidSize`],
    askSize: slice[`${side}AskSize`],
    last: slice[`${side}Last`],
    volume: slice[`${side}Volume`],
    openInterest: slice[`${side}OpenInterest`],
  };
}

function wrongExpiryInstant(): number {
  const [year, month, day] = WRONG_EXPIRY.quotesOf.split('-').map(Number);
  return instantAt(dayNumber(year, month, day), CLOSE_MINUTE);
}

/** Forward of an expiry, the price its options refer to, and what early exercise would mean. */
function carry(
  listed: Listed,
  o: { spot: number; day: number; instant: number; expiry: number; rate: number; timeToExpiry: number },
) {
  const { rate, timeToExpiry, spot } = o;
  const isAmerican = listed.exercise === 'american';
  if (listed.kind === 'future') {
    const { deliveries, prices } = futuresCurve(listed, spot, o.day);
    const expiryDay = dayOf(o.expiry);
    const price =
      prices[
        Math.max(
          0,
          deliveries.findIndex((d) => d >= expiryDay),
        )
      ];
    return { forward: price, underlyingPrice: price, exercise: { kind: 'american-futures' } as const };
  }
  const { foreignCurrency } = listed;
  const dividendYield = foreignCurrency
    ? rateAt(curveOn(foreignCurrency, o.day), timeToExpiry)
    : listed.character.yield;
  const dividends = pricedDividendsOf(listed)
    .filter((d) => d.instant > o.instant && d.instant < o.expiry)
    .map((d) => ({ time: calendarYears(o.instant, d.instant), amount: d.amount }));
  let forward = spot * Math.exp((rate - dividendYield) * timeToExpiry);
  for (const d of dividends) forward -= d.amount * Math.exp((rate - dividendYield) * (timeToExpiry - d.time));
  const exercise = isAmerican ? ({ kind: 'american-spot', spot, dividends } as const) : ({ kind: 'european' } as const);
  return { forward, underlyingPrice: spot, exercise };
}

interface Quote {
  bid: number;
  ask: number;
  tick: number;
  mid: number;
}

function quoteAround(
  price: number,
  o: { vega: number; delta: number; distance: number; spot: number; flow: number; least: number },
  listed: Listed,
  random: RandomSource,
): Quote {
  const tick = price < listed.tickChange ? listed.optionTick : listed.wideTick;
  const width = listed.character.halfSpread * (1 + 0.2 * o.distance * o.distance) * (0.7 + 0.6 * random.uniform());
  const half = Math.max(0.5 * tick, width * o.vega + HEDGE_SPREAD * o.spot * Math.abs(o.delta));
  // Orders move volatilities, calls and puts of a strike alike.
  const mid = o.flow === 0 ? price : Math.max(o.least, price + o.flow * listed.character.halfSpread * o.vega);
  const bid = Math.max(0, Math.floor((mid - half) / tick + 1e-9));
  const ask = Math.max(bid + 1, Math.ceil((mid + half) / tick - 1e-9));
  return { bid: roundTo(bid * tick, tick), ask: roundTo(ask * tick, tick), tick, mid };
}

/**
 * Spoils a quote; false when the fault would not show, and then the quote stays as it was.
 * @param moved change of the option's price with one daily deviation of the underlying
 */
function spoil(quote: Quote, fault: FaultKind, moved: number, random: RandomSource): boolean {
  const { bid, ask, tick } = quote;
  switch (fault) {
    case 'crossed':
      quote.bid = roundTo(ask + 2 * tick, tick);
      quote.ask = bid;
      return true;
    case 'zero-bid':
      quote.bid = 0;
      return true;
    case 'stale': {
      const sign = random.uniform() < 0.5 ? -1 : 1;
      const shift = sign * Math.abs(moved) * (STALE_DEVIATIONS + random.uniform());
      const isFar = Math.abs(shift) > 4 * (ask - bid) && Math.abs(shift) > 6 * tick && bid + shift > 2 * tick;
      if (!isFar) return false;
      quote.bid = roundTo(bid + shift, tick);
      quote.ask = roundTo(ask + shift, tick);
      return true;
    }
  }
}

/** Share of a session that has passed at an instant. */
function tradedShare(instant: number): number {
  const share = (minuteOf(instant) - OPEN_MINUTE) / (CLOSE_MINUTE - OPEN_MINUTE);
  return Math.min(1, Math.max(0, share));
}

/** What a strike's distance is measured by all session long, so that what is open and traded only grows within it. */
function atTheOpen(listed: Listed, day: number, expiry: number) {
  const openingTime = calendarYears(instantAt(day, OPEN_MINUTE), expiry);
  return { day, expiry, openingTime, usualDeviation: listed.character.longLevel * Math.sqrt(openingTime) };
}

/** Shares of a session at which options of an underlying trade: all together, so that spreads can. */
function busyMoments(seed: number, listed: Listed, day: number): number[] {
  const random = randomSource(mixSeed(seed, 12, listedIndex(listed.symbol), day));
  return Array.from({ length: BUSY_MOMENTS }, () => random.uniform());
}

/** Most bursts in which a contract's volume comes in a session. */
const MOST_BURSTS = 8;
/** Moments of a session at which an underlying's options trade. */
const BUSY_MOMENTS = 12;

/**
 * Contracts open, and traded so far: many at round strikes near the money, fewer in far expiries; each contract keeps its
 * own factor, and each session draws its own share of it, traded in a few bursts.
 */
function contractActivity(
  seed: number,
  listed: Listed,
  o: {
    expiry: number;
    day: number;
    strike: number;
    side: Side;
    price: number;
    usualDeviation: number;
    openingTime: number;
    traded: number;
    busy: readonly number[];
  },
): { interest: number; volume: number } {
  const { character, underlyingTick } = listed;
  const steps = Math.round(o.strike / underlyingTick);
  const key = [listedIndex(listed.symbol), o.expiry / 60_000, steps, o.side === 'call' ? 1 : 0];
  const own = randomSource(mixSeed(seed, 5, ...key));
  const session = randomSource(mixSeed(seed, 9, o.day, ...key));
  const round = o.strike >= 1000 ? 100 : o.strike >= 100 ? 10 : o.strike >= 10 ? 5 : 0.1;
  const isRound = Math.abs(o.strike / round - Math.round(o.strike / round)) < 1e-6;
  const distance = Math.log(o.strike / o.price) / o.usualDeviation;
  // Protection is bought below, calls above.
  const lean = o.side === 'put' ? distance + 0.6 : distance - 0.5;
  const near = Math.exp(-0.35 * lean * lean);
  const age = Math.exp(-1.2 * o.openingTime);
  const interest = Math.floor(
    8 * character.liquidity * near * age * (isRound ? 2.5 : 1) * -Math.log(1 - own.uniform()),
  );
  const byTheClose = Math.floor(-0.22 * interest * Math.log(1 - session.uniform()));
  const bursts = Math.min(MOST_BURSTS, Math.ceil(0.25 * Math.sqrt(byTheClose)));
  let passed = 0;
  for (let burst = 0; burst < bursts; burst++)
    if (o.busy[Math.floor(session.uniform() * o.busy.length)] <= o.traded) passed++;
  return { interest, volume: bursts === 0 ? 0 : Math.floor((byTheClose * passed) / bursts) };
}

/** Rounds to a multiple of a step, to the nearest double of its decimal (0.1 x 3 is 0.3). */
export function roundTo(value: number, step: number): number {
  // An integer over a power of ten is rounded correctly; no price or step here has more than six decimals.
  return Math.round(Math.round(value / step) * step * 1e6) / 1e6;
}
