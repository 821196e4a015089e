import { europeanSliceGreeksInto, firstGreeksColumns, type Side } from '@umwelt/core/pricing';
import { exercisePremiums, type ExerciseTerms, type Smile } from '@umwelt/core/surface';

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
  if (o.exercise.kind !== 'european') addPremiums(values, o);
  return values;
}

/** Adds the premium for early exercise, by the core's own mixture of a few strikes. */
function addPremiums(values: Record<Side, SideValues>, o: SliceTheory): void {
  const { strikes, forward, rate, timeToExpiry, exercise } = o;
  const ends = [Math.log(strikes[0] / forward), Math.log(strikes[strikes.length - 1] / forward)] as const;
  const smile: Smile = {
    timeToExpiry,
    totalVariance: (k) => volatilityAt(o, k) ** 2 * timeToExpiry,
    // A premium asks for the level alone.
    slope: () => NaN,
    curvature: () => NaN,
  };
  const underlying: ExerciseTerms['underlying'] =
    exercise.kind === 'american-spot'
      ? { kind: 'spot', spot: exercise.spot, dividendYield: yieldOf(o, exercise), dividends: exercise.dividends }
      : { kind: 'future' };
  const premium = exercisePremiums({ timeToExpiry, forward, rate, underlying }, smile, strikes, ends, 'final');
  for (const side of ['call', 'put'] as const) {
    const { price } = values[side];
    for (let i = 0; i < strikes.length; i++) price[i] += premium[side][i];
  }
}

/** Yield per year that the forward holds beside the cash dividends. */
function yieldOf(
  { forward, rate, timeToExpiry }: SliceTheory,
  o: { spot: number; dividends: { time: number; amount: number }[] },
): number {
  const paid = o.dividends.reduce((sum, d) => sum + d.amount * Math.exp(-rate * d.time), 0);
  const implied = rate - Math.log(forward / (o.spot - paid)) / timeToExpiry;
  // Rounding of the spot to its tick is no yield.
  return Math.abs(implied * timeToExpiry) < 1e-4 ? 0 : implied;
}

/** Volatility at a log-moneyness, linear between the strikes' own. */
function volatilityAt(o: SliceTheory, k: number): number {
  const strike = o.forward * Math.exp(k);
  const next = o.strikes.findIndex((s) => s >= strike);
  if (next <= 0) return o.volatilities[next === 0 ? 0 : o.volatilities.length - 1];
  const share = (strike - o.strikes[next - 1]) / (o.strikes[next] - o.strikes[next - 1]);
  return o.volatilities[next - 1] + share * (o.volatilities[next] - o.volatilities[next - 1]);
}
