import { black76Price, optionPrice, type Side } from '@umwelt/core/pricing';
import { spotForward, USUAL_RATE } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import type { GatheredSlice } from '../repositories/chain-staging.ts';
import { type Carry, curveRate, dividendsWithin } from './derive-stored.ts';

export type MadeQuotes = Record<'callBid' | 'callAsk' | 'putBid' | 'putAsk', number[]>;

/**
 * Prices at the volatilities that slices are quoted in, under the curves and dividends that are stored; what is not stored
 * counts as none, a rate as what rates usually are. Bid and offer lie half a width below and above where there is one volatility alone.
 * @param o.width decimal
 * @returns for each slice its quotes, or null where it is quoted in prices or its underlying's price is not known
 */
export function madeQuotes(o: {
  slices: readonly GatheredSlice[];
  carry: Carry;
  width: number;
}): (MadeQuotes | null)[] {
  return o.slices.map((slice) => {
    const isMade = (['call', 'put'] as const).some((side) =>
      slice.columns[`${side}_volatility`].some((_, i) => volatilitiesAt(slice, side, i, o.width) !== undefined),
    );
    if (!isMade || Number.isNaN(slice.underlyingPrice)) return null;
    const value = valuer(slice, o.carry);
    const column = (side: Side, quote: 'bid' | 'ask') =>
      slice.strikes.map((strike, i) => {
        const given = slice.columns[`${side}_${quote}`][i];
        const volatilities = volatilitiesAt(slice, side, i, o.width);
        return volatilities === undefined ? given : value(side, strike, volatilities[quote]);
      });
    return {
      callBid: column('call', 'bid'),
      callAsk: column('call', 'ask'),
      putBid: column('put', 'bid'),
      putAsk: column('put', 'ask'),
    };
  });
}

/** Volatilities of bid and offer; undefined where prices are quoted, or nothing. */
function volatilitiesAt(slice: GatheredSlice, side: Side, i: number, width: number) {
  const { columns } = slice;
  if (!Number.isNaN(columns[`${side}_bid`][i]) || !Number.isNaN(columns[`${side}_ask`][i])) return undefined;
  const middle = columns[`${side}_volatility`][i];
  const [low, high] = [columns[`${side}_bid_volatility`][i], columns[`${side}_ask_volatility`][i]];
  const bid = Number.isNaN(low) ? middle - width / 2 : low;
  const ask = Number.isNaN(high) ? middle + width / 2 : high;
  if (Number.isNaN(bid) || Number.isNaN(ask)) return undefined;
  return { bid: Math.max(0, bid), ask };
}

function valuer(slice: GatheredSlice, carry: Carry): (side: Side, strike: number, volatility: number) => number {
  const { instant, expiry, underlyingPrice: price } = slice;
  const timeToExpiry = calendarYears(instant.getTime(), expiry.getTime());
  const rate = carry.curve ? curveRate(carry.curve, timeToExpiry * 365) : USUAL_RATE.rate;
  const dividendYield = carry.foreignCurve ? curveRate(carry.foreignCurve, timeToExpiry * 365) : 0;
  const discountFactor = Math.exp(-rate * timeToExpiry);
  const dividends = dividendsWithin(carry, instant, expiry);
  if (carry.exercise === 'european') {
    const forward = carry.isFuture ? price : spotForward(price, rate - dividendYield, dividends, timeToExpiry);
    return (side, strike, volatility) =>
      black76Price({ side, forward, strike, timeToExpiry, volatility, discountFactor });
  }
  const market = carry.isFuture ? { model: 'futures' as const } : { model: 'spot' as const, dividendYield, dividends };
  return (side, strike, volatility) =>
    optionPrice({ side, exercise: 'american', underlying: price, strike, timeToExpiry, rate, volatility, ...market });
}
