import { contours } from 'd3-contour';
import { scaleLinear } from 'd3-scale';
import type { MarketShift } from '@umwelt/core/structure';
import type { MapAxis } from './parameters.ts';
import { sceneOf, type StructureInput } from './structure-input.ts';
import { gridMeasure, shownColumn, type ShownMeasure } from './structure-measure.ts';

/** What a map of a measure by price, and by day or volatility, is made of. */
export interface StructureMapInput extends StructureInput {
  measure: ShownMeasure;
  /** From the lowest price to the highest */
  prices: readonly [number, number];
  down: MapAxis;
  /** Days from now on which volatility is moved; of that axis alone */
  day: number;
}

/** Lines of an equal measure, in shares of the map: 0 to 1 from the lowest price to the highest, and from the top down. */
export interface StructureMap {
  lines: { value: number; rings: [across: number, down: number][][] }[];
}

const ACROSS = 121;
const DOWN = 41;
/** About as many lines are drawn. */
const LINES = 9;
/** Points of volatility at the top and at the bottom of a map by volatility. */
export const MAP_POINTS: readonly [number, number] = [10, -10];

/** @returns undefined where the structure cannot be seen on some day */
export function structureMap(o: StructureMapInput): StructureMap | undefined {
  const scene = sceneOf(o);
  const { front } = scene;
  if (!front) return undefined;
  const [low, high] = o.prices;
  const prices = Float64Array.from({ length: ACROSS }, (_, i) => low + (i / (ACROSS - 1)) * (high - low));
  const shares = Array.from({ length: DOWN }, (_, row) => row / (DOWN - 1));
  const measures = [gridMeasure(o.measure)];
  const seen = (days: readonly number[], shift: MarketShift | undefined) => {
    const grid = scene.grid(days, prices, { shift, measures });
    return grid && shownColumn(grid, o.measure, o.scale);
  };
  let field: number[] | undefined;
  if (o.down === 'day')
    field = seen(
      shares.map((share) => (share === 1 ? Infinity : share * front.days)),
      o.shift,
    );
  else {
    const [top, bottom] = MAP_POINTS;
    const rows = shares.map((share) => seen([o.day], { ...o.shift, parallel: (top + share * (bottom - top)) / 100 }));
    field = rows.some((row) => row === undefined) ? undefined : rows.flatMap((row) => row ?? []);
  }
  if (!field) return undefined;
  const [least, most] = field.reduce<[number, number]>(
    ([a, b], v) => [Math.min(a, v), Math.max(b, v)],
    [Infinity, -Infinity],
  );
  const levels = [...new Set([0, ...scaleLinear().domain([least, most]).ticks(LINES)])].filter(
    (v) => v >= least && v <= most,
  );
  const traced = contours().size([ACROSS, DOWN]).thresholds(levels)(field);
  return {
    lines: traced.map(({ value, coordinates }) => ({
      value,
      // A cell's middle is its place: half a cell goes off.
      rings: coordinates
        .flat()
        .map((ring) => ring.map(([x, y]): [number, number] => [(x - 0.5) / (ACROSS - 1), (y - 0.5) / (DOWN - 1)])),
    })),
  };
}
