import { checkOption, type Option } from './option.ts';

/**
 * Between what an option's price lies whatever the volatility, in the option's currency; without cash dividends the bounds are
 * sharp. European: discounted exercise value of the forward, and the discounted forward or strike; American: no less than what
 * exercise now brings, and the underlying or the strike. In the normal model there is no upper bound.
 * @throws RangeError outside the ranges of {@link Option}
 * @see Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183, section 2
 * @example priceBounds({ side: 'call', exercise: 'european', model: 'spot', underlying: 100, strike: 90, timeToExpiry: 1, rate: 0.05, volatility: 0.2 }) // { lower: 14.389, upper: 100 }
 */
export function priceBounds(option: Option): { lower: number; upper: number } {
  checkOption(option);
  const { side, exercise, model, underlying, strike, timeToExpiry: t, rate, dividendYield = 0 } = option;
  const discount = Math.exp(-rate * t);
  const escrow = (option.dividends ?? []).reduce((sum, d) => sum + d.amount * Math.exp(-rate * d.time), 0);
  // Value today of what is paid for, and of what is paid.
  const asset = model === 'spot' ? underlying * Math.exp(-dividendYield * t) - escrow : underlying * discount;
  const sign = side === 'call' ? 1 : -1;
  const european = Math.max(0, sign * (asset - strike * discount));
  const top = side === 'call' ? asset : strike * discount;
  if (exercise === 'european') return { lower: european, upper: model === 'normal' ? Infinity : top };
  const now = Math.max(0, sign * (underlying - strike));
  const upper = side === 'call' ? Math.max(underlying, asset) : Math.max(strike, strike * discount);
  return { lower: Math.max(european, now), upper: model === 'normal' ? Infinity : upper };
}
