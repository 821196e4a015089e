import { type CarryInput, deriveSurface, type Slice, type Surface } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import {
  CURRENCIES,
  curveOn,
  dayOf,
  DEMO_SEED,
  dividendsOf,
  sessionInstant,
  type SimulatedSlice,
  UNIVERSE,
  VeldmarMarket,
} from '../../src/veldmar/index.ts';

export const market = new VeldmarMarket(DEMO_SEED);

export function coreSlice(s: SimulatedSlice): Slice {
  const { strikes, callBid, callAsk, putBid, putAsk } = s;
  return { timeToExpiry: calendarYears(s.instant, s.expiry), strikes, callBid, callAsk, putBid, putAsk };
}

/** What the carry of a slice is known to be: rates of the day's curves, announced dividends. */
export function carryOf(s: SimulatedSlice): CarryInput {
  const listed = UNIVERSE.find((u) => u.symbol === s.symbol);
  if (!listed) throw new Error(`${s.symbol} is not listed`);
  const day = dayOf(s.instant);
  const time = calendarYears(s.instant, s.expiry);
  const rateAt = (currency: string, years: number) => {
    const { days, rates } = curveOn(currency, day);
    const next = days.findIndex((d) => d >= 365 * years);
    if (next <= 0) return rates[next === 0 ? 0 : rates.length - 1];
    const share = (365 * years - days[next - 1]) / (days[next] - days[next - 1]);
    return rates[next - 1] + share * (rates[next] - rates[next - 1]);
  };
  const dividends = dividendsOf(listed)
    .map((d) => ({ time: calendarYears(s.instant, d.instant), amount: d.amount }))
    .filter((d) => d.time > 0 && d.time < time);
  return {
    spot: s.underlyingPrice,
    rate: rateAt(listed.currency, time),
    // A currency whose curve nobody publishes has a yield that nobody knows.
    dividendYield: CURRENCIES.includes(listed.foreignCurrency ?? '')
      ? rateAt(listed.foreignCurrency as string, time)
      : 0,
    dividends,
    exercise: listed.exercise,
    isFuture: listed.model === 'futures',
  };
}

/** Surface of simulated slices, from their quotes as anybody would derive it. */
export function surfaceOf(slices: SimulatedSlice[]): Surface {
  return deriveSurface({
    spot: slices[0].underlyingPrice,
    slices: slices.map(coreSlice),
    carries: slices.map(carryOf),
  });
}

/** Surface of an underlying at the close of a day. */
export function derived(symbol: string, day: number): Surface & { slices: SimulatedSlice[] } {
  const slices = market.slices(symbol, sessionInstant(day));
  return { ...surfaceOf(slices), slices };
}

/** Measures of the expiry nearest to 30 days. */
export function monthSmile(surface: Surface) {
  const distance = (e: Surface['expiries'][number]) => Math.abs(e.slice.timeToExpiry * 365 - 30);
  const nearest = surface.expiries.reduce((a, b) => (distance(b) < distance(a) ? b : a));
  if (!nearest.measures) throw new Error('no smile near 30 days');
  return nearest.measures;
}

/** Close-to-close volatility of the last sessions up to a day, zero mean, 252 sessions a year. */
export function realized(symbol: string, sessions: number, until: string): number {
  const closes = market
    .bars(symbol)
    .filter((b) => b.date <= until)
    .slice(-sessions - 1)
    .map((b) => b.close);
  let sum = 0;
  for (let i = 1; i < closes.length; i++) sum += Math.log(closes[i] / closes[i - 1]) ** 2;
  return Math.sqrt((sum / (closes.length - 1)) * 252);
}
