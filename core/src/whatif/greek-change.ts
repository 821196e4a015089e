import { type Accuracy, type Greeks, type Option, optionGreeks } from '../pricing/index.ts';
import { dividendsWithin } from './dividends-within.ts';

/** Causes of a change of a Greek, in the order in which they are told. */
export const GREEK_CAUSES = ['underlying', 'time', 'volatility', 'rate', 'dividends', 'contract', 'rest'] as const;
export type GreekCause = (typeof GREEK_CAUSES)[number];
type Change = Record<GreekCause, number>;

/** The change of every Greek by cause, per unit of underlying; the parts of each add up to its change. */
export interface GreekChange {
  from: Greeks;
  to: Greeks;
  /** By Greek, and of it by cause */
  parts: Record<keyof Greeks, Change>;
}

/**
 * Splits the change of each Greek between two states of an option by cause: what changing one input of the first state to the
 * second's makes of it, all others as they were; `rest` is what they make together beyond that. Yield and cash dividends are one
 * cause, strike, side and exercise another. Between models all is `contract`, since their volatilities are not the same thing.
 * @throws RangeError for states outside the ranges of {@link Option}
 */
export function explainGreekChange(from: Option, to: Option, accuracy: Accuracy = 'default'): GreekChange {
  const [before, after] = [optionGreeks(from, accuracy), optionGreeks(to, accuracy)];
  const alone: Partial<Record<GreekCause, Greeks>> =
    from.model === to.model ? changedAlone(from, to, accuracy) : { contract: after };
  const names = Object.keys(before) as (keyof Greeks)[];
  const parts = Object.fromEntries(
    names.map((name) => {
      const change: Change = { underlying: 0, time: 0, volatility: 0, rate: 0, dividends: 0, contract: 0, rest: 0 };
      let told = 0;
      for (const cause of GREEK_CAUSES) {
        const greeks = alone[cause];
        if (!greeks) continue;
        change[cause] = greeks[name] - before[name];
        told += change[cause];
      }
      change.rest = after[name] - before[name] - told;
      return [name, change];
    }),
  ) as Record<keyof Greeks, Change>;
  return { from: before, to: after, parts };
}

/** Greeks of the first state with one input of the second, for each cause by which they differ. */
function changedAlone(from: Option, to: Option, accuracy: Accuracy): Partial<Record<GreekCause, Greeks>> {
  const isSameContract = from.strike === to.strike && from.side === to.side && from.exercise === to.exercise;
  // Those that both expiries see; what lies between them comes and goes with the time.
  const shorter = Math.min(from.timeToExpiry, to.timeToExpiry);
  const paid = (o: Option) => JSON.stringify([o.dividendYield ?? 0, dividendsWithin(o.dividends, shorter)]);
  const states: Partial<Record<GreekCause, Option>> = {};
  if (to.underlying !== from.underlying) states.underlying = { ...from, underlying: to.underlying };
  if (to.timeToExpiry !== from.timeToExpiry) {
    const known = to.timeToExpiry > from.timeToExpiry ? to.dividends : from.dividends;
    const dividends = dividendsWithin(known, to.timeToExpiry);
    states.time = { ...from, timeToExpiry: to.timeToExpiry, dividends: optional(dividends) };
  }
  if (to.volatility !== from.volatility) states.volatility = { ...from, volatility: to.volatility };
  if (to.rate !== from.rate) states.rate = { ...from, rate: to.rate };
  if (paid(from) !== paid(to)) {
    const dividends = dividendsWithin(to.dividends, from.timeToExpiry);
    states.dividends = { ...from, dividendYield: to.dividendYield, dividends: optional(dividends) };
  }
  if (!isSameContract) states.contract = { ...from, strike: to.strike, side: to.side, exercise: to.exercise };
  return Object.fromEntries(Object.entries(states).map(([cause, state]) => [cause, optionGreeks(state, accuracy)]));
}

const optional = <T>(list: readonly T[]): readonly T[] | undefined => (list.length > 0 ? list : undefined);
