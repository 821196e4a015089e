import { lawDensity, lawQuantile } from '@umwelt/core/probability';
import type { SurfaceStructure } from '@umwelt/core/structure';
import { expiryLaw } from '../../theory/index.ts';
import type { StructureScene } from './structure-scene.ts';

/** Profit by the price of the underlying on one day. */
export interface ProfileLine {
  id: 'now' | 'day' | 'front';
  name: string;
  /** In currency, one a price */
  profits: number[];
  structure: SurfaceStructure;
}

/** What the chart of a structure draws. */
export interface Profile {
  prices: number[];
  lines: ProfileLine[];
  /** Law of the price at the first expiry, the highest 1; one a price, empty without one */
  silhouette: number[];
  breakEvens: number[];
}

/** Outer share of the law that is drawn, places across, and room beside the outer strikes as a share of the price. */
const REACH = 0.015;
const PLACES = 181;
const ROOM = 0.03;

/** @param o.lines days from now that are drawn, with their names; those that cannot be seen are left out */
export function structureProfile(
  scene: StructureScene,
  o: { lines: readonly { id: ProfileLine['id']; name: string; days: number }[]; shift: number; multiplier: number },
): Profile {
  const law = scene.front && expiryLaw(scene.front);
  const strikes = scene.legs.map(({ leg }) => leg.strike);
  const around = law ? [lawQuantile(law, REACH), lawQuantile(law, 1 - REACH)].filter(Number.isFinite) : [];
  const ends = [...around, ...strikes, scene.underlyingPrice];
  const low = Math.min(...ends) * (1 - ROOM);
  const high = Math.max(...ends) * (1 + ROOM);
  const even = Array.from({ length: PLACES }, (_, i) => low + (i / (PLACES - 1)) * (high - low));
  // Corners are drawn where they are.
  const prices = [...new Set([...even, ...strikes])].sort((a, b) => a - b);
  const shift = o.shift === 0 ? undefined : { parallel: o.shift };
  const lines = o.lines.flatMap(({ id, name, days }): ProfileLine[] => {
    const structure = scene.on(days, shift);
    return structure
      ? [{ id, name, structure, profits: prices.map((price) => o.multiplier * structure.profit(price)) }]
      : [];
  });
  const densities = law ? prices.map((price) => lawDensity(law, price)) : [];
  const top = Math.max(...densities, Number.MIN_VALUE);
  return {
    ...{ prices, lines },
    silhouette: densities.map((d) => d / top),
    breakEvens: lines.find((l) => l.id === 'front')?.structure.breakEvens ?? [],
  };
}
