import { logRatio, tableErfcx, tableErfcxDifference, tableExp, tableLog } from '../math/index.ts';
import { generalEuropeanGreeks, generalEuropeanPrice } from './european-general.ts';
import {
  type EuropeanColumns,
  europeanColumns,
  isEuropeanRowInRange,
  requireOneLength,
  setEuropeanRow,
} from './european-columns.ts';
import type { Greeks } from './greeks.ts';

/*
 * Symbols: a discounted spot S e^(-q T), b discounted strike K e^(-r T), s total deviation, d1 and d2 as in Merton
 * (1973). The Gaussian factor is shared, since a n(d1) = b n(d2): with g = a exp(-d1^2 / 2) / 2 the two tails are
 * g erfcx(|d1| / sqrt 2) and g erfcx(|d2| / sqrt 2), so a row takes three exponentials and one logarithm.
 *
 * Rows go through in blocks and each block in four short passes: a small loop body is inlined whole and keeps the
 * processor's pipeline full, where one long body took twice the time. Rows beyond the limits below get harmless
 * numbers in the passes and are then written by the general functions, which hold everywhere.
 */

/** Below this deviation the difference of the two tails would lose more than 25 (1 + |d|) roundings: a series instead. */
const SMALL_DEVIATION = 0.04;
const LEAST_DEVIATION = 1e-6;
const LARGEST_DEVIATION = 10;
/** Keeps the table exponential and logarithm, and their quotient, well inside the normal numbers. */
const LARGEST_EXPONENT = 50;
const LEAST_PRICE = 1e-90;
const LARGEST_PRICE = 1e90;
/** Beyond it exp(-d^2 / 2) comes near the smallest numbers. */
const LARGEST_SCORE = 36;
const HALF_SQRT_HALF = 0.5 * Math.SQRT1_2;
const TWO_OVER_SQRT_TWO_PI = 0.7978845608028654;

/** Columns of a block and the tables together stay in the first-level cache. */
const BLOCK = 256;
const A = new Float64Array(BLOCK);
const B = new Float64Array(BLOCK);
/** ln(a / b) of the rows of small deviation, where rounding in a and b would be too large a part of it. */
const LOG_MONEYNESS = new Float64Array(BLOCK);
const DEVIATION = new Float64Array(BLOCK);
const D1 = new Float64Array(BLOCK);
const HALF_DENSITY = new Float64Array(BLOCK);
/** Rows of the block, counted from its start, that the general functions write. */
const GENERAL = new Int32Array(2 * BLOCK);
let generalCount = 0;

function discountPass(c: EuropeanColumns, from: number, count: number): void {
  const { spot, strike, timeToExpiry, rate, dividendYield, volatility } = c;
  generalCount = 0;
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
      GENERAL[generalCount++] = j;
    }
  }
}

function scorePass(count: number): void {
  for (let j = 0; j < count; j++) {
    const s = DEVIATION[j];
    const x = s < SMALL_DEVIATION ? LOG_MONEYNESS[j] : tableLog(A[j] / B[j]);
    const d1 = x / s + 0.5 * s;
    if (d1 < LARGEST_SCORE && d1 - s > -LARGEST_SCORE) D1[j] = d1;
    else {
      D1[j] = 0;
      GENERAL[generalCount++] = j;
    }
  }
}

function densityPass(count: number): void {
  for (let j = 0; j < count; j++) {
    const d1 = D1[j];
    HALF_DENSITY[j] = 0.5 * A[j] * tableExp(-0.5 * d1 * d1);
  }
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

/** Writes the prices of the block's rows of small deviation again. */
function smallDeviationPass(
  { isCall }: { isCall: Uint8Array | 0 | 1 },
  from: number,
  count: number,
  out: Float64Array,
) {
  for (let j = 0; j < count; j++) {
    const s = DEVIATION[j];
    if (s >= SMALL_DEVIATION) continue;
    const h = Math.abs(D1[j] - 0.5 * s);
    const timeValue = HALF_DENSITY[j] * tableErfcxDifference(h * Math.SQRT1_2, s * HALF_SQRT_HALF);
    const sign = 2 * (typeof isCall === 'number' ? isCall : isCall[from + j]) - 1;
    out[from + j] = Math.max(sign * (A[j] - B[j]), 0) + timeValue;
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
    discountPass(c, from, count);
    scorePass(count);
    densityPass(count);
    pricePass(c, from, count, out);
    smallDeviationPass(c, from, count, out);
    for (let g = 0; g < generalCount; g++) {
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
    discountPass(c, from, count);
    scorePass(count);
    densityPass(count);
    firstGreeksPass(out, c, from, count);
    smallDeviationPass(c, from, count, out.price);
    if (further) furtherGreeksPass(further, c, from, count);
    for (let g = 0; g < generalCount; g++) {
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

function writeRow(out: FirstGreeksColumns | GreeksColumns, i: number, greeks: Greeks): void {
  for (const [name, column] of Object.entries(out)) column[i] = greeks[name as keyof Greeks];
}

/** Options of one underlying and one expiry: what they share as numbers, the rest in columns by strike. */
export interface EuropeanSlice {
  spot: number;
  timeToExpiry: number;
  rate: number;
  dividendYield: number;
  strike: Float64Array;
  volatility: Float64Array;
}

/** One row for the general functions; a slice has no columns of its own to point them at. */
const GENERAL_ROW = europeanColumns(1);

/**
 * Prices and first Greeks of the call and the put at every strike of a slice; bit-identical to
 * `blackScholesMertonGreeks`. Both sides share one logarithm, one exponential and two tails, so a pair costs little
 * more than a single option.
 * @param call, put columns as long as the strikes; NaN where a row is outside the ranges of `BlackScholesMertonInput`
 * @returns how many strikes were outside the ranges
 * @throws RangeError when the columns differ in length
 */
export function europeanSliceGreeksInto(
  call: FirstGreeksColumns,
  put: FirstGreeksColumns,
  slice: EuropeanSlice,
): number {
  const rows = requireOneLength({ strike: slice.strike, volatility: slice.volatility });
  if (requireOneLength(call) !== rows || requireOneLength(put) !== rows) {
    throw new RangeError('call and put must be as long as the strikes');
  }
  const { spot, timeToExpiry, rate, dividendYield } = slice;
  let bad = 0;
  for (let from = 0; from < rows; from += BLOCK) {
    const count = Math.min(BLOCK, rows - from);
    sliceDiscountPass(slice, from, count);
    scorePass(count);
    densityPass(count);
    slicePass(call, put, slice, from, count);
    smallDeviationPass({ isCall: 1 }, from, count, call.price);
    smallDeviationPass({ isCall: 0 }, from, count, put.price);
    for (let g = 0; g < generalCount; g++) {
      const i = from + GENERAL[g];
      setEuropeanRow(GENERAL_ROW, 0, {
        spot,
        timeToExpiry,
        rate,
        dividendYield,
        strike: slice.strike[i],
        volatility: slice.volatility[i],
      });
      const isInRange = isEuropeanRowInRange(GENERAL_ROW, 0);
      if (!isInRange) bad++;
      for (const [isCall, out] of [
        [1, call],
        [0, put],
      ] as const) {
        GENERAL_ROW.isCall[0] = isCall;
        if (isInRange) writeRow(out, i, generalEuropeanGreeks(GENERAL_ROW, 0));
        else for (const column of Object.values(out)) column[i] = NaN;
      }
    }
  }
  return bad;
}

function sliceDiscountPass(slice: EuropeanSlice, from: number, count: number): void {
  const { spot, timeToExpiry, rate, dividendYield, strike, volatility } = slice;
  const root = Math.sqrt(timeToExpiry);
  const rT = rate * timeToExpiry;
  const qT = dividendYield * timeToExpiry;
  const isCommonInRange =
    Math.abs(rT) < LARGEST_EXPONENT && Math.abs(qT) < LARGEST_EXPONENT && spot > LEAST_PRICE && spot < LARGEST_PRICE;
  const a = isCommonInRange ? spot * tableExp(-qT) : 1;
  const discount = isCommonInRange ? tableExp(-rT) : 1;
  generalCount = 0;
  for (let j = 0; j < count; j++) {
    const K = strike[from + j];
    const s = volatility[from + j] * root;
    if (isCommonInRange && s >= LEAST_DEVIATION && s <= LARGEST_DEVIATION && K > LEAST_PRICE && K < LARGEST_PRICE) {
      A[j] = a;
      B[j] = K * discount;
      DEVIATION[j] = s;
      if (s < SMALL_DEVIATION) LOG_MONEYNESS[j] = logRatio(spot, K) + (rT - qT);
    } else {
      A[j] = B[j] = DEVIATION[j] = 1;
      GENERAL[generalCount++] = j;
    }
  }
}

function slicePass(
  call: FirstGreeksColumns,
  put: FirstGreeksColumns,
  slice: EuropeanSlice,
  from: number,
  count: number,
) {
  const { spot, timeToExpiry: T, rate, dividendYield, volatility } = slice;
  const root = Math.sqrt(T);
  const perSpot = 1 / spot;
  for (let j = 0; j < count; j++) {
    const i = from + j;
    const d1 = D1[j];
    const s = DEVIATION[j];
    const d2 = d1 - s;
    const g = HALF_DENSITY[j];
    const tail1 = g * tableErfcx(Math.abs(d1) * Math.SQRT1_2);
    const tail2 = g * tableErfcx(Math.abs(d2) * Math.SQRT1_2);
    const callReceives = d1 < 0 ? tail1 : A[j] - tail1;
    const callPays = d2 < 0 ? tail2 : B[j] - tail2;
    const putPays = d1 > 0 ? tail1 : A[j] - tail1;
    const putReceives = d2 > 0 ? tail2 : B[j] - tail2;
    const density = g * TWO_OVER_SQRT_TWO_PI;
    const gamma = (density * perSpot * perSpot) / s;
    const vega = density * root;
    const decay = (0.5 * density * volatility[i]) / root;
    call.price[i] = callReceives - callPays;
    call.delta[i] = callReceives * perSpot;
    call.gamma[i] = gamma;
    call.vega[i] = vega;
    call.theta[i] = dividendYield * callReceives - rate * callPays - decay;
    call.rho[i] = T * callPays;
    put.price[i] = putReceives - putPays;
    put.delta[i] = -putPays * perSpot;
    put.gamma[i] = gamma;
    put.vega[i] = vega;
    put.theta[i] = rate * putReceives - dividendYield * putPays - decay;
    put.rho[i] = -T * putReceives;
  }
}
