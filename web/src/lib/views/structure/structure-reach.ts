import { type ReachChances, reachChance } from '@umwelt/core/structure';
import { lawQuantile } from '@umwelt/core/probability';
import { randomSource } from '@umwelt/market/random';
import { sceneOf, type StructureInput } from './structure-input.ts';

export interface ReachInput extends StructureInput {
  /** Profit and loss of the position that are waited for, currency; a limit is below nothing */
  target: number;
  limit: number;
}

export interface StructureReach {
  chances: ReachChances;
  /** Of the position as it is looked at now, currency */
  now: number;
  paths: number;
}

const PATHS = 20_000;
/** The same structure has the same answer. */
const SEED = 20_310_314;
/** Days that are looked at, at most; between them nothing is missed but what the profit does beside a line. */
const MOST_DAYS = 90;
const PLACES = 401;
/** Outer share of the law that prices reach to. */
const OUTER = 1e-6;
const REACH = 1.02;

/** @returns undefined where the structure cannot be seen on some day */
export function structureReach(o: ReachInput): StructureReach | undefined {
  const scene = sceneOf(o);
  const { front } = scene;
  const last = scene.marketOn(Infinity);
  if (!front || !last?.law) return undefined;
  const count = Math.max(1, Math.min(MOST_DAYS, Math.round(front.days)));
  const asked = Array.from({ length: count }, (_, i) => (i === count - 1 ? Infinity : ((i + 1) / count) * front.days));
  let least = 0;
  const days = asked.flatMap((d) => {
    const law = scene.marketOn(d)?.law;
    if (!law) return [];
    least = Math.max(least, law.smile.totalVariance(0));
    return [{ law, variance: least }];
  });
  if (days.length < count) return undefined;
  const [low, high] = [lawQuantile(last.law, OUTER) / REACH, lawQuantile(last.law, 1 - OUTER) * REACH];
  if (!(low > 0 && high < Infinity)) return undefined;
  const prices = Float64Array.from({ length: PLACES }, (_, i) => low * (high / low) ** (i / (PLACES - 1)));
  const grid = scene.grid([0, ...asked], prices, { shift: o.shift, measures: ['profit'] });
  const here = scene.grid([0], Float64Array.of(scene.underlyingPrice), { shift: o.shift, measures: ['profit'] });
  if (!grid || !here) return undefined;
  const { multiplier } = o.scale;
  const chances = reachChance({
    ...{ days, price: scene.underlyingPrice, prices, profits: grid.profit, paths: PATHS },
    ...{ target: o.target / multiplier, limit: o.limit / multiplier, random: randomSource(SEED).uniform },
  });
  return { chances, now: here.profit[0] * multiplier, paths: PATHS };
}
