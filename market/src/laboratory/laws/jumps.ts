import { black76Price } from '@umwelt/core/pricing';
import type { Complex } from './characteristic.ts';
import type { Law } from './law.ts';
import { lawOfPrices } from './law-of-prices.ts';

/** Jumps of a price: so many a year, their logarithm normal. */
export interface Jumps {
  perYear: number;
  meanLog: number;
  deviationLog: number;
}

/** Chance of more jumps than the series takes is below 1e-16 with up to a few tens expected. */
const MOST_JUMPS = 120;

/**
 * Lognormal between jumps.
 * @see Merton, R. C. (1976). Option pricing when underlying stock returns are discontinuous. Journal of Financial Economics
 *   3(1-2), 125-144, equation 16 (a sum over the number of jumps).
 */
export function mertonJumps({ volatility, ...jumps }: Jumps & { volatility: number }): Law {
  const { perYear, meanLog, deviationLog } = jumps;
  const meanJump = Math.expm1(meanLog + 0.5 * deviationLog ** 2);
  return lawOfPrices((side, strike, time) => {
    let price = 0;
    let weight = Math.exp(-perYear * time);
    for (let count = 0; count <= MOST_JUMPS; count++) {
      if (count > 0) weight *= (perYear * time) / count;
      if (weight < 1e-300) continue;
      const forward = Math.exp(count * (meanLog + 0.5 * deviationLog ** 2) - perYear * meanJump * time);
      const deviation = Math.sqrt(volatility ** 2 * time + count * deviationLog ** 2);
      price +=
        weight *
        black76Price({
          side,
          forward,
          strike,
          timeToExpiry: time,
          volatility: deviation / Math.sqrt(time),
          discountFactor: 1,
        });
    }
    return price;
  });
}

/** What jumps add to the logarithm of a characteristic function, their drift taken off. */
export function jumpCharacteristic({ perYear, meanLog, deviationLog }: Jumps, [u, v]: Complex, time: number): Complex {
  const mean = Math.expm1(meanLog + 0.5 * deviationLog ** 2);
  // exp(i z m - z^2 d^2 / 2) with z = u + i v
  const re = -v * meanLog - 0.5 * deviationLog ** 2 * (u * u - v * v);
  const im = u * meanLog - deviationLog ** 2 * u * v;
  const size = Math.exp(re);
  // i z mean = i u mean - v mean
  return [perYear * time * (size * Math.cos(im) - 1 + v * mean), perYear * time * (size * Math.sin(im) - u * mean)];
}

/** Variance per year that jumps add to the logarithm. */
export function jumpVariance({ perYear, meanLog, deviationLog }: Jumps): number {
  return perYear * (meanLog ** 2 + deviationLog ** 2);
}
