import { smileVolatility } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../api/picture.ts';
import { expirySmile } from './expiry-smile.ts';
import type { ListedOption } from './listed-contract.ts';
import { isAmerican, type ListedValue, listedValues } from './listed-values.ts';
import { ON_SMILE } from './same-distance.ts';

export const SURFACE_GREEKS = ['delta', 'gamma', 'vega', 'theta', 'rho', 'vanna', 'volga', 'charm'] as const;
export type SurfaceGreek = (typeof SURFACE_GREEKS)[number];
export const SURFACE_VALUES = ['volatility', 'interest', ...SURFACE_GREEKS] as const;
export type SurfaceValue = (typeof SURFACE_VALUES)[number];

/** One value over expiries (rows, near to far) and log-moneyness (columns); NaN where nothing is quoted. */
export interface SurfaceGrid {
  logMoneyness: number[];
  expiries: ExpiryPicture[];
  values: number[][];
  /** What is drawn: the 2nd to the 98th percentile of the values, lest a spike flattens all others */
  range: [number, number];
  /** Lowest and highest of all */
  extent: [number, number];
  /** How many lie beyond the range */
  beyond: number;
}

/** Shares of the values below and above which the range ends; of fewer values all are within. */
const RANGE = { low: 0.02, high: 0.98, least: 50 };

const COLUMNS = 41;
/** Deviations at the farthest expiry that the grid reaches. */
const REACH = 1.6;

/** Volatility or open interest over the shown expiries; open interest of the out-of-the-money side, by the nearest strike. */
export function surfaceGrid(expiries: ExpiryPicture[], value: 'volatility' | 'interest'): SurfaceGrid {
  return gridOf(expiries, (e, logMoneyness) =>
    value === 'interest' ? interestRow(e, logMoneyness) : volatilityRow(e, logMoneyness),
  );
}

/**
 * A Greek of the out-of-the-money option over the shown expiries, on their fitted smiles.
 * @param isPending leaves American expiries empty: their Greeks take a while
 */
export function surfaceGreeks(expiries: ExpiryPicture[], greek: SurfaceGreek, isPending = false): SurfaceGrid {
  const isSecondOrder = greek === 'vanna' || greek === 'volga' || greek === 'charm';
  return gridOf(expiries, (e, logMoneyness) => {
    const columns = quotedColumns(e, logMoneyness);
    const options = columns.map((c): ListedOption => {
      const k = logMoneyness[c];
      return { side: k >= 0 ? 'call' : 'put', strike: e.forward * Math.exp(k) };
    });
    const values = isPending && isAmerican(e) ? [] : listedValues(e, options, ON_SMILE, { isSecondOrder });
    const row = logMoneyness.map(() => NaN);
    values.forEach((value, i) => {
      if (value) row[columns[i]] = greekOf(e, value, greek);
    });
    return row;
  });
}

function greekOf(e: ExpiryPicture, value: ListedValue, greek: SurfaceGreek): number {
  switch (greek) {
    case 'delta':
      return Math.abs(value.delta);
    case 'gamma':
      // Per percent of the forward, so that underlyings of any price can be compared.
      return (value.gamma * e.forward) / 100;
    case 'vanna':
    case 'volga':
    case 'charm':
      return value.second?.[greek] ?? NaN;
    default:
      return value[greek];
  }
}

function gridOf(expiries: ExpiryPicture[], rowOf: (e: ExpiryPicture, logMoneyness: number[]) => number[]): SurfaceGrid {
  const fitted = expiries.filter((e) => e.smile !== null && e.atm !== null);
  const far = fitted[fitted.length - 1];
  const reach = far ? REACH * (far.atm ?? 0) * Math.sqrt(far.years) : 0.1;
  const logMoneyness = Array.from({ length: COLUMNS }, (_, i) => -reach + (2 * reach * i) / (COLUMNS - 1));
  const values = fitted.map((e) => rowOf(e, logMoneyness));
  const all = values
    .flat()
    .filter((v) => !Number.isNaN(v))
    .sort((a, b) => a - b);
  const extent: [number, number] = [all[0] ?? NaN, all[all.length - 1] ?? NaN];
  const range = all.length < RANGE.least ? extent : ([at(all, RANGE.low), at(all, RANGE.high)] as [number, number]);
  const beyond = all.filter((v) => v < range[0] || v > range[1]).length;
  return { logMoneyness, expiries: fitted, values, range, extent, beyond };
}

/** Value below which a share of sorted ones lies, between two of them by the distance. */
function at(sorted: readonly number[], share: number): number {
  const place = share * (sorted.length - 1);
  const below = Math.floor(place);
  const above = Math.min(sorted.length - 1, below + 1);
  return sorted[below] + (place - below) * (sorted[above] - sorted[below]);
}

/** Columns within the quotes behind a smile. */
function quotedColumns(e: ExpiryPicture, logMoneyness: number[]): number[] {
  const [low, high] = e.smile?.range ?? [0, 0];
  return logMoneyness.flatMap((k, c) => (k < low || k > high ? [] : [c]));
}

function volatilityRow(e: ExpiryPicture, logMoneyness: number[]): number[] {
  const smile = expirySmile(e);
  const row = logMoneyness.map(() => NaN);
  if (smile) for (const c of quotedColumns(e, logMoneyness)) row[c] = smileVolatility(smile, logMoneyness[c]);
  return row;
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
