import type { Model } from '@umwelt/core/pricing';
import type { StructureGrid, StructureMeasure } from '@umwelt/core/structure';
import { scaledGreeks } from '../../theory/index.ts';
import { moneyText } from '../../measures/index.ts';
import { signedSignificantText, signedText } from '../../ui/format.ts';

/** What a structure is looked at by. */
export const SHOWN_MEASURES = ['profit', 'value', 'delta', 'gamma', 'theta', 'vega', 'rho'] as const;
export type ShownMeasure = (typeof SHOWN_MEASURES)[number];

const WORDS: Record<ShownMeasure, string> = {
  ...{ profit: 'profit', value: 'value', delta: 'delta', gamma: 'gamma' },
  ...{ theta: 'theta a day', vega: 'vega a point', rho: 'rho a point' },
};
export const measureWords = (measure: ShownMeasure) => WORDS[measure];

/** What a measure counts. */
export function measureUnit(measure: ShownMeasure, currency: string): string {
  return measure === 'delta' || measure === 'gamma' ? 'units of the underlying' : currency;
}

/** The measure of core that a shown one comes from. */
export const gridMeasure = (measure: ShownMeasure): StructureMeasure => (measure === 'value' ? 'profit' : measure);

/** What makes position figures in the scales of the screen of core's plain ones. */
export interface MeasureScale {
  /** Units of underlying in one contract */
  multiplier: number;
  /** Per unit of underlying: value is profit and what was paid */
  cost: number;
  model: Model;
}

/** A column of a grid as it is shown. */
export function shownColumn(grid: StructureGrid, measure: ShownMeasure, o: MeasureScale): number[] {
  const unit = scaledGreeks({ theta: 1, vega: 1, rho: 1 }, o.model);
  const factor = o.multiplier * (measure in unit ? unit[measure as keyof typeof unit] : 1);
  const added = measure === 'value' ? o.cost : 0;
  return Array.from(grid[gridMeasure(measure)], (v) => factor * (v + added));
}

/** Money as it is written of a position; Greeks of the underlying with as many digits as tell them. */
export function measureText(value: number | null | undefined, measure: ShownMeasure): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return '—';
  if (value === 0) return '0';
  if (measure === 'gamma') return signedSignificantText(value, 3);
  if (measure === 'delta') return Math.abs(value) < 10 ? signedSignificantText(value, 3) : signedText(value, 1);
  // A Greek in money may be of little and is still none of nothing.
  if (measure !== 'profit' && measure !== 'value' && Math.abs(value) < 0.1) return signedSignificantText(value, 2);
  const text = moneyText(value);
  return measure !== 'value' && value > 0 ? `+${text}` : text;
}
