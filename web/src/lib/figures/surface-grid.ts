import { black76Greeks, forwardDelta } from '@umwelt/core/pricing';
import { smileVolatility } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../schema/picture.ts';
import { expirySmile } from './expiry-smile.ts';

/** Greeks of the out-of-the-money option, with what a unit of each is scaled by: days, percent, volatility points. */
const GREEK_SCALES = { vega: 0.01, theta: 1 / 365, rho: 0.01, vanna: 0.01, volga: 1e-4, charm: 1 / 365 } as const;
type ScaledGreek = keyof typeof GREEK_SCALES;

export const SURFACE_VALUES = [
  'volatility',
  'interest',
  'delta',
  'gamma',
  ...(Object.keys(GREEK_SCALES) as ScaledGreek[]),
] as const;
export type SurfaceValue = (typeof SURFACE_VALUES)[number];

/** One value over expiries (rows, near to far) and log-moneyness (columns); NaN where nothing is quoted. */
export interface SurfaceGrid {
  logMoneyness: number[];
  expiries: ExpiryPicture[];
  values: number[][];
  /** Lowest and highest value */
  range: [number, number];
}

const COLUMNS = 41;
/** Deviations at the farthest expiry that the grid reaches. */
const REACH = 1.6;

/** A value of the surface over the shown expiries, out-of-the-money side of each strike; open interest by the nearest strike. */
export function surfaceGrid(expiries: ExpiryPicture[], value: SurfaceValue): SurfaceGrid {
  const fitted = expiries.filter((e) => e.smile !== null && e.atm !== null);
  const far = fitted[fitted.length - 1];
  const reach = far ? REACH * (far.atm ?? 0) * Math.sqrt(far.years) : 0.1;
  const logMoneyness = Array.from({ length: COLUMNS }, (_, i) => -reach + (2 * reach * i) / (COLUMNS - 1));
  const values = fitted.map((e) => rowOf(e, logMoneyness, value));
  const all = values.flat().filter((v) => !Number.isNaN(v));
  return { logMoneyness, expiries: fitted, values, range: [Math.min(...all), Math.max(...all)] };
}

function rowOf(e: ExpiryPicture, logMoneyness: number[], value: SurfaceValue): number[] {
  if (value === 'interest') return interestRow(e, logMoneyness);
  const smile = expirySmile(e);
  const [low, high] = e.smile?.range ?? [0, 0];
  return logMoneyness.map((k) => {
    if (!smile || k < low || k > high) return NaN;
    const volatility = smileVolatility(smile, k);
    if (value === 'volatility') return volatility;
    const side = k >= 0 ? 'call' : 'put';
    const strike = e.forward * Math.exp(k);
    const option = { side, forward: e.forward, strike, timeToExpiry: e.years, volatility } as const;
    if (value === 'delta') return Math.abs(forwardDelta(option));
    const greeks = black76Greeks({ ...option, rate: e.impliedRate });
    // Per percent of the forward, so that underlyings of any price can be compared.
    if (value === 'gamma') return (greeks.gamma * e.forward) / 100;
    return greeks[value] * GREEK_SCALES[value];
  });
}

/** Contracts open in the out-of-the-money side, summed over the strikes nearest to each column. */
function interestRow(e: ExpiryPicture, logMoneyness: number[]): number[] {
  const step = logMoneyness[1] - logMoneyness[0];
  const row = logMoneyness.map((k) => {
    const inside =
      k >= Math.log(e.strikes[0] / e.forward) - step && k <= Math.log((e.strikes.at(-1) ?? 1) / e.forward) + step;
    return inside ? 0 : NaN;
  });
  e.strikes.forEach((strike, i) => {
    const k = Math.log(strike / e.forward);
    const column = Math.round((k - logMoneyness[0]) / step);
    const open = e[k >= 0 ? 'call' : 'put'].openInterest[i];
    if (column >= 0 && column < row.length && open !== null)
      row[column] = (Number.isNaN(row[column]) ? 0 : row[column]) + open;
  });
  return row;
}
