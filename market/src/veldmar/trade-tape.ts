import type { ListedSpread, QuotedSlice, TradedLeg, TradePrint } from '../quote-source/index.ts';
import { listedSpreads } from './listed-spreads.ts';
import type { Listed } from './listing.ts';
import { roundTo } from './quote-slice.ts';
import { mixSeed, type RandomSource, randomSource } from '../random/index.ts';
import { listedIndex } from './universe.ts';

/** Chains of one underlying at one instant, milliseconds since 1970 UTC. */
export interface ChainAt {
  instant: number;
  slices: QuotedSlice[];
}

/** Chance that a listed spread prints between two chains, and the largest part of its scarcer leg's contracts it takes. */
const SPREAD_CHANCE = 0.8;
const SPREAD_PART = 0.5;
/** Share of prints at the bid, and of those at the ask; the rest meet in between. */
const AT_BID = 0.42;
const AT_ASK = 0.84;
/** A burst of volume comes in some pieces, the more the larger it is. */
const MOST_PIECES = 5;

/**
 * Prints between two chains of a session: listed spreads first, then outright options for what is left, so that each
 * contract's prints, spreads' legs included, add up to what its volume rose by.
 * @param from chain before, or the session's opening instant, when nothing had traded
 */
export function tradesBetween(seed: number, listed: Listed, from: ChainAt | number, to: ChainAt): TradePrint[] {
  const start = typeof from === 'number' ? from : from.instant;
  const random = randomSource(mixSeed(seed, 11, listedIndex(listed.symbol), Math.trunc(to.instant / 1000)));
  const left = risenVolumes(typeof from === 'number' ? [] : from.slices, to.slices);
  const at = () => start + 1000 * (1 + Math.floor((random.uniform() * (to.instant - start)) / 1000));
  const prints: TradePrint[] = [];
  for (const spread of listedSpreads(listed, to.slices)) {
    if (random.uniform() >= SPREAD_CHANCE) continue;
    const most = Math.min(...spread.legs.map((leg) => (left.get(keyOf(leg)) ?? 0) / Math.abs(leg.ratio)));
    if (most < 1) continue;
    const size = 1 + Math.floor((most - 1) * SPREAD_PART * random.uniform());
    for (const leg of spread.legs) {
      left.set(keyOf(leg), (left.get(keyOf(leg)) ?? 0) - size * Math.abs(leg.ratio));
    }
    prints.push(printOf(listed, spread, at(), size, random));
  }
  for (const slice of to.slices) {
    for (const side of ['call', 'put'] as const) {
      slice.strikes.forEach((strike, i) => {
        const leg: TradedLeg = { expiry: slice.expiry, side, strike, ratio: 1 };
        let remaining = left.get(keyOf(leg)) ?? 0;
        const quote = { bid: slice[`${side}Bid`][i], ask: slice[`${side}Ask`][i] };
        const pieces = Math.min(MOST_PIECES, Math.ceil(0.4 * Math.sqrt(remaining)));
        for (let piece = pieces; piece > 0; piece--) {
          // The last piece takes what is left; each takes at least one contract.
          const size = piece === 1 ? remaining : 1 + Math.floor(random.uniform() * (2 * (remaining / piece) - 1));
          const taken = Math.min(size, remaining - (piece - 1));
          remaining -= taken;
          prints.push(printOf(listed, { legs: [leg], ...quote }, at(), taken, random));
        }
      });
    }
  }
  return prints.sort((a, b) => a.instant - b.instant);
}

function keyOf(leg: Pick<TradedLeg, 'expiry' | 'side' | 'strike'>): string {
  return `${leg.expiry} ${leg.side} ${leg.strike}`;
}

/** Contracts by which each option's volume rose. */
function risenVolumes(before: QuotedSlice[], after: QuotedSlice[]): Map<string, number> {
  const volumes = new Map<string, number>();
  const add = (slices: QuotedSlice[], sign: number) => {
    for (const slice of slices) {
      for (const side of ['call', 'put'] as const) {
        slice.strikes.forEach((strike, i) => {
          const key = keyOf({ expiry: slice.expiry, side, strike });
          volumes.set(key, (volumes.get(key) ?? 0) + sign * slice[`${side}Volume`][i]);
        });
      }
    }
  };
  add(after, 1);
  add(before, -1);
  return volumes;
}

function printOf(
  listed: Listed,
  traded: Pick<ListedSpread, 'legs' | 'bid' | 'ask'>,
  instant: number,
  size: number,
  random: RandomSource,
): TradePrint {
  const { legs, bid, ask } = traded;
  const draw = random.uniform();
  const tick = listed.optionTick;
  const middle = roundTo(0.5 * (bid + ask), tick);
  const price = draw < AT_BID && bid > 0 ? bid : draw < AT_ASK ? ask : Math.max(tick, middle);
  return { instant, legs, price, size, bid, ask };
}
