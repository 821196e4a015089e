import type { Side } from '../pricing/index.ts';
import type { Leg } from './leg.ts';

/** Structures by the trade's common names, in the order in which they are offered. */
export const STRUCTURE_NAMES = [
  'underlying',
  'single',
  'vertical',
  'straddle',
  'strangle',
  'guts',
  'butterfly',
  'broken-wing-butterfly',
  'condor',
  'iron-butterfly',
  'iron-condor',
  'ratio-spread',
  'back-spread',
  'calendar',
  'diagonal',
  'double-calendar',
  'risk-reversal',
  'synthetic',
  'conversion',
  'collar',
  'covered-call',
  'covered-put',
  'protective-put',
  'protective-call',
  'box',
  'jelly-roll',
  'custom',
] as const;
export type StructureName = (typeof STRUCTURE_NAMES)[number];

/** What a structure is called, and whether it is the other side of what that name usually means. */
export interface RecognizedStructure {
  name: StructureName;
  isReversed: boolean;
}

/** One leg of a pattern: its place among the ascending strikes and expiries of the structure, and its share. */
interface PatternLeg {
  side: Side | 'underlying';
  strike: number;
  expiry: number;
  quantity: number;
}

interface Pattern {
  name: StructureName;
  legs: PatternLeg[];
}

const option = (side: Side, strike: number, quantity: number, expiry = 0): PatternLeg => ({
  ...{ side, strike, expiry, quantity },
});
const held = (quantity: number): PatternLeg => ({ side: 'underlying', strike: 0, expiry: 0, quantity });
const sides = (legs: (side: Side) => PatternLeg[]): PatternLeg[][] => [legs('call'), legs('put')];
const named = (name: StructureName, ...all: PatternLeg[][]): Pattern[] => all.map((legs) => ({ name, legs }));

/**
 * As each name usually means it: verticals and calendars are paid for, butterflies and condors of one side hold the wings, iron ones
 * owe the inner strikes.
 */
const PATTERNS: readonly Pattern[] = [
  ...named('underlying', [held(1)]),
  ...named('single', ...sides((side) => [option(side, 0, 1)])),
  ...named('vertical', [option('call', 0, 1), option('call', 1, -1)], [option('put', 1, 1), option('put', 0, -1)]),
  ...named('straddle', [option('call', 0, 1), option('put', 0, 1)]),
  ...named('strangle', [option('put', 0, 1), option('call', 1, 1)]),
  ...named('guts', [option('call', 0, 1), option('put', 1, 1)]),
  ...named('butterfly', ...sides((side) => [option(side, 0, 1), option(side, 1, -2), option(side, 2, 1)])),
  ...named(
    'condor',
    ...sides((side) => [option(side, 0, 1), option(side, 1, -1), option(side, 2, -1), option(side, 3, 1)]),
  ),
  ...named('iron-butterfly', [option('put', 0, 1), option('put', 1, -1), option('call', 1, -1), option('call', 2, 1)]),
  ...named('iron-condor', [option('put', 0, 1), option('put', 1, -1), option('call', 2, -1), option('call', 3, 1)]),
  ...named('calendar', ...sides((side) => [option(side, 0, -1, 0), option(side, 0, 1, 1)])),
  ...named(
    'diagonal',
    ...sides((side) => [option(side, 0, -1, 0), option(side, 1, 1, 1)]),
    ...sides((side) => [option(side, 1, -1, 0), option(side, 0, 1, 1)]),
  ),
  ...named(
    'double-calendar',
    ...(['call', 'put'] as const).flatMap((low) =>
      sides((high) => [
        ...[option(low, 0, -1, 0), option(low, 0, 1, 1)],
        ...[option(high, 1, -1, 0), option(high, 1, 1, 1)],
      ]),
    ),
  ),
  ...named('risk-reversal', [option('put', 0, -1), option('call', 1, 1)]),
  ...named('synthetic', [option('put', 0, -1), option('call', 0, 1)]),
  ...named('conversion', [held(1), option('put', 0, 1), option('call', 0, -1)]),
  ...named('collar', [held(1), option('put', 0, 1), option('call', 1, -1)]),
  ...named('covered-call', [held(1), option('call', 0, -1)]),
  ...named('covered-put', [held(-1), option('put', 0, -1)]),
  ...named('protective-put', [held(1), option('put', 0, 1)]),
  ...named('protective-call', [held(-1), option('call', 0, 1)]),
  ...named('box', [option('call', 0, 1), option('call', 1, -1), option('put', 1, 1), option('put', 0, -1)]),
  ...named('jelly-roll', [
    ...[option('call', 0, -1, 0), option('put', 0, 1, 0)],
    ...[option('call', 0, 1, 1), option('put', 0, -1, 1)],
  ]),
];
/** Those whose other side has a name of its own: they are matched as they stand alone. */
const OWN_REVERSE: readonly StructureName[] = ['covered-call', 'covered-put', 'protective-put', 'protective-call'];
/** Share of a quantity, or of a distance, within which two are the same. */
const SAME = 1e-9;

/** What legs are together, whatever their order; several of one option are one. */
export function recognizeStructure(legs: readonly Leg[]): RecognizedStructure {
  const found = placed(legs);
  for (const { name, legs: pattern } of PATTERNS) {
    const factor = matched(found.legs, pattern);
    if (factor === undefined || (factor < 0 && OWN_REVERSE.includes(name))) continue;
    const isReversed = factor < 0;
    if (name !== 'butterfly') return { name, isReversed };
    const [low, middle, high] = found.strikes;
    const isEven = Math.abs(high - 2 * middle + low) <= SAME * high;
    return { name: isEven ? 'butterfly' : 'broken-wing-butterfly', isReversed };
  }
  return ratioOf(found.legs) ?? { name: 'custom', isReversed: false };
}

/** More of one strike than of another of the same side: a ratio where more is owed, a back spread where more is held. */
function ratioOf(legs: readonly PatternLeg[]): RecognizedStructure | undefined {
  if (legs.length !== 2 || legs.some((leg) => leg.side === 'underlying')) return undefined;
  const [a, b] = legs;
  if (a.side !== b.side || a.expiry !== b.expiry || a.quantity * b.quantity > 0) return undefined;
  const [near, far] = [...legs].sort((one, other) =>
    one.side === 'call' ? one.strike - other.strike : other.strike - one.strike,
  );
  // The usual ones trade more of the option farther out of the money; others have no common name.
  if (Math.abs(far.quantity) <= Math.abs(near.quantity)) return undefined;
  return { name: far.quantity < 0 ? 'ratio-spread' : 'back-spread', isReversed: false };
}

/** Legs by their places among ascending strikes and expiries, like ones together and none that comes to nothing. */
function placed(legs: readonly Leg[]): { legs: PatternLeg[]; strikes: number[] } {
  const merged: Leg[] = [];
  for (const leg of legs) {
    const same = merged.findIndex((other) => isSame(other, leg));
    if (same < 0) merged.push({ ...leg });
    else merged[same] = { ...merged[same], quantity: merged[same].quantity + leg.quantity };
  }
  const kept = merged.filter((leg) => leg.quantity !== 0);
  const ascending = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);
  const strikes = ascending(kept.flatMap((leg) => (leg.kind === 'option' ? [leg.strike] : [])));
  const expiries = ascending(kept.flatMap((leg) => (leg.kind === 'option' ? [leg.years] : [])));
  return {
    strikes,
    legs: kept.map((leg) =>
      leg.kind === 'underlying'
        ? held(leg.quantity)
        : option(leg.side, strikes.indexOf(leg.strike), leg.quantity, expiries.indexOf(leg.years)),
    ),
  };
}

function isSame(a: Leg, b: Leg): boolean {
  if (a.kind === 'underlying' || b.kind === 'underlying') return a.kind === b.kind;
  return a.side === b.side && a.strike === b.strike && a.years === b.years;
}

/** By how many times legs are the pattern; undefined where they are not. */
function matched(legs: readonly PatternLeg[], pattern: readonly PatternLeg[]): number | undefined {
  if (legs.length !== pattern.length) return undefined;
  let factor: number | undefined;
  for (const wanted of pattern) {
    const leg = legs.find((l) => l.side === wanted.side && l.strike === wanted.strike && l.expiry === wanted.expiry);
    if (!leg) return undefined;
    const times = leg.quantity / wanted.quantity;
    if (factor !== undefined && Math.abs(times - factor) > SAME * Math.abs(factor)) return undefined;
    factor = times;
  }
  return factor;
}

/** What a structure is made of. */
export interface StructureTerms {
  /** Side where the name leaves it open: default call */
  side?: Side;
  /** Ascending */
  strikes: readonly number[];
  /** Years, ascending */
  expiries: readonly number[];
  quantity?: number;
  /** Of the farther strike for each of the nearer, of ratio and back spreads; default 2 */
  ratio?: number;
}

/** A leg without its price. */
export type UnpricedLeg =
  | { kind: 'option'; side: Side; strike: number; years: number; quantity: number }
  | { kind: 'underlying'; quantity: number };

/**
 * Legs of a structure by its name.
 * @returns undefined where strikes or expiries do not suffice for it, and of `custom`
 */
export function structureLegs(name: StructureName, o: StructureTerms): UnpricedLeg[] | undefined {
  const side = o.side ?? 'call';
  const quantity = o.quantity ?? 1;
  const pattern =
    name === 'ratio-spread' || name === 'back-spread' ? ratioPattern(name, side, o.ratio ?? 2) : patternOf(name, side);
  if (!pattern) return undefined;
  const legs = pattern.map((leg): UnpricedLeg | undefined => {
    if (leg.side === 'underlying') return { kind: 'underlying', quantity: quantity * leg.quantity };
    const strike = o.strikes.at(leg.strike);
    const years = o.expiries.at(leg.expiry);
    if (strike === undefined || years === undefined) return undefined;
    return { kind: 'option', side: leg.side, strike, years, quantity: quantity * leg.quantity };
  });
  return legs.every((leg) => leg !== undefined) ? legs : undefined;
}

function patternOf(name: StructureName, side: Side): PatternLeg[] | undefined {
  const of = PATTERNS.filter((p) => p.name === (name === 'broken-wing-butterfly' ? 'butterfly' : name));
  return (of.find((p) => p.legs.every((l) => l.side === side)) ?? of.at(0))?.legs;
}

function ratioPattern(name: 'ratio-spread' | 'back-spread', side: Side, ratio: number): PatternLeg[] {
  const [near, far] = side === 'call' ? [0, 1] : [1, 0];
  const sign = name === 'ratio-spread' ? 1 : -1;
  return [option(side, near, sign), option(side, far, -sign * ratio)];
}
