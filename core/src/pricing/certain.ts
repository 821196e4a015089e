import { carryYield, type Option } from './option.ts';

/** The best known date of exercise when the path of the underlying is certain. */
export interface CertainExercise {
  price: number;
  /** Years from now; timeToExpiry for a European option */
  time: number;
  /** Today's spot whose certain path without dividends reaches the same value at that time */
  equivalentSpot: number;
}

/**
 * Value of an option whose underlying moves without uncertainty: the best discounted payoff over the dates of exercise.
 * Between dividends it is S e^(-q t) - K e^(-r t) (or its negative), whose extremes lie at the ends and at one
 * stationary point.
 */
export function certainExercise(o: Option): CertainExercise {
  const { rate: r, timeToExpiry: T, strike: K } = o;
  const q = carryYield(o);
  const sign = o.side === 'call' ? 1 : -1;
  const dividends = [...(o.dividends ?? [])].sort((a, b) => a.time - b.time);
  let best: CertainExercise = { price: 0, time: T, equivalentSpot: o.underlying };
  let spot = o.underlying;
  let from = 0;
  const consider = (time: number) => {
    const price = sign * (spot * Math.exp(-q * time) - K * Math.exp(-r * time));
    if (price > best.price) best = { price, time, equivalentSpot: spot };
  };
  for (const next of [...dividends, undefined]) {
    const until = next?.time ?? T;
    if (o.exercise === 'american') {
      consider(from);
      consider(until);
      const stationary = Math.log((q * spot) / (r * K)) / (q - r);
      if (stationary > from && stationary < until) consider(stationary);
    } else if (!next) consider(until);
    if (next) spot = Math.max(spot - next.amount * Math.exp((q - r) * next.time), 0);
    from = until;
  }
  return best.price > 0 ? best : { price: 0, time: T, equivalentSpot: spot };
}
