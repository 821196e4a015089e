import { logRatio, tableErfcx, tableExp } from '../math/index.ts';
import type { FirstGreeksColumns } from './european-batch.ts';
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
import { europeanColumns, isEuropeanRowInRange, requireOneLength, setEuropeanRow } from './european-columns.ts';
import { generalEuropeanGreeks } from './european-general.ts';

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
    const general = scorePass(count, discountPass(slice, from, count));
    densityPass(count);
    slicePass(call, put, slice, from, count);
    smallDeviationPass({ isCall: 1 }, from, count, call.price);
    smallDeviationPass({ isCall: 0 }, from, count, put.price);
    for (let g = 0; g < general; g++) {
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

/** a, b and the deviation of a block of strikes. @returns how many of them the general functions write */
function discountPass(slice: EuropeanSlice, from: number, count: number): number {
  const { spot, timeToExpiry, rate, dividendYield, strike, volatility } = slice;
  const root = Math.sqrt(timeToExpiry);
  const rT = rate * timeToExpiry;
  const qT = dividendYield * timeToExpiry;
  const isCommonInRange =
    Math.abs(rT) < LARGEST_EXPONENT && Math.abs(qT) < LARGEST_EXPONENT && spot > LEAST_PRICE && spot < LARGEST_PRICE;
  const a = isCommonInRange ? spot * tableExp(-qT) : 1;
  const discount = isCommonInRange ? tableExp(-rT) : 1;
  let general = 0;
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
      GENERAL[general++] = j;
    }
  }
  return general;
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
