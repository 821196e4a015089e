import { civilOf } from './civil-day.ts';
import { deliveriesAfter } from './expiries.ts';
import type { Listed } from './listing.ts';
import { curveOn, rateAt } from './rate-curves.ts';
import { UNIVERSE } from './universe.ts';

export interface FuturesCurve {
  /** Last trading days, ascending */
  deliveries: number[];
  prices: number[];
}

const LISTED_DELIVERIES = 6;
/** Storage and interest of a commodity, per year. */
const CARRY = 0.03;

/**
 * Prices of a future's delivery months from its nearest one's. Grain is dear before the harvest and cheap after it; the
 * future on the index carries like the index.
 */
export function futuresCurve(listed: Listed, price: number, day: number): FuturesCurve {
  const { deliveries: months, curveSeason = 0, follows } = listed.character;
  if (!months) throw new Error(`${listed.symbol} has no delivery months`);
  const deliveries = deliveriesAfter(day, months, LISTED_DELIVERIES);
  const leader = UNIVERSE.find((u) => u.symbol === follows?.symbol);
  const curve = curveOn('XTS', day);
  // In May the old crop runs out: the season's highest price.
  const season = (delivery: number) => curveSeason * Math.cos((2 * Math.PI * (civilOf(delivery).month - 5)) / 12);
  const level = (delivery: number) => {
    const years = (delivery - day) / 365;
    return leader ? (rateAt(curve, years) - leader.character.yield) * years : season(delivery) + CARRY * years;
  };
  const nearest = level(deliveries[0]);
  const { underlyingTick } = listed;
  const prices = deliveries.map((delivery) => {
    const value = price * Math.exp(level(delivery) - nearest);
    return Number((Math.round(value / underlyingTick) * underlyingTick).toPrecision(12));
  });
  return { deliveries, prices };
}
