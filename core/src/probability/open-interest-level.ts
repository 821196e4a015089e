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
