import { grown, type Later, type MarketDay, premiumOf, seenOn, type StructureRefused } from './surface-structure.ts';
import type { MarketExpiry, ValuedLeg, ValuedOptionLeg, MarketShift } from './surface-structure.ts';
import { naturalSpline } from '../math/index.ts';
import { structureCost } from './leg.ts';
import { payoffOf } from './payoff.ts';
import type { ProfitAt } from './profit-profile.ts';
import { type LaterGreeks, laterGreeks } from './later-option.ts';

/** What a structure is looked at by: plain derivatives per unit of underlying, but profit. */
export const STRUCTURE_MEASURES = ['profit', 'delta', 'gamma', 'theta', 'vega', 'rho'] as const;
export type StructureMeasure = (typeof STRUCTURE_MEASURES)[number];

/** Measures by day and price: row after row of prices, one row a day. */
export type StructureGrid = Record<StructureMeasure, Float64Array>;

interface GridInput {
  expiries: readonly MarketExpiry[];
  /** Undefined for the first expiry; the others before it, ascending */
  days: readonly (MarketDay | undefined)[];
  /** Ascending, > 0 */
  prices: Float64Array;
  shift?: MarketShift;
  /** Alone these of the right to exercise early; all without it. The others of an American leg are then those of a European one. */
  measures?: readonly StructureMeasure[];
}

/** Steps of volatility, time and rate that tell how the right to exercise early changes with them. */
const STEPS = { volatility: 0.005, years: 1 / 365, rate: 0.001 };
/** Places even in the logarithm of the price at which that right is worked out; a spline joins them. */
const PLACES = 97;
/** So many lie beyond the prices on either side: a spline has no bend at its ends, of which so far in a hundred-thousandth is left. */
const BEYOND = 9;
/** Least distance of places: nearer ones show what the premium errs by. */
const LEAST_STEP = 0.002;

/**
 * Profit and first-order Greeks of a structure, gamma too, on many days at many prices, each as
 * {@link surfaceStructure} sees the day: a Greek by volatility is by that after the day, any other holds the volatility of its price. European legs in closed form. What the
 * right to exercise early adds comes from differences of a premium that errs by about 1e-5 of the strike: it adds an error of up to
 * 0.001 to delta, of a hundredth of the highest to gamma of what is not exercised yet, of 0.1 to vega and theta at a strike of 100.
 * @throws RangeError as surfaceStructure
 */
export function structureGrid(
  legs: readonly ValuedLeg[],
  { expiries, days, prices, shift, measures = STRUCTURE_MEASURES }: GridInput,
): { ok: true; grid: StructureGrid } | StructureRefused {
  const count = prices.length;
  const room = () => new Float64Array(count * days.length);
  const grid: StructureGrid = {
    ...{ profit: room(), delta: room(), gamma: room() },
    ...{ theta: room(), vega: room(), rho: room() },
  };
  const logs = prices.map(Math.log);
  let before: readonly (number | undefined)[] = [];
  let starts: readonly (number | undefined)[] = [];
  for (const [row, day] of days.entries()) {
    const seen = seenOn(legs, { expiries, day, shift, starts });
    if ('ok' in seen) return seen;
    // As they have moved from day to day they are looked for next.
    const [last, found] = [before, seen.fittedVolatilities];
    starts = found.map((v, i) => (v === undefined ? undefined : 2 * v - (last[i] ?? v)));
    before = found;
    const of = (name: StructureMeasure) => grid[name].subarray(row * count, (row + 1) * count);
    const out = {
      ...{ value: of('profit'), delta: of('delta'), gamma: of('gamma') },
      ...{ theta: of('theta'), vega: of('vega'), rho: of('rho') },
    };
    out.value.fill(-structureCost(seen.legs));
    for (const [i, leg] of seen.legs.entries()) {
      const later = seen.later?.[i];
      if (leg.kind !== 'option' || !later) {
        addExpired(leg, prices, out);
        continue;
      }
      const volatility = seen.laterVolatilities[i] ?? NaN;
      const moving = seen.volatilityAt[i];
      const { quantity } = leg;
      laterGreeks(
        later.option,
        moving ? prices.map(moving) : volatility,
        { quantity, prices, logs, isForwardFixed: later.isForwardFixed },
        out,
      );
      if (later.american) addPremium(leg, later, volatility, { prices, measures, out });
    }
  }
  return { ok: true, grid };
}

/** What is no option, or one that expires on the day: worth its exercise, and moved by nothing but the price. */
function addExpired(leg: ValuedLeg, prices: Float64Array, { value, delta }: LaterGreeks): void {
  const sign = leg.kind === 'option' && leg.side === 'put' ? -1 : 1;
  for (let j = 0; j < prices.length; j++) {
    const worth = payoffOf(leg, prices[j]);
    value[j] += leg.quantity * worth;
    if (leg.kind !== 'cash' && worth > 0) delta[j] += leg.quantity * sign;
  }
}

/** Adds to a column what the right to exercise early is worth, and how that changes. */
function addPremium(
  leg: ValuedOptionLeg,
  later: Later,
  volatility: number,
  { prices, measures, out }: { prices: Float64Array; measures: readonly StructureMeasure[]; out: LaterGreeks },
): void {
  const { option, american } = later;
  const { quantity } = leg;
  if (!american) return;
  const logs = prices.map(Math.log);
  const [first, last] = [logs[0], logs[logs.length - 1]];
  const step = Math.max(LEAST_STEP, (last - first) / (PLACES - 1 - 2 * BEYOND));
  const from = 0.5 * (first + last - (PLACES - 1) * step);
  const splineOf = (premium: ProfitAt) =>
    naturalSpline({
      ...{ from, step },
      values: Float64Array.from({ length: PLACES }, (_, i) => premium(Math.exp(from + i * step))),
    });
  const here = splineOf(premiumOf(leg, later, volatility));
  for (let j = 0; j < prices.length; j++) {
    // By the logarithm: the price's own derivatives follow.
    const [worth, slope, bend] = here(logs[j]);
    out.value[j] += quantity * worth;
    out.delta[j] += (quantity * slope) / prices[j];
    out.gamma[j] += (quantity * (bend - slope)) / (prices[j] * prices[j]);
  }
  const add = (name: 'theta' | 'vega' | 'rho', premium: ProfitAt, by: number) => {
    const moved = splineOf(premium);
    for (let j = 0; j < prices.length; j++) out[name][j] += (quantity * (moved(logs[j])[0] - here(logs[j])[0])) / by;
  };
  if (measures.includes('vega')) add('vega', premiumOf(leg, later, volatility + STEPS.volatility), STEPS.volatility);
  if (measures.includes('theta')) {
    const years = Math.min(STEPS.years, 0.5 * option.yearsLeft);
    add('theta', premiumOf(leg, grown(later, { years }), volatility), years);
  }
  if (measures.includes('rho')) add('rho', premiumOf(leg, grown(later, { rate: STEPS.rate }), volatility), STEPS.rate);
}
