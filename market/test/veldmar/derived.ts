import { deriveSurface, type Slice, type Surface } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import { DEMO_SEED, sessionInstant, type SimulatedSlice, VeldmarMarket } from '../../src/veldmar/index.ts';

export const market = new VeldmarMarket(DEMO_SEED);

export function coreSlice(s: SimulatedSlice): Slice {
  const { strikes, callBid, callAsk, putBid, putAsk } = s;
  return { timeToExpiry: calendarYears(s.instant, s.expiry), strikes, callBid, callAsk, putBid, putAsk };
}

/** Surface of an underlying at the close of a day, from its quotes as anybody would derive it. */
export function derived(symbol: string, day: number): Surface & { slices: SimulatedSlice[] } {
  const slices = market.slices(symbol, sessionInstant(day));
  return { ...deriveSurface({ spot: slices[0].underlyingPrice, slices: slices.map(coreSlice) }), slices };
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
