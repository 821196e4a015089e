import { recognizeStructure, structureLegs, type StructureName } from '@umwelt/core/structure';
import type { KeptStructure } from '../../api/kept-structure.ts';
import { counted, type PickableOption } from '../../api/picked-legs.ts';
import type { ExpiryPicture } from '../../api/picture.ts';
import type { TradedLegText } from '../../api/traded.ts';

/* Changes of the legs, each a list anew; like options are one leg. */

type Legs = readonly TradedLegText[];
type Listed = Pick<ExpiryPicture, 'date' | 'strikes' | 'forward' | 'years' | 'atm'>;

const changed = (legs: Legs, at: number, change: Partial<TradedLegText>) =>
  counted(legs.map((leg, i) => (i === at ? { ...leg, ...change } : leg)));

export const withRatio = (legs: Legs, at: number, ratio: number) => changed(legs, at, { ratio });
export const without = (legs: Legs, at: number) => legs.filter((_, i) => i !== at);
export const turnedSide = (legs: Legs, at: number) =>
  changed(legs, at, { side: legs[at].side === 'call' ? 'put' : 'call' });
/** Every leg the other way round. */
export const turnedRound = (legs: Legs) => legs.map((leg) => ({ ...leg, ratio: -leg.ratio }));
/** Every leg as many times, in whole contracts. */
export const times = (legs: Legs, factor: number) =>
  counted(legs.map((leg) => ({ ...leg, ratio: Math.round(leg.ratio * factor) })));

/** A leg at the listed strike that is some steps away, as far as there are any. */
export function strikeStepped(legs: Legs, at: number, step: number, expiries: readonly Listed[]): TradedLegText[] {
  const strikes = expiries.find((e) => e.date === legs[at].expiry)?.strikes ?? [];
  if (strikes.length === 0) return [...legs];
  const place = strikes.indexOf(legs[at].strike);
  // One that is not listed comes to the nearest that is.
  if (place < 0) return changed(legs, at, { strike: nearestOf(strikes, legs[at].strike) });
  return changed(legs, at, { strike: strikes[Math.max(0, Math.min(strikes.length - 1, place + step))] });
}

/** A leg at another expiry, at the strike listed there that is nearest to its own. */
export function atExpiry(legs: Legs, at: number, date: string, expiries: readonly Listed[]): TradedLegText[] {
  const strikes = expiries.find((e) => e.date === date)?.strikes ?? [];
  if (strikes.length === 0) return [...legs];
  return changed(legs, at, { expiry: date, strike: nearestOf(strikes, legs[at].strike) });
}

export function expiryStepped(legs: Legs, at: number, step: 1 | -1, expiries: readonly Listed[]): TradedLegText[] {
  const place = expiries.findIndex((e) => e.date === legs[at].expiry);
  const next = expiries.at(Math.max(0, place + step));
  return place < 0 || !next ? [...legs] : atExpiry(legs, at, next.date, expiries);
}

/** One more leg like it, a listed strike farther out of the money. */
export function duplicated(legs: Legs, at: number, expiries: readonly Listed[]): TradedLegText[] {
  const copy = strikeStepped([legs[at]], 0, legs[at].side === 'call' ? 1 : -1, expiries);
  return counted([...legs, ...copy]);
}

const nearestOf = (strikes: readonly number[], wanted: number) =>
  strikes.reduce((best, k) => (Math.abs(k - wanted) < Math.abs(best - wanted) ? k : best));

/** Where the strikes of a structure are put, in deviations from the forward, by how many it has. */
const PLACES: Record<number, number[]> = { 1: [0], 2: [-0.5, 0.5], 3: [-1, 0, 1], 4: [-1.5, -0.75, 0.75, 1.5] };
/** Days between the expiries of a structure of two. */
const APART = 25;

/** Strikes that lie apart by as much, but for rounding. */
const SAME_APART = 1e-9;

/**
 * Three or four listed strikes near those that are wanted whose wings are as wide on both sides: of four the inner two are the body.
 * @returns undefined of another count, or where no strikes are listed so
 */
function evenWings(strikes: readonly number[], wanted: readonly number[]): number[] | undefined {
  if (wanted.length !== 3 && wanted.length !== 4) return undefined;
  const [low, high] = [wanted[0], wanted[wanted.length - 1]];
  const inner = wanted.slice(1, -1).map((at) => nearestOf(strikes, at));
  const [below, above] = [inner[0], inner[inner.length - 1]];
  if (wanted.length === 4 && below === above) return undefined;
  let best: number[] | undefined;
  let least = Infinity;
  for (const strike of strikes) {
    const wing = below - strike;
    const other = strikes.find((k) => Math.abs(k - above - wing) <= SAME_APART * k);
    if (wing <= 0 || other === undefined) continue;
    const miss = Math.abs(strike - low) + Math.abs(other - high);
    if (miss < least) [least, best] = [miss, [strike, ...new Set(inner), other]];
  }
  return best;
}

/**
 * A structure by its name around the forward of an expiry, the later one the next that is a month or so away.
 * @returns undefined where too few strikes or expiries are listed for it
 */
export function built(
  name: StructureName,
  side: 'call' | 'put',
  focus: Listed,
  expiries: readonly Listed[],
): { legs: TradedLegText[]; held: number } | undefined {
  const later = expiries.find((e) => e.years > focus.years + APART / 365);
  const dates = later ? [focus, later] : [focus];
  for (const [count, places] of Object.entries(PLACES)) {
    const deviation = (focus.atm ?? 0.2) * Math.sqrt(focus.years);
    const wanted = places.map((n) => focus.forward * Math.exp(n * deviation));
    const strikes = evenWings(focus.strikes, wanted) ?? [...new Set(wanted.map((at) => nearestOf(focus.strikes, at)))];
    if (strikes.length < Number(count)) return undefined;
    const legs = structureLegs(name, { side, strikes, expiries: dates.map((e) => e.years) });
    if (!legs) continue;
    const placed = legs.map((leg) => (leg.kind === 'option' ? { ...leg, price: 0 } : { ...leg, price: 0 }));
    // One that only a wider set of strikes makes what its name says is built with that.
    if (recognizeStructure(placed).name !== name) continue;
    const options = legs.flatMap((leg): TradedLegText[] => {
      if (leg.kind === 'underlying') return [];
      const expiry = dates.find((e) => e.years === leg.years);
      return expiry
        ? [{ ratio: leg.quantity, expiry: expiry.date, strike: nearestOf(expiry.strikes, leg.strike), side: leg.side }]
        : [];
    });
    const held = legs.reduce((sum, leg) => sum + (leg.kind === 'underlying' ? leg.quantity : 0), 0);
    return { legs: counted(options), held };
  }
  return undefined;
}

/** Whether two options are one. */
export const isSameOption = (a: PickableOption, b: PickableOption) =>
  a.expiry === b.expiry && a.strike === b.strike && a.side === b.side;

/** How many of the smallest structure with whole contracts it is. @param held of the underlying, in contracts' worth */
export function timesOver(legs: Legs, held = 0): number {
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));
  const found = legs.reduce((so, { ratio }) => divisor(so, Math.abs(ratio)), 0);
  return (Number.isInteger(held) ? divisor(found, Math.abs(held)) : found) || 1;
}

/**
 * A kept structure after splits, as an address carries it: as many more contracts of as much lower strikes. As it is where that is no
 * whole number of contracts: then its strikes are told as they were.
 * @param factor units that one unit of then has become
 */
export function inUnitsOfNow<K extends Pick<KeptStructure, 'legs' | 'held' | 'paid'>>(kept: K, factor: number): K {
  const { legs, held, paid } = kept;
  if (factor === 1 || legs.some(({ ratio }) => !Number.isInteger(ratio * factor))) return kept;
  return {
    ...kept,
    legs: legs.map((leg) => ({ ...leg, ratio: leg.ratio * factor, strike: leg.strike / factor })),
    held: held * factor,
    paid: paid.map((one) => ({ ...one, strike: one.strike / factor, price: one.price / factor })),
  };
}
