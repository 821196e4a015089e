import { black76Price } from '@umwelt/core/pricing';
import { calendarYears } from '@umwelt/core/time';
import { joinPicture, type Picture } from '../src/lib/api/picture.ts';
import type { UnderlyingSummary } from '../src/lib/api/underlying.ts';
import type { ResourceInput } from '../src/lib/server/derive/resource-input.ts';
import { resourcesOf } from '../src/lib/server/derive/resources-of.ts';
import { sessionBars } from '../src/lib/server/derive/session-bars.ts';
import type { StoredSlice } from '../src/lib/server/repositories/slices.ts';

const HALF_WIDTH = 0.02;

/** What a made picture is of; quotes are Black's at one smile, so that what comes of them is known. */
export interface MadeMarket {
  symbol: string;
  asOf: string;
  price: number;
  /** Dates, nearest first; 16:30 UTC */
  expiries: readonly string[];
  /** At the money, and its slope by log-moneyness */
  level: number;
  slope: number;
  rate: number;
  /** How many are listed, 2 % apart around the price */
  strikes: number;
  past: ResourceInput['past'];
  pastStored: readonly string[];
  ended: ResourceInput['ended'];
  previousPrice: number | undefined;
}

const MADE: MadeMarket = {
  symbol: 'FJRD',
  asOf: '2031-03-14T13:00:00Z',
  price: 100,
  // The third Fridays of April, May and June, and one Friday before them.
  expiries: ['2031-03-28', '2031-04-18', '2031-05-16', '2031-06-20'],
  level: 0.25,
  slope: -0.15,
  rate: 0.03,
  strikes: 21,
  past: [],
  pastStored: [],
  ended: sessionBars({ bars: [], dividends: [], splits: [] }),
  previousPrice: undefined,
};

const summary = (symbol: string): UnderlyingSummary => ({
  symbol,
  name: `${symbol} index`,
  sector: 'Made',
  source: 'import',
  kind: 'index',
  exercise: 'european',
  model: 'spot',
  settlement: 'cash',
  multiplier: 10,
  currency: 'XTS',
  foreignCurrency: null,
  zone: 'UTC',
  sessionClose: '16:30',
  optionTick: 0.01,
  underlyingTick: 0.01,
});

function sliceOf(m: MadeMarket, date: string): StoredSlice {
  const [instant, expiry] = [new Date(m.asOf), new Date(`${date}T16:30:00Z`)];
  const years = calendarYears(instant.getTime(), expiry.getTime());
  const [forward, discountFactor] = [m.price * Math.exp(m.rate * years), Math.exp(-m.rate * years)];
  const strikes = Float64Array.from({ length: m.strikes }, (_, i) =>
    Number((m.price * (1 + 0.02 * (i - (m.strikes - 1) / 2))).toFixed(6)),
  );
  const quote = (side: 'call' | 'put', half: number) =>
    strikes.map((strike) => {
      const volatility = m.level + m.slope * Math.log(strike / forward);
      const price = black76Price({ side, forward, strike, timeToExpiry: years, discountFactor, volatility });
      return Math.max(0, price + half);
    });
  const many = (value: number) => new Float64Array(strikes.length).fill(value);
  return {
    underlyingId: 1,
    ...{ instant, expiry, underlyingPrice: m.price, strikes },
    ...{ callBid: quote('call', -HALF_WIDTH), callAsk: quote('call', HALF_WIDTH) },
    ...{ putBid: quote('put', -HALF_WIDTH), putAsk: quote('put', HALF_WIDTH) },
    ...{ callBidSize: many(10), callAskSize: many(12), callLast: many(NaN), callVolume: many(3) },
    ...{ putBidSize: many(9), putAskSize: many(11), putLast: many(NaN), putVolume: many(2) },
    ...{ callOpenInterest: many(100), putOpenInterest: many(200) },
  };
}

/** A picture of a market that is made on the spot, by the derivation that makes all of them; no database is asked. */
export function madePicture(o: Partial<MadeMarket> = {}, moment: Partial<Picture> = {}): Picture {
  const m = { ...MADE, ...o };
  const rows = m.expiries.map((date) => sliceOf(m, date));
  const { surface, past, market } = resourcesOf({
    stored: { id: 1, ...summary(m.symbol) },
    rows,
    carry: { exercise: 'european' },
    events: [],
    ...{ past: m.past, pastStored: m.pastStored, ended: m.ended, previousPrice: m.previousPrice },
    futuresCurve: undefined,
    context: { forwardSource: 'parity', restored: [] },
  });
  const around = {
    ...{ isLive: false, previous: null, next: null, previousSession: null, nextSession: null },
    ...{ first: surface.asOf, latest: surface.asOf },
  };
  return joinPicture({ ...surface, ...around, ...moment }, past, market);
}
