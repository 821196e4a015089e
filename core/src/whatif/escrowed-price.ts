import { type Option, optionPrice } from '../pricing/index.ts';

/**
 * Value of the European option under the escrowed model of cash dividends that textbooks use: the underlying less the present
 * value of its dividends follows the lognormal law, with the given volatility. Elsewhere here the whole underlying does, and
 * falls by each dividend, which at the same number of volatility makes calls worth more.
 * @throws RangeError outside the ranges of {@link Option}, or when the dividends are worth as much as the underlying
 * @see Hull, J. C. (2015). Options, Futures, and Other Derivatives, 9th ed., section 15.12
 * @example escrowedPrice({ side: 'call', exercise: 'european', model: 'spot', underlying: 40, strike: 40, timeToExpiry: 0.5, rate: 0.09, volatility: 0.3, dividends: [{ time: 2 / 12, amount: 0.5 }, { time: 5 / 12, amount: 0.5 }] }) // 3.67
 */
export function escrowedPrice(option: Option): number {
  const { dividends = [], ...rest } = option;
  const escrow = dividends.reduce((sum, { time, amount }) => sum + amount * Math.exp(-option.rate * time), 0);
  if (!(escrow < option.underlying)) {
    throw new RangeError(`dividends worth ${escrow} leave nothing of an underlying of ${option.underlying}`);
  }
  return optionPrice({ ...rest, exercise: 'european', underlying: option.underlying - escrow });
}
