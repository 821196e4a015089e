import { europeanSliceGreeksInto, firstGreeksColumns, type Option, optionPrice, type Side } from '@umwelt/core/pricing';

import { monotoneCubic } from '@umwelt/core/math';

export interface SliceTheory {
  forward: number;
  rate: number;
  timeToExpiry: number;
  strikes: Float64Array;
  /** Black volatility of each strike on the forward */
  volatilities: Float64Array;
  /** What early exercise is worth, and on what */
  exercise:
    | { kind: 'european' }
    | { kind: 'american-futures' }
    /** Spot that pays nothing until expiry, or cash dividends (years from now, amount) */
    | { kind: 'american-spot'; spot: number; dividends: { time: number; amount: number }[] };
}

export interface SideValues {
  price: Float64Array;
  delta: Float64Array;
  vega: Float64Array;
}

/** Deviations in the money at which early exercise is worth nothing yet, and at which its premium is computed. */
const NO_PREMIUM = -2.6;
const PREMIUM_NODES = [-1.1, -0.3, 0.4, 1.1, 2, 3.3];

/**
 * Fair values of the calls and puts of one expiry. An American value is the European one on the expiry's forward plus
 * the premium for early exercise of an option with its strike's volatility.
 */
export function theoreticalValues(o: SliceTheory): Record<Side, SideValues> {
  const count = o.strikes.length;
  const values = { call: firstGreeksColumns(count), put: firstGreeksColumns(count) };
  europeanSliceGreeksInto(values.call, values.put, {
    // A forward is a spot whose yield is the rate.
    spot: o.forward,
    timeToExpiry: o.timeToExpiry,
    rate: o.rate,
    dividendYield: o.rate,
    strike: o.strikes,
    volatility: o.volatilities,
  });
  if (o.exercise.kind !== 'european') {
    for (const side of ['call', 'put'] as const) addPremium(values[side].price, o, side);
  }
  return values;
}

/**
 * Adds the premium for early exercise: exact at a few strikes, a monotone cubic between them, because it is smooth and
 * a boundary for each strike would take most of the demo's loading time.
 */
function addPremium(prices: Float64Array, o: SliceTheory, side: Side): void {
  const { strikes, forward } = o;
  if (!mayExerciseEarly(o, side, strikes[0])) return;
  const deviation = o.volatilities[strikes.length >> 1] * Math.sqrt(o.timeToExpiry);
  const inTheMoney = side === 'put' ? 1 : -1;
  const nodes = [NO_PREMIUM, ...PREMIUM_NODES].map((z) => inTheMoney * z * deviation);
  const premiums = nodes.map((k, i) => (i === 0 ? 0 : premiumAt(o, side, k)));
  if (inTheMoney < 0) {
    nodes.reverse();
    premiums.reverse();
  }
  const premium = monotoneCubic(nodes, premiums);
  const spot = o.exercise.kind === 'american-spot' ? o.exercise.spot : forward;
  for (let i = 0; i < strikes.length; i++) {
    const value = prices[i] + Math.max(0, premium(Math.log(strikes[i] / forward)));
    prices[i] = Math.max(value, side === 'put' ? strikes[i] - spot : spot - strikes[i]);
  }
}

/**
 * Whether exercise before expiry can ever pay at strikes from the lowest up.
 * @see Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183: a call is left
 *   alone until a dividend worth more than the interest on its strike until the next one.
 */
function mayExerciseEarly(o: SliceTheory, side: Side, lowestStrike: number): boolean {
  if (side === 'put' || o.exercise.kind !== 'american-spot') return true;
  const { dividends } = o.exercise;
  return dividends.some((d, j) => {
    const until = j + 1 < dividends.length ? dividends[j + 1].time : o.timeToExpiry;
    return d.amount > lowestStrike * -Math.expm1(-o.rate * (until - d.time));
  });
}

function premiumAt(o: SliceTheory, side: Side, k: number): number {
  const { exercise, timeToExpiry, rate } = o;
  const volatility = volatilityAt(o, k);
  const common = { side, strike: o.forward * Math.exp(k), timeToExpiry, rate, volatility };
  const option: Omit<Option, 'exercise'> =
    exercise.kind === 'american-spot'
      ? { ...common, model: 'spot', underlying: exercise.spot, dividends: exercise.dividends }
      : { ...common, model: 'futures', underlying: o.forward };
  const american = optionPrice({ ...option, exercise: 'american' }, 'draft');
  return Math.max(0, american - optionPrice({ ...option, exercise: 'european' }, 'draft'));
}

/** Volatility at a log-moneyness, linear between the strikes' own. */
function volatilityAt(o: SliceTheory, k: number): number {
  const strike = o.forward * Math.exp(k);
  const next = o.strikes.findIndex((s) => s >= strike);
  if (next <= 0) return o.volatilities[next === 0 ? 0 : o.volatilities.length - 1];
  const share = (strike - o.strikes[next - 1]) / (o.strikes[next] - o.strikes[next - 1]);
  return o.volatilities[next - 1] + share * (o.volatilities[next] - o.volatilities[next - 1]);
}
