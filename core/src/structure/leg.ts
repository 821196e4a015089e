import { type CashDividend, requireRange, type Side } from '../pricing/index.ts';

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
  /** What it brings while it is held; nothing where it is left out */
  income?: HeldIncome;
}

/** Cash that an option has come to: it moves with nothing any more. */
export interface CashLeg {
  kind: 'cash';
  quantity: number;
  /** Paid for one */
  price: number;
  /** Got for one */
  value: number;
}

/** What one unit of the underlying brings, or costs where it is owed. */
export interface HeldIncome {
  /** By ex-dates in years from now: the holder gets them, who owes the underlying pays them */
  dividends: readonly CashDividend[];
  /** Paid for a year of owing one, currency, >= 0 */
  borrow: number;
}

export type Leg = OptionLeg | UnderlyingLeg;
/** As a structure goes on once some of its legs have ended. */
export type PositionLeg = Leg | CashLeg;

/** Most legs of one structure. */
export const MOST_LEGS = 24;

/** @throws RangeError that names what a leg cannot be */
export function checkLegs(legs: readonly PositionLeg[]): void {
  if (legs.length === 0 || legs.length > MOST_LEGS)
    throw new RangeError(`a structure has 1 to ${MOST_LEGS} legs: ${legs.length}`);
  for (const leg of legs) {
    requireRange('quantity', leg.quantity);
    requireRange('price', leg.price);
    if (leg.kind === 'cash') requireRange('value', leg.value);
    if (leg.kind !== 'option') continue;
    requireRange('strike', leg.strike, { above: 0 });
    requireRange('years', leg.years, { minimum: 0 });
  }
}

/**
 * What a unit of the underlying has brought by a day, as cash without interest: dividends that went ex since now, and of one that
 * is owed the cost to borrow it, which its holder does not get.
 * @param years from now to the day, which counts itself
 */
export function incomeBy({ quantity, income }: UnderlyingLeg, years: number): number {
  if (!income) return 0;
  const paid = income.dividends.reduce((sum, d) => sum + (d.time > 0 && d.time <= years ? d.amount : 0), 0);
  return quantity < 0 ? paid + income.borrow * years : paid;
}

/** Legs on a day: what the underlying has brought by then is off the price that it was entered at. */
export function legsOn<T extends PositionLeg>(legs: readonly T[], years: number): T[] {
  return legs.map((leg) =>
    leg.kind === 'underlying' && leg.income ? { ...leg, price: leg.price - incomeBy(leg, years) } : leg,
  );
}

/** What all legs cost together: paid above 0, got below. */
export function structureCost(legs: readonly PositionLeg[]): number {
  return legs.reduce((sum, leg) => sum + leg.quantity * leg.price, 0);
}

/** Years to the first expiry of the legs; Infinity of the underlying alone. */
export function firstExpiry(legs: readonly PositionLeg[]): number {
  return legs.reduce((first, leg) => (leg.kind === 'option' ? Math.min(first, leg.years) : first), Infinity);
}

/** The other side of a structure: all quantities turned, prices kept. */
export function reversed<T extends Leg>(legs: readonly T[]): T[] {
  return legs.map((leg) => ({ ...leg, quantity: -leg.quantity }));
}
