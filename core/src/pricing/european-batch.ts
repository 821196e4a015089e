import { logRatio, tableErfcx, tableExp } from '../math/index.ts';
import {
  A,
  B,
  BLOCK,
  D1,
  densityPass,
  DEVIATION,
  GENERAL,
  HALF_DENSITY,
  LARGEST_DEVIATION,
  LARGEST_EXPONENT,
  LARGEST_PRICE,
  LEAST_DEVIATION,
  LEAST_PRICE,
  LOG_MONEYNESS,
  scorePass,
  SMALL_DEVIATION,
  smallDeviationPass,
  TWO_OVER_SQRT_TWO_PI,
  writeRow,
} from './european-block.ts';
import { generalEuropeanGreeks, generalEuropeanPrice } from './european-general.ts';
import { type EuropeanColumns, isEuropeanRowInRange, requireOneLength } from './european-columns.ts';
import type { Greeks } from './greeks.ts';

/** a, b and the deviation of a block of rows. @returns how many of them the general functions write */
function discountPass(c: EuropeanColumns, from: number, count: number): number {
  const { spot, strike, timeToExpiry, rate, dividendYield, volatility } = c;
  let general = 0;
  for (let j = 0; j < count; j++) {
    const i = from + j;
    const S = spot[i];
    const K = strike[i];
    const T = timeToExpiry[i];
    const s = volatility[i] * Math.sqrt(T);
    const rT = rate[i] * T;
    const qT = dividendYield[i] * T;
    if (
      s >= LEAST_DEVIATION &&
      s <= LARGEST_DEVIATION &&
      Math.abs(rT) < LARGEST_EXPONENT &&
      Math.abs(qT) < LARGEST_EXPONENT &&
      S > LEAST_PRICE &&
      S < LARGEST_PRICE &&
      K > LEAST_PRICE &&
      K < LARGEST_PRICE
    ) {
      A[j] = S * tableExp(-qT);
      B[j] = K * tableExp(-rT);
      DEVIATION[j] = s;
      if (s < SMALL_DEVIATION) LOG_MONEYNESS[j] = logRatio(S, K) + (rT - qT);
    } else {
      A[j] = B[j] = DEVIATION[j] = 1;
      GENERAL[general++] = j;
    }
  }
  return general;
}

function pricePass({ isCall }: EuropeanColumns, from: number, count: number, out: Float64Array): void {
  for (let j = 0; j < count; j++) {
    const d1 = D1[j];
    const d2 = d1 - DEVIATION[j];
    const g = HALF_DENSITY[j];
    const tail1 = g * tableErfcx(Math.abs(d1) * Math.SQRT1_2);
    const tail2 = g * tableErfcx(Math.abs(d2) * Math.SQRT1_2);
    const sign = 2 * isCall[from + j] - 1;
    out[from + j] = sign * ((sign * d1 < 0 ? tail1 : A[j] - tail1) - (sign * d2 < 0 ? tail2 : B[j] - tail2));
  }
}

/**
 * Prices of European options, row by row; bit-identical to `blackScholesMertonPrice`.
 * @param out receives one price a row; NaN where a row is outside the ranges of `BlackScholesMertonInput`
 * @returns how many rows were outside the ranges
 * @throws RangeError when the columns differ in length
 * @see Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183.
 */
export function europeanPriceInto(out: Float64Array, c: EuropeanColumns): number {
  return europeanPriceRows(out, c, requireOneLength({ ...c, out }));
}

/** {@link europeanPriceInto} for the first rows, without the check of lengths. */
export function europeanPriceRows(out: Float64Array, c: EuropeanColumns, rows: number): number {
  let bad = 0;
  for (let from = 0; from < rows; from += BLOCK) {
    const count = Math.min(BLOCK, rows - from);
    const general = scorePass(count, discountPass(c, from, count));
    densityPass(count);
    pricePass(c, from, count, out);
    smallDeviationPass(c, from, count, out);
    for (let g = 0; g < general; g++) {
      const i = from + GENERAL[g];
      const isInRange = isEuropeanRowInRange(c, i);
      out[i] = isInRange ? generalEuropeanPrice(c, i) : NaN;
      if (!isInRange) bad++;
    }
  }
  return bad;
}

/** Price and the five Greeks of daily use, plain partial derivatives as in {@link Greeks}, in columns. */
export type FirstGreeksColumns = Record<'price' | 'delta' | 'gamma' | 'vega' | 'theta' | 'rho', Float64Array>;
export type GreeksColumns = Record<keyof Greeks, Float64Array>;

export function firstGreeksColumns(count: number): FirstGreeksColumns {
  const column = () => new Float64Array(count);
  return { price: column(), delta: column(), gamma: column(), vega: column(), theta: column(), rho: column() };
}

export function greeksColumns(count: number): GreeksColumns {
  const column = () => new Float64Array(count);
  return {
    ...firstGreeksColumns(count),
    dividendRho: column(),
    dualDelta: column(),
    vanna: column(),
    volga: column(),
    charm: column(),
    speed: column(),
    zomma: column(),
    color: column(),
    probabilityItm: column(),
  };
}

/**
 * Prices and Greeks of European options, row by row; bit-identical to `blackScholesMertonGreeks`.
 * @param out columns as long as those of `c`: the first Greeks, or all of them; NaN where a row is outside the ranges
 *   of `BlackScholesMertonInput`
 * @returns how many rows were outside the ranges
 * @throws RangeError when the columns differ in length
 * @see Haug, E. G. (2007). The Complete Guide to Option Pricing Formulas, 2nd ed., chapter 2.
 */
export function europeanGreeksInto(out: FirstGreeksColumns | GreeksColumns, c: EuropeanColumns): number {
  const rows = requireOneLength(c);
  if (requireOneLength(out) !== rows) throw new RangeError('out must be as long as the contracts');
  return europeanGreeksRows(out, c, rows);
}

/** {@link europeanGreeksInto} for the first rows, without the check of lengths. */
export function europeanGreeksRows(out: FirstGreeksColumns | GreeksColumns, c: EuropeanColumns, rows: number): number {
  const further = 'vanna' in out ? out : undefined;
  let bad = 0;
  for (let from = 0; from < rows; from += BLOCK) {
    const count = Math.min(BLOCK, rows - from);
    const general = scorePass(count, discountPass(c, from, count));
    densityPass(count);
    firstGreeksPass(out, c, from, count);
    smallDeviationPass(c, from, count, out.price);
    if (further) furtherGreeksPass(further, c, from, count);
    for (let g = 0; g < general; g++) {
      const i = from + GENERAL[g];
      if (isEuropeanRowInRange(c, i)) writeRow(out, i, generalEuropeanGreeks(c, i));
      else {
        for (const column of Object.values(out)) column[i] = NaN;
        bad++;
      }
    }
  }
  return bad;
}

function firstGreeksPass(out: FirstGreeksColumns, c: EuropeanColumns, from: number, count: number): void {
  const { isCall, spot, timeToExpiry, rate, dividendYield, volatility } = c;
  const { price, delta, gamma, vega, theta, rho } = out;
  for (let j = 0; j < count; j++) {
    const i = from + j;
    const d1 = D1[j];
    const s = DEVIATION[j];
    const d2 = d1 - s;
    const g = HALF_DENSITY[j];
    const tail1 = g * tableErfcx(Math.abs(d1) * Math.SQRT1_2);
    const tail2 = g * tableErfcx(Math.abs(d2) * Math.SQRT1_2);
    const sign = 2 * isCall[i] - 1;
    // a N(sign d1) and b N(sign d2): the two parts that the holder receives and pays.
    const received = sign * d1 < 0 ? tail1 : A[j] - tail1;
    const paid = sign * d2 < 0 ? tail2 : B[j] - tail2;
    const T = timeToExpiry[i];
    const root = Math.sqrt(T);
    const density = g * TWO_OVER_SQRT_TWO_PI;
    const perSpot = 1 / spot[i];
    price[i] = sign * (received - paid);
    delta[i] = sign * received * perSpot;
    gamma[i] = (density * perSpot * perSpot) / s;
    vega[i] = density * root;
    theta[i] = sign * (dividendYield[i] * received - rate[i] * paid) - (0.5 * density * volatility[i]) / root;
    rho[i] = sign * T * paid;
  }
}

/** The rest, from what the first pass wrote. */
function furtherGreeksPass(out: GreeksColumns, c: EuropeanColumns, from: number, count: number): void {
  const { isCall, spot, strike, timeToExpiry, rate, dividendYield, volatility } = c;
  for (let j = 0; j < count; j++) {
    const i = from + j;
    const d1 = D1[j];
    const s = DEVIATION[j];
    const d2 = d1 - s;
    const T = timeToExpiry[i];
    const q = dividendYield[i];
    const perSpot = 1 / spot[i];
    const perVolatility = 1 / volatility[i];
    const density = HALF_DENSITY[j] * TWO_OVER_SQRT_TWO_PI * perSpot;
    const gamma = out.gamma[i];
    // d d1 / dT, the drift of moneyness in charm and color.
    const d1PerTime = (2 * (rate[i] - q) * T - d2 * s) / (2 * T * s);
    const paid = T > 0 ? out.rho[i] / T : 0;
    out.dividendRho[i] = -T * spot[i] * out.delta[i];
    out.dualDelta[i] = -paid / strike[i];
    out.vanna[i] = -density * d2 * perVolatility;
    out.volga[i] = out.vega[i] * d1 * d2 * perVolatility;
    out.charm[i] = q * out.delta[i] - density * d1PerTime;
    out.speed[i] = -gamma * perSpot * (d1 / s + 1);
    out.zomma[i] = gamma * (d1 * d2 - 1) * perVolatility;
    out.color[i] = gamma * (q + 1 / (2 * T) + d1 * d1PerTime);
    out.probabilityItm[i] = (isCall[i] !== 0 ? paid : -paid) / B[j];
  }
}
