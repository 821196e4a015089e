import { contours } from 'd3-contour';
import { scaleLinear } from 'd3-scale';
import type { Picture } from '../../api/picture.ts';
import type { TradedLegText } from '../../api/traded.ts';
import type { ListedValue } from '../../theory/index.ts';
import type { PaidLeg } from './parameters.ts';
import { structureScene } from './structure-scene.ts';

/** What a map of profit by price and day is made of: plain, so that it can be made off the interface thread. */
export interface ProfitMapInput {
  picture: Picture;
  legs: readonly TradedLegText[];
  held: number;
  paid: readonly PaidLeg[];
  values: readonly (ListedValue | undefined)[];
  /** On every volatility, decimal */
  shift: number;
  multiplier: number;
  /** From the lowest price to the highest */
  prices: readonly [number, number];
}

/** Lines of equal profit, in shares of the map: 0 to 1 from the lowest price to the highest, and from now to the first expiry. */
export interface ProfitMap {
  lines: { profit: number; rings: [across: number, down: number][][] }[];
}

const ACROSS = 121;
const DOWN = 41;
/** About as many lines are drawn. */
const LINES = 9;

/** @returns undefined where the structure cannot be seen on some day */
export function profitMap(o: ProfitMapInput): ProfitMap | undefined {
  const scene = structureScene(o.picture, o.legs, { held: o.held, paid: o.paid, values: o.values });
  if (!scene.front) return undefined;
  const [low, high] = o.prices;
  const shift = o.shift === 0 ? undefined : { parallel: o.shift };
  const grid = new Float64Array(ACROSS * DOWN);
  for (let row = 0; row < DOWN; row++) {
    const share = row / (DOWN - 1);
    const structure = scene.profitOn(share === 1 ? Infinity : share * scene.front.days, shift);
    if (!structure) return undefined;
    for (let i = 0; i < ACROSS; i++)
      grid[row * ACROSS + i] = o.multiplier * structure.profit(low + (i / (ACROSS - 1)) * (high - low));
  }
  const [least, most] = grid.reduce<[number, number]>(
    ([a, b], v) => [Math.min(a, v), Math.max(b, v)],
    [Infinity, -Infinity],
  );
  const levels = [...new Set([0, ...scaleLinear().domain([least, most]).ticks(LINES)])].filter(
    (v) => v >= least && v <= most,
  );
  const traced = contours().size([ACROSS, DOWN]).thresholds(levels)([...grid]);
  return {
    lines: traced.map(({ value, coordinates }) => ({
      profit: value,
      // A cell's middle is its place: half a cell goes off.
      rings: coordinates
        .flat()
        .map((ring) => ring.map(([x, y]): [number, number] => [(x - 0.5) / (ACROSS - 1), (y - 0.5) / (DOWN - 1)])),
    })),
  };
}
