import { mixSeed, randomSource } from '../random/index.ts';
import { dayOf } from './civil-day.ts';
import type { Listed } from './listing.ts';
import { sessionsUpTo } from './sessions.ts';
import { listedIndex } from './universe.ts';

/** An order that somebody works for days: at one strike, or in a whole wing. */
interface WorkedOrder {
  kind: 'bid strike' | 'sold wing';
  strike: number;
  /** Half widths by which it moves quotes on its first day: one to three whole widths */
  size: number;
  /** Sessions since it began */
  age: number;
}

/** Chance that an order begins in a session, for each expiry. */
const BEGINS = 0.16;
/** Sessions over which an order's pressure falls to a third, and after which nothing is left of it. */
const FADES = 4;
const FORGOTTEN = 14;
/** Half widths: one to three whole ones. */
const SIZE = { least: 2, spread: 4 };
/** Deviations below its strike over which a sold wing reaches its full size. */
const WING = 0.5;

/**
 * Half widths by which orders that are worked move the quotes of each strike, calls and puts alike: fresh ones fully, older ones
 * less. Zeros for an underlying without such orders.
 * @param deviation of the log price to the expiry
 */
export function orderFlow(
  seed: number,
  listed: Listed,
  o: { day: number; expiry: number; strikes: Float64Array; deviation: number },
): Float64Array {
  const flow = new Float64Array(o.strikes.length);
  if (!listed.character.hasOrderFlow) return flow;
  for (const order of workedOrders(seed, listed, o)) {
    const pressure = order.size * Math.exp(-order.age / FADES);
    if (order.kind === 'bid strike') flow[nearestIndex(o.strikes, order.strike)] += pressure;
    else {
      o.strikes.forEach((strike, i) => {
        const below = Math.log(order.strike / strike) / o.deviation;
        flow[i] -= pressure * Math.min(1, Math.max(0, below / WING));
      });
    }
  }
  return flow;
}

function workedOrders(
  seed: number,
  listed: Listed,
  o: { day: number; expiry: number; deviation: number },
): WorkedOrder[] {
  const sessions = sessionsUpTo(o.day, FORGOTTEN);
  return sessions.flatMap((session, i): WorkedOrder[] => {
    const random = randomSource(mixSeed(seed, 12, listedIndex(listed.symbol), session, dayOf(o.expiry)));
    if (random.uniform() > BEGINS) return [];
    const isWing = random.uniform() < 0.5;
    // A wing is sold below, a strike bid around the money; at a price that stays the same while the order lives.
    const deviations = isWing ? -0.9 - 0.4 * random.uniform() : 0.7 * random.normal();
    const strike = listed.character.price * Math.exp(deviations * o.deviation);
    const size = SIZE.least + SIZE.spread * random.uniform();
    return [{ kind: isWing ? 'sold wing' : 'bid strike', strike, size, age: sessions.length - 1 - i }];
  });
}

function nearestIndex(strikes: Float64Array, strike: number): number {
  let best = 0;
  for (let i = 1; i < strikes.length; i++) {
    if (Math.abs(strikes[i] - strike) < Math.abs(strikes[best] - strike)) best = i;
  }
  return best;
}
