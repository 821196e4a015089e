import { scaleLinear } from 'd3-scale';
import type { ChainRow } from '../../api/chain-row.ts';
import type { Overview } from '../../api/picture.ts';
import { figureScale, figureText, quoteDecimals, type Unit } from '../../measures/index.ts';
import { reasonName } from '../../market/index.ts';
import { countText, numberText, volatilityText } from '../../ui/format.ts';
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

/** Unit of each column that a unit decides. */
const UNITS: Partial<Record<ChainColumnId, Unit>> = {
  ...{ bid: 'quote', ask: 'quote', last: 'quote', mid: 'premium', theory: 'premium', earlyExercise: 'premium' },
  ...{ bidVolatility: 'volatility', midVolatility: 'volatility', askVolatility: 'volatility' },
  ...{ fitVolatility: 'volatility', theoryVolatility: 'volatility', probabilityItm: 'probability' },
  ...{ delta: 'delta', forwardDelta: 'delta', gamma: 'gamma' },
  ...{ theta: 'sensitivity', vega: 'sensitivity', rho: 'sensitivity' },
};

/** @param isContract whether Greeks are of a contract instead of one unit of the underlying; premiums stay per unit */
export function ladderTexts(picture: Pick<Overview, 'underlying' | 'price'>, isContract: boolean): LadderTexts {
  const { optionTick: tick, multiplier } = picture.underlying;
  const perUnit = figureScale(picture);
  const scale = figureScale(picture, isContract ? multiplier : 1);
  const isFar = (row: ChainRow) => Math.abs(row.gap ?? 0) > (row.ask ?? NaN) - (row.bid ?? NaN);
  const markOf = (row: ChainRow) =>
    row.standing === 'dear' ? (isFar(row) ? '▲' : '△') : row.standing === 'cheap' ? (isFar(row) ? '▼' : '▽') : '';
  function gapText(row: ChainRow): string {
    const gap = Math.abs(row.gap ?? 0);
    const distance = tick === null ? numberText(gap, quoteDecimals(perUnit)) : numberText(gap / tick, 0);
    return `${distance} / ${numberText(row.gapVolatility === null ? null : Math.abs(row.gapVolatility) * 100, 1)}`;
  }
  function textOf(row: ChainRow, column: ChainColumnId): string {
    const unit = UNITS[column];
    if (unit) {
      const value = row[column as keyof ChainRow] as number | null;
      const isScaled = isContract && BASED.includes(column);
      return figureText(value === null || !isScaled ? value : value * multiplier, unit, isScaled ? scale : perUnit);
    }
    switch (column) {
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
      default:
        return '—';
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
