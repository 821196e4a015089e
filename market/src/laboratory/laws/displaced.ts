import { black76Price, optionPrice } from '@umwelt/core/pricing';
import type { Law } from './law.ts';
import { lawOfPrices } from './law-of-prices.ts';

/**
 * Forward plus a share of it lognormal: the smile falls with the strike. Its American options are those on a future of the
 * sum, with the strike moved along.
 * @param o.shift share of the forward that is added, > -1
 * @param o.volatility of the sum, per year
 * @see Rubinstein, M. (1983). Displaced diffusion option pricing. Journal of Finance 38(1), 213-217.
 */
export function displaced({ shift, volatility }: { shift: number; volatility: number }): Law {
  return {
    ...lawOfPrices((side, strike, timeToExpiry) =>
      black76Price({ side, forward: 1 + shift, strike: strike + shift, timeToExpiry, volatility, discountFactor: 1 }),
    ),
    american: ({ forward, strike, ...rest }) =>
      optionPrice(
        {
          ...rest,
          exercise: 'american',
          model: 'futures',
          underlying: forward * (1 + shift),
          strike: strike + shift * forward,
          volatility,
        },
        'fine',
      ),
  };
}
