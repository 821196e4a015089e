import { scaleLinear } from 'd3-scale';
import type { ChainRow } from '../../api/chain-row.ts';
import type { UnderlyingSummary } from '../../api/underlying.ts';
import { reasonName } from '../../market/index.ts';
import { countText, numberText, probabilityText, signedText, tickDecimals, volatilityText } from '../../ui/format.ts';
import type { ChainColumnId } from './chain-columns.ts';

/** How the figures of a quote are written. */
export interface LadderTexts {
  textOf(row: ChainRow, column: ChainColumnId): string;
  /** A triangle of a dear or cheap quote, filled where it is far from theory */
  markOf(row: ChainRow): string;
  /** More than its own width away from theory */
  isFar(row: ChainRow): boolean;
  /** Ticks, or price where the tick is unknown, and volatility points */
  gapText(row: ChainRow): string;
}

/** @param isContract whether Greeks are of a contract instead of one unit of the underlying; premiums stay per unit */
export function ladderTexts(
  { optionTick: tick, multiplier }: Pick<UnderlyingSummary, 'optionTick' | 'multiplier'>,
  isContract: boolean,
): LadderTexts {
  const decimals = tickDecimals(tick);
  const scaled = (value: number | null) => (value === null ? null : value * (isContract ? multiplier : 1));
  const greek = (value: number | null, digits: number) =>
    signedText(scaled(value), isContract ? Math.max(0, digits - 1) : digits);
  const isFar = (row: ChainRow) => Math.abs(row.gap ?? 0) > (row.ask ?? NaN) - (row.bid ?? NaN);
  const markOf = (row: ChainRow) =>
    row.standing === 'dear' ? (isFar(row) ? '▲' : '△') : row.standing === 'cheap' ? (isFar(row) ? '▼' : '▽') : '';
  function gapText(row: ChainRow): string {
    const gap = Math.abs(row.gap ?? 0);
    const distance = tick === null ? numberText(gap, decimals) : numberText(gap / tick, 0);
    return `${distance} / ${numberText(row.gapVolatility === null ? null : Math.abs(row.gapVolatility) * 100, 1)}`;
  }
  function textOf(row: ChainRow, column: ChainColumnId): string {
    switch (column) {
      case 'bid':
      case 'ask':
      case 'mid':
      case 'last':
      case 'theory':
        return numberText(row[column], decimals);
      case 'earlyExercise':
        return numberText(row.earlyExercise, decimals + 1);
      case 'bidVolatility':
      case 'midVolatility':
      case 'askVolatility':
      case 'fitVolatility':
      case 'theoryVolatility':
        return volatilityText(row[column]);
      case 'delta':
      case 'forwardDelta':
        return greek(row[column], 2);
      case 'theta':
        return greek(row.theta, Math.max(2, decimals));
      case 'gamma':
        return numberText(scaled(row.gamma), isContract ? 2 : 4);
      case 'vega':
      case 'rho':
        return numberText(scaled(row[column]), Math.max(2, decimals));
      case 'probabilityItm':
        return probabilityText(row.probabilityItm);
      case 'openInterest':
      case 'volume':
        return countText(row[column]);
      case 'standing':
        return (
          (row.verdict && reasonName(row.verdict)) ??
          (markOf(row) === '' ? (row.standing ?? '—') : `${markOf(row)} ${row.standing} ${gapText(row)}`)
        );
      case 'market':
        return [row.bidVolatility, row.fitVolatility, row.askVolatility].map((v) => volatilityText(v)).join(' ');
    }
  }
  return { textOf, markOf, isFar, gapText };
}

/** What a column of the ladder is sorted by. */
export function ladderWorth(row: ChainRow, column: ChainColumnId): string | number | null {
  if (column === 'standing')
    return row.standing === 'dear'
      ? Math.abs(row.gap ?? 0)
      : row.standing === 'cheap'
        ? -Math.abs(row.gap ?? 0)
        : row.standing
          ? 0
          : null;
  return column === 'market' ? row.midVolatility : row[column];
}

/** What changes when American values come. */
export const BY_THEORY: readonly ChainColumnId[] = [
  'theory',
  'earlyExercise',
  'standing',
  'delta',
  'gamma',
  'theta',
  'vega',
  'rho',
];
/** What the switch between share and contract multiplies. */
export const BASED: readonly ChainColumnId[] = ['delta', 'forwardDelta', 'gamma', 'theta', 'vega', 'rho'];

/** Pixels left free at either end of a whisker. */
const MARGIN = 8;

/**
 * One scale of volatility for all whiskers, and what it goes from and to; undefined where no quote is any good. Options in the
 * money are left out of it: a width in price is a wide one in volatility there, which would squeeze all others.
 * @param width of a whisker, pixels
 */
export function whiskerScale(
  rows: readonly ChainRow[],
  forward: number,
  width: number,
): { scale: (volatility: number) => number; ends?: [low: number, high: number] } {
  const good = rows
    .filter((r) => r.verdict === null && r.strike >= forward === (r.side === 'call'))
    .flatMap((r) => [r.bidVolatility, r.askVolatility, r.fitVolatility])
    .filter((v) => v !== null);
  if (good.length === 0) return { scale: () => width / 2 };
  const ends: [number, number] = [Math.min(...good), Math.max(...good)];
  return {
    scale: scaleLinear()
      .domain(ends)
      .range([MARGIN, width - MARGIN])
      .clamp(true),
    ends,
  };
}
