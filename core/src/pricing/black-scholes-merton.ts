import { europeanGreeksRows, europeanPriceRows, greeksColumns } from './european-batch.ts';
import { europeanColumns, setEuropeanRow } from './european-columns.ts';
import type { Greeks } from './greeks.ts';
import { requireRange } from './require-range.ts';
import type { Side } from './side.ts';

export interface BlackScholesMertonInput {
  side: Side;
  /** Price of the underlying today, > 0 */
  spot: number;
  /** Same currency as spot, > 0 */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Per year, continuously compounded, decimal */
  rate: number;
  /** Per year, continuously compounded, decimal: dividend yield, or the foreign rate of a currency pair */
  dividendYield: number;
  /** Per year, decimal (0.2 is 20 %), >= 0 */
  volatility: number;
}

function check(o: BlackScholesMertonInput): void {
  requireRange('spot', o.spot, { above: 0 });
  requireRange('strike', o.strike, { above: 0 });
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('rate', o.rate);
  requireRange('dividendYield', o.dividendYield);
  requireRange('volatility', o.volatility, { minimum: 0 });
}

/**
 * Price today of a European option on an underlying that pays a continuous yield.
 * Relative error max(1e-12, 2e-15 (1 + d1^2)); with zero time or volatility the discounted intrinsic value.
 * @param o see {@link BlackScholesMertonInput} for units and ranges
 * @throws RangeError outside the ranges, or for a number that is not finite
 * @see Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183.
 * @example blackScholesMertonPrice({ side: 'call', spot: 42, strike: 40, timeToExpiry: 0.5, rate: 0.1, dividendYield: 0, volatility: 0.2 }) // 4.7594
 */
export function blackScholesMertonPrice(o: BlackScholesMertonInput): number {
  check(o);
  setRow(o);
  europeanPriceRows(OUT.price, ROW, 1);
  return OUT.price[0];
}

/**
 * Price and Greeks of a European option on an underlying that pays a continuous yield.
 * With zero time or volatility the limits are returned: second derivatives are 0 away from the forward-strike kink and
 * not finite on it.
 * @throws RangeError outside the ranges of {@link BlackScholesMertonInput}, or for a number that is not finite
 * @see Haug, E. G. (2007). The Complete Guide to Option Pricing Formulas, 2nd ed., chapter 2 (definitions and formulas;
 *   theta, charm and color here are changes as calendar time passes, the negative of d/dT).
 */
export function blackScholesMertonGreeks(o: BlackScholesMertonInput): Greeks {
  check(o);
  setRow(o);
  europeanGreeksRows(OUT, ROW, 1);
  return {
    price: OUT.price[0],
    delta: OUT.delta[0],
    gamma: OUT.gamma[0],
    vega: OUT.vega[0],
    theta: OUT.theta[0],
    rho: OUT.rho[0],
    dividendRho: OUT.dividendRho[0],
    dualDelta: OUT.dualDelta[0],
    vanna: OUT.vanna[0],
    volga: OUT.volga[0],
    charm: OUT.charm[0],
    speed: OUT.speed[0],
    zomma: OUT.zomma[0],
    color: OUT.color[0],
    probabilityItm: OUT.probabilityItm[0],
  };
}

/** One contract as columns of one row: the scalar functions run the batch kernel itself, so both give the same bits. */
const ROW = europeanColumns(1);
const OUT = greeksColumns(1);

function setRow(o: BlackScholesMertonInput): void {
  ROW.isCall[0] = o.side === 'call' ? 1 : 0;
  setEuropeanRow(ROW, 0, o);
}
