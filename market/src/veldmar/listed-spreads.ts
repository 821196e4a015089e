import type { ListedSpread, ListedSpreadKind, QuotedSlice, TradedLeg } from '../quote-source/index.ts';
import { civilOf, dayOf } from './civil-day.ts';
import { standardExpiry } from './expiries.ts';
import type { Listed } from './listing.ts';
import { roundTo } from './quote-slice.ts';

/** Monthly expiries with listed spreads, nearest first. */
const EXPIRIES = 3;
/** Strikes from one leg of a vertical to the next, and verticals on either side of the forward. */
const WIDTH = 2;
const VERTICALS = 3;
/** Half width of a spread's quote, as a share of its legs' together: who quotes it hedges the legs against each other. */
const TIGHTNESS = 0.55;

/**
 * Spreads that the exchange lists on an underlying: verticals of calls above and of puts below the forward, a straddle and a
 * strangle in each of the next monthly expiries, and a calendar from each to the next. Quoted inside what their legs cost.
 * @param slices all expiries of one instant, nearest first
 */
export function listedSpreads(listed: Listed, slices: readonly QuotedSlice[]): ListedSpread[] {
  const monthlies = slices.filter((s) => isMonthly(dayOf(s.expiry)) && s.strikes.length >= 5).slice(0, EXPIRIES);
  const spreads: ListedSpread[] = [];
  const list = (kind: ListedSpreadKind, legs: PlacedLeg[]) => {
    const spread = quoted(listed, kind, legs);
    if (spread) spreads.push(spread);
  };
  monthlies.forEach((slice, e) => {
    const middle = nearestStrike(slice, slice.underlyingPrice);
    for (let v = 0; v < VERTICALS; v++) {
      list('vertical', [
        placed(slice, 'call', middle + v * WIDTH, 1),
        placed(slice, 'call', middle + (v + 1) * WIDTH, -1),
      ]);
      list('vertical', [
        placed(slice, 'put', middle - v * WIDTH, 1),
        placed(slice, 'put', middle - (v + 1) * WIDTH, -1),
      ]);
    }
    list('straddle', [placed(slice, 'call', middle, 1), placed(slice, 'put', middle, 1)]);
    list('strangle', [placed(slice, 'call', middle + WIDTH, 1), placed(slice, 'put', middle - WIDTH, 1)]);
    const next = monthlies[e + 1];
    if (next === undefined) return;
    const far = next.strikes.indexOf(slice.strikes[middle]);
    if (far >= 0) list('calendar', [placed(next, 'call', far, 1), placed(slice, 'call', middle, -1)]);
  });
  return spreads;
}

interface PlacedLeg {
  slice: QuotedSlice;
  index: number;
  leg: TradedLeg;
}

function placed(slice: QuotedSlice, side: TradedLeg['side'], index: number, ratio: number): PlacedLeg {
  return { slice, index, leg: { expiry: slice.expiry, side, strike: slice.strikes[index], ratio } };
}

/** Quote of a spread from those of its legs; none where a leg has no strike or no two sides. */
function quoted(listed: Listed, kind: ListedSpreadKind, legs: PlacedLeg[]): ListedSpread | undefined {
  let [middle, half, size] = [0, 0, Infinity];
  for (const { slice, index, leg } of legs) {
    const { side, ratio } = leg;
    const [bid, ask] = [slice[`${side}Bid`][index], slice[`${side}Ask`][index]];
    if (!(bid > 0 && ask > bid)) return undefined;
    middle += 0.5 * ratio * (bid + ask);
    half += 0.5 * Math.abs(ratio) * (ask - bid);
    size = Math.min(size, slice[`${side}BidSize`][index], slice[`${side}AskSize`][index]);
  }
  // A stale leg can turn the sign of what cannot be worth less than nothing.
  if (middle <= 0) return undefined;
  const tick = listed.optionTick;
  const bid = Math.max(0, Math.ceil((middle - TIGHTNESS * half) / tick - 1e-9));
  const ask = Math.max(bid + 1, Math.floor((middle + TIGHTNESS * half) / tick + 1e-9));
  return {
    kind,
    legs: legs.map((l) => l.leg),
    bid: roundTo(bid * tick, tick),
    ask: roundTo(ask * tick, tick),
    bidSize: bid > 0 ? size : 0,
    askSize: size,
  };
}

function nearestStrike(slice: QuotedSlice, price: number): number {
  let best = 0;
  slice.strikes.forEach((strike, i) => {
    if (Math.abs(strike - price) < Math.abs(slice.strikes[best] - price)) best = i;
  });
  return best;
}

function isMonthly(day: number): boolean {
  const { year, month } = civilOf(day);
  return standardExpiry(year, month) === day;
}
