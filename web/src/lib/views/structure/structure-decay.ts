import { gridMeasure, shownColumn, type ShownMeasure } from './structure-measure.ts';
import { sceneOf, type StructureInput } from './structure-input.ts';

export interface DecayInput extends StructureInput {
  measure: ShownMeasure;
  /** Price of the underlying that stays as it is */
  at: number;
}

/** A measure of the whole by days from now, at volatilities side by side. */
export interface StructureDecay {
  days: number[];
  /** Points on what is assumed already */
  lines: { points: number; values: number[] }[];
}

/** Points of volatility beside. */
const BESIDE = [-2, 0, 2] as const;
/** As many days are drawn at most, the last the first expiry. */
const PLACES = 60;

/** @returns undefined where the structure cannot be seen on some day */
export function structureDecay(o: DecayInput): StructureDecay | undefined {
  const scene = sceneOf(o);
  const { front } = scene;
  if (!front) return undefined;
  const count = Math.min(PLACES, Math.max(2, Math.ceil(front.days) + 1));
  const days = Array.from({ length: count }, (_, i) => (i / (count - 1)) * front.days);
  const asked = days.map((d, i) => (i === count - 1 ? Infinity : d));
  const lines: StructureDecay['lines'] = [];
  for (const points of BESIDE) {
    const shift = { ...o.shift, parallel: (o.shift?.parallel ?? 0) + points / 100 };
    const grid = scene.grid(asked, Float64Array.of(o.at), { shift, measures: [gridMeasure(o.measure)] });
    if (!grid) return undefined;
    lines.push({ points, values: shownColumn(grid, o.measure, o.scale) });
  }
  return { days, lines };
}
