import { requireRange, type Side } from '../pricing/index.ts';

/** An option held, or owed where the quantity is below 0. */
export interface OptionLeg {
  kind: 'option';
  side: Side;
  strike: number;
  /** To expiry, years */
  years: number;
  quantity: number;
  /** Paid for one, or got where it is owed, per unit of underlying */
  price: number;
}

/** The underlying itself, held or owed. */
export interface UnderlyingLeg {
  kind: 'underlying';
  quantity: number;
  /** That it was entered at */
  price: number;
}

export type Leg = OptionLeg | UnderlyingLeg;

/** Most legs of one structure. */
export const MOST_LEGS = 24;

/** @throws RangeError that names what a leg cannot be */
export function checkLegs(legs: readonly Leg[]): void {
  if (legs.length === 0 || legs.length > MOST_LEGS)
    throw new RangeError(`a structure has 1 to ${MOST_LEGS} legs: ${legs.length}`);
  for (const leg of legs) {
    requireRange('quantity', leg.quantity);
    requireRange('price', leg.price);
    if (leg.kind === 'underlying') continue;
    requireRange('strike', leg.strike, { above: 0 });
    requireRange('years', leg.years, { minimum: 0 });
  }
}

/** What all legs cost together: paid above 0, got below. */
export function structureCost(legs: readonly Leg[]): number {
  return legs.reduce((sum, leg) => sum + leg.quantity * leg.price, 0);
}

/** Years to the first expiry of the legs; Infinity of the underlying alone. */
export function firstExpiry(legs: readonly Leg[]): number {
  return legs.reduce((first, leg) => (leg.kind === 'option' ? Math.min(first, leg.years) : first), Infinity);
}

/** The other side of a structure: all quantities turned, prices kept. */
export function reversed<T extends Leg>(legs: readonly T[]): T[] {
  return legs.map((leg) => ({ ...leg, quantity: -leg.quantity }));
}
