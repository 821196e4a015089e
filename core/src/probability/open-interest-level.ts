import { atLeastChance } from './binomial.ts';

/** Open contracts of one expiry by strike; NaN where none were told. */
export interface OpenInterest {
  strikes: ArrayLike<number>;
  call: ArrayLike<number>;
  put: ArrayLike<number>;
}

/** What all open options would be worth if the price settled at a strike, per unit of the contract's multiplier. */
export interface SettledWorth {
  price: number;
  calls: number;
  puts: number;
}

/**
 * Worth of all open calls and of all open puts for a settlement at each listed strike: each option's exercise value there times
 * its open contracts.
 */
export function settledWorths({ strikes, call, put }: OpenInterest): SettledWorth[] {
  return Array.from(strikes, (price) => {
    let [calls, puts] = [0, 0];
    for (let i = 0; i < strikes.length; i++) {
      if (strikes[i] < price) calls += known(call[i]) * (price - strikes[i]);
      else puts += known(put[i]) * (strikes[i] - price);
    }
    return { price, calls, puts };
  });
}

function known(contracts: number): number {
  return Number.isNaN(contracts) ? 0 : contracts;
}

/**
 * The settlement at which all open options together are worth least.
 * @returns undefined without open contracts
 */
export function leastWorthLevel(worths: readonly SettledWorth[]): SettledWorth | undefined {
  if (worths.every(({ calls, puts }) => calls + puts === 0)) return undefined;
  return worths.reduce((least, w) => (w.calls + w.puts < least.calls + least.puts ? w : least));
}

/** An expiry that is over: the level of least worth some time before, where it settled, and what chance alone would have done. */
export interface LevelTrial {
  level: number;
  settled: number;
  /** Chance, at the time of the level, to settle at or below a price */
  below: (price: number) => number;
  /** How close to the level counts as near, price */
  reach: number;
}

/** Whether expiries settled near the level oftener than by chance. */
export interface LevelRecord {
  count: number;
  /** Of them, settled near it */
  near: number;
  /** As many as chance alone brings */
  expected: number;
  /** Chance of as many or more where nothing draws the price to the level */
  chance: number;
}

/** Counts expiries that settled near the level of least worth, against what the law of the price gave to that. */
export function levelRecord(trials: readonly LevelTrial[]): LevelRecord {
  const chances = trials.map(({ level, below, reach }) => below(level + reach) - below(level - reach));
  const near = trials.filter(({ level, settled, reach }) => Math.abs(settled - level) <= reach).length;
  return {
    count: trials.length,
    near,
    expected: chances.reduce((a, b) => a + b, 0),
    chance: atLeastChance(chances, near),
  };
}
