import { lawDensity, lawQuantile } from '@umwelt/core/probability';
import type { MarketShift } from '@umwelt/core/structure';
import { expiryLaw } from '../../theory/index.ts';
import { gridMeasure, type MeasureScale, shownColumn, type ShownMeasure } from './structure-measure.ts';
import type { StructureScene } from './structure-scene.ts';

/** A measure by the price of the underlying on one day, or of one leg at the first expiry. */
export interface ProfileLine {
  id: 'now' | 'day' | 'front' | `leg ${number}` | `with ${number}`;
  name: string;
  /** As it is shown, one a price */
  values: number[];
}

/** What the chart of a structure draws. */
export interface Profile {
  prices: number[];
  lines: ProfileLine[];
  /** Law of the price at the first expiry, the highest 1; one a price, empty without one */
  silhouette: number[];
  /** Two thirds of that law lie between them */
  expected: readonly [number, number] | undefined;
  /** Where profit is nothing at the first expiry; of profit alone */
  breakEvens: number[];
}

/** Outer share of the law that is drawn, places across, and room beside the outer strikes as a share of the price. */
const REACH = 0.015;
const PLACES = 181;
const ROOM = 0.03;
/** One deviation of a normal law leaves this much on either side. */
const OUTSIDE = 0.1587;

/** Prices that are drawn: those that were chosen, or as far as the law and the strikes reach. */
export function profileRange(scene: StructureScene, chosen: { from?: number; to?: number }): [number, number] {
  const law = scene.front && expiryLaw(scene.front);
  const strikes = scene.legs.map(({ leg }) => leg.strike);
  const around = law ? [lawQuantile(law, REACH), lawQuantile(law, 1 - REACH)].filter(Number.isFinite) : [];
  const ends = [...around, ...strikes, scene.underlyingPrice];
  const low = chosen.from ?? Math.min(...ends) * (1 - ROOM);
  const high = chosen.to ?? Math.max(...ends) * (1 + ROOM);
  // Limits that leave nothing between them are none.
  return high >= low * LEAST_RANGE ? [low, high] : profileRange(scene, {});
}

/** The highest price that is drawn is at least as many times the lowest. */
export const LEAST_RANGE = 1.001;

interface ProfileInput {
  /** Days from now that are drawn, with their names */
  lines: readonly { id: ProfileLine['id']; name: string; days: number }[];
  /** Whether legs are drawn by themselves: their names in their order */
  legs?: readonly string[];
  /** Other structures on the same prices, at their first expiry or on the day that is said */
  others?: readonly { name: string; scene: StructureScene; scale: MeasureScale; days: number }[];
  range: readonly [number, number];
  shift: MarketShift | undefined;
  measure: ShownMeasure;
  scale: MeasureScale;
}

/** Lines that cannot be seen are left out. */
export function structureProfile(scene: StructureScene, o: ProfileInput): Profile {
  const law = scene.front && expiryLaw(scene.front);
  const [low, high] = o.range;
  const even = Array.from({ length: PLACES }, (_, i) => low + (i / (PLACES - 1)) * (high - low));
  // Corners are drawn where they are.
  const corners = [scene, ...(o.others ?? []).map((other) => other.scene)]
    .flatMap(({ legs }) => legs.map(({ leg }) => leg.strike))
    .filter((k) => k > low && k < high);
  const prices = [...new Set([...even, ...corners])].sort((a, b) => a - b);
  const column = Float64Array.from(prices);
  const { shift, measure, scale } = o;
  const ask = { shift, measures: [gridMeasure(measure)] };
  const lines: ProfileLine[] = [];
  const add = (id: ProfileLine['id'], name: string, values: number[] | undefined) =>
    values && lines.push({ id, name, values });
  for (const { id, name, days } of o.lines) {
    const grid = scene.grid([days], column, ask);
    add(id, name, grid && shownColumn(grid, measure, scale));
  }
  for (const [i, name] of (o.legs ?? []).entries()) {
    const grid = measure === 'profit' || measure === 'value' ? scene.legAtFront(i, column, shift) : undefined;
    const leg = scene.valued?.at(i);
    const cost = leg ? leg.quantity * leg.price : 0;
    add(`leg ${i}`, name, grid && shownColumn(grid, measure, { ...scale, cost }));
  }
  for (const [i, other] of (o.others ?? []).entries()) {
    const grid = other.scene.grid([other.days], column, ask);
    add(`with ${i}`, other.name, grid && shownColumn(grid, measure, other.scale));
  }
  const densities = law ? prices.map((price) => lawDensity(law, price)) : [];
  const top = Math.max(...densities, Number.MIN_VALUE);
  const expected = law && ([lawQuantile(law, OUTSIDE), lawQuantile(law, 1 - OUTSIDE)] as const);
  return {
    ...{ prices, lines },
    silhouette: densities.map((d) => d / top),
    expected: expected?.every(Number.isFinite) ? expected : undefined,
    breakEvens: measure === 'profit' ? (scene.on(Infinity, shift)?.breakEvens ?? []) : [],
  };
}
