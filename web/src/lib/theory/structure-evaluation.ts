import {
  constantStructure,
  firstExpiry,
  incomeBy,
  type Leg,
  type MarketExpiry,
  recognizeStructure,
  surfaceStructure,
  type ValuedLeg,
  type ValuedOptionLeg,
} from '@umwelt/core/structure';
import { finiteOrNull } from '../api/finite-or-null.ts';
import type { ExpiryPicture, Picture } from '../api/picture.ts';
import type { StructureByNumbers, StructureBySymbol, StructureEvaluation } from '../api/structure.ts';
import type { Side } from '../api/quantity.ts';
import { expiryLaw } from './expiry-law.ts';
import { heldIncome } from './held-income.ts';
import { legAssignment } from './early-assignment-of.ts';
import { hasEnded } from '../market/index.ts';
import { listedTerms } from './listed-contract.ts';
import { settledLeg } from './settled-leg.ts';
import { legExpiry } from './spread-theory.ts';
import { scaledGreeks } from './greek-scales.ts';
import { isAmerican, listedValues, type ListedValue } from './listed-values.ts';
import type { VolatilityInForce } from './volatility-in-force.ts';

/** A structure under constant volatilities: figures in money, Greeks in the scales of the screen. */
export function evaluateByNumbers({ legs, multiplier, ...market }: StructureByNumbers): StructureEvaluation {
  const found = constantStructure(legs, market);
  const { price: _price, ...greeks } = found.greeks;
  return {
    ...recognizeStructure(legs),
    cost: found.cost * multiplier,
    maxProfit: inMoney(found.maxProfit, multiplier),
    maxLoss: inMoney(found.maxLoss, multiplier),
    breakEvens: found.breakEvens,
    probabilityOfProfit: found.probabilityOfProfit,
    greeks: known(timesAll(scaledGreeks(greeks, 'spot'), multiplier)),
  };
}

function inMoney(profit: number | undefined, multiplier: number): number | null {
  return profit === undefined ? null : finiteOrNull(profit * multiplier);
}

function timesAll<G extends Record<string, number>>(greeks: G, multiplier: number): G {
  return Object.fromEntries(Object.entries(greeks).map(([name, value]) => [name, value * multiplier])) as G;
}

/** Of a strike at the price with no time or volatility left gamma has no bound: that is not known, rather than a number. */
function known<G extends Record<string, number>>(greeks: G): Record<keyof G, number | null> {
  return Object.fromEntries(Object.entries(greeks).map(([name, value]) => [name, finiteOrNull(value)])) as Record<
    keyof G,
    number | null
  >;
}

/** What is wrong with a leg, by its place. */
export interface LegTrouble {
  leg: number;
  field: 'expiry' | 'strike' | 'price';
  message: string;
}

type StructureLeg = StructureBySymbol['legs'][number];
/** A leg with what theory and market say of one. */
interface SeenLeg {
  leg: StructureLeg;
  /** As core takes it */
  valued: ValuedLeg;
  /** Of a listed option, or one that the surface tells of */
  live: { expiry: ExpiryPicture; value: ListedValue } | undefined;
  valuedBy: 'quote' | 'smile' | 'settlement';
  /** For one unit, per unit of underlying */
  paid: number;
  /** Of one unit now, per unit of underlying */
  worth: number;
  /** Units of the underlying that one is, where nothing else moves it */
  units: number;
}

export type EvaluatedStructure = { ok: true; evaluation: StructureEvaluation } | { ok: false; troubles: LegTrouble[] };

/** What a structure of listed options is seen by. */
export interface SeenBy {
  inForce: VolatilityInForce;
  /** What expiries that have ended were settled at, by date; null where it is not stored */
  settlements?: ReadonlyMap<string, number | null>;
  /** Units that one unit in which the request is told has become */
  splitFactor?: number;
}

/**
 * A structure of listed options by the one theory: its value is the sum of what Chain says of each leg, its price the mid where none
 * is given, its chance of profit by the law of the smile at the first expiry. Money is price x multiplier.
 */
export function evaluateBySymbol(picture: Picture, request: StructureBySymbol, o: SeenBy): EvaluatedStructure {
  const { multiplier = picture.underlying.multiplier, unlisted } = request;
  const { splitFactor = 1 } = o;
  const legs = request.legs.map((leg) => inUnitsOfNow(leg, splitFactor));
  const seen = seenLegs(picture, legs, { ...o, isUnlistedValued: unlisted === 'value' });
  if (!seen.ok) return seen;
  const valued = seen.legs.map((l) => l.valued);
  const dates = [...new Set(seen.legs.flatMap(({ live }) => (live ? [live.expiry] : [])))];
  const found = surfaceStructure(valued, { expiries: dates.map(marketExpiry) });
  if (!found.ok) {
    const message =
      found.reason === 'no-law'
        ? 'its expiry has no smile, so that later legs cannot be valued then'
        : 'no volatility after the first expiry gives it the value that it has today';
    return { ok: false, troubles: [{ leg: found.leg, field: 'expiry', message }] };
  }
  const { structure } = found;
  const sum = (of: (value: ListedValue) => number | undefined, isDelta = false) =>
    seen.legs.reduce((total, { leg, live, units }) => {
      const one = live ? of(live.value) : isDelta ? units : 0;
      return total + leg.quantity * (one ?? NaN) * multiplier;
    }, 0);
  return {
    ok: true,
    evaluation: {
      ...recognizeStructure(legs.map(namedLeg)),
      // The underlying that an option became was paid with the strike: what it cost is still the premium.
      cost: seen.legs.reduce((total, { leg, paid }) => total + leg.quantity * paid * multiplier, 0),
      value: seen.legs.reduce((total, { leg, worth }) => total + leg.quantity * worth * multiplier, 0),
      dividends: incomeByFirst(valued) * multiplier,
      maxProfit: inMoney(structure.maxProfit, multiplier),
      maxLoss: inMoney(structure.maxLoss, multiplier),
      breakEvens: structure.breakEvens,
      probabilityOfProfit: finiteOrNull(structure.probabilityOfProfit ?? NaN),
      greeks: {
        ...{ delta: sum((v) => v.delta, true), gamma: sum((v) => v.gamma), theta: sum((v) => v.theta) },
        ...{ vega: sum((v) => v.vega), rho: sum((v) => v.rho) },
        ...{ vanna: finiteOrNull(sum((v) => v.second?.vanna)), volga: finiteOrNull(sum((v) => v.second?.volga)) },
      },
      firstExpiry: dates.length === 0 ? null : dates.map((e) => e.date).sort()[0],
      ...(unlisted === 'value' ? { legs: seen.legs.map(({ valuedBy }) => ({ valuedBy })) } : {}),
      ...(splitFactor === 1 ? {} : { splitFactor }),
      ...assignmentsOf(picture, seen.legs, multiplier),
    },
  };
}

function assignmentsOf(
  picture: Picture,
  legs: readonly SeenLeg[],
  multiplier: number,
): Pick<StructureEvaluation, 'assignments'> {
  const assignments = legs.flatMap(({ leg, live }, i) => {
    const found = live && leg.kind === 'option' && legAssignment(picture, live.expiry, leg, live.value);
    return found ? [{ leg: i, exDate: found.exDate, cost: -leg.quantity * found.cost * multiplier }] : [];
  });
  return assignments.length === 0 ? {} : { assignments };
}

/** A leg after splits: as many more units, each as much less. */
function inUnitsOfNow<L extends StructureLeg>(leg: L, factor: number): L {
  if (factor === 1) return leg;
  const price = leg.price === undefined ? {} : { price: leg.price / factor };
  const strike = leg.kind === 'option' ? { strike: leg.strike / factor } : {};
  return { ...leg, quantity: leg.quantity * factor, ...price, ...strike };
}

/** A leg as far as names of structures go: of expiries their order counts alone. */
function namedLeg(leg: StructureLeg): Leg {
  if (leg.kind === 'underlying') return { kind: 'underlying', quantity: leg.quantity, price: 0 };
  const { side, strike, quantity, expiry } = leg;
  return { kind: 'option', side, strike, quantity, price: 0, years: Date.parse(expiry) / 1e12 };
}

/** What the underlying among the legs brings by their first expiry, per unit of underlying; nothing without options. */
function incomeByFirst(legs: readonly ValuedLeg[]): number {
  const first = firstExpiry(legs);
  if (!Number.isFinite(first)) return 0;
  return legs.reduce((sum, leg) => sum + (leg.kind === 'underlying' ? leg.quantity * incomeBy(leg, first) : 0), 0);
}

/** What core asks of an option leg. @param value of it by theory */
export function valuedLeg(
  leg: { side: Side; strike: number; quantity: number; price: number },
  { years }: ExpiryPicture,
  value: ListedValue,
): ValuedOptionLeg {
  const { side, strike, quantity, price } = leg;
  return {
    ...{ kind: 'option', side, strike, years, quantity, price },
    value: value.price - (value.earlyExercise ?? 0),
    contractRatio: value.contractVolatility / value.volatility,
  };
}

/** What core asks of an expiry. */
export function marketExpiry(expiry: ExpiryPicture): MarketExpiry {
  const { years, forward, discountFactor } = expiry;
  return {
    ...{ years, forward, discountFactor },
    law: expiryLaw(expiry),
    american: isAmerican(expiry) ? listedTerms(expiry) : undefined,
    isForwardFixed: expiry.model === 'futures',
  };
}

function seenLegs(
  picture: Picture,
  legs: readonly StructureLeg[],
  o: SeenBy & { isUnlistedValued: boolean },
): { ok: true; legs: SeenLeg[] } | { ok: false; troubles: LegTrouble[] } {
  const troubles: LegTrouble[] = [];
  const seen: SeenLeg[] = [];
  const nearest = legs
    .flatMap((leg) => (leg.kind === 'option' ? [leg.expiry] : []))
    .sort()
    .find((date) => picture.expiries.some((e) => e.date === date));
  const income = heldIncome(picture);
  const seenExpiries = new Map<string, ExpiryPicture | undefined>();
  const expiryOf = (date: string) => {
    if (!seenExpiries.has(date))
      seenExpiries.set(
        date,
        o.isUnlistedValued ? legExpiry(picture, date) : picture.expiries.find((e) => e.date === date),
      );
    return seenExpiries.get(date);
  };
  for (const [i, leg] of legs.entries()) {
    const refuse = (field: LegTrouble['field'], message: string) => troubles.push({ leg: i, field, message });
    if (leg.kind === 'underlying') {
      // Of options on futures the one that the first leg is on.
      const worth = picture.expiries.find((e) => e.date === nearest)?.underlyingPrice ?? picture.price;
      const price = leg.price ?? worth;
      const valued: ValuedLeg = { kind: 'underlying', quantity: leg.quantity, price, income };
      seen.push({ leg, valued, live: undefined, valuedBy: 'quote', paid: price, worth, units: 1 });
      continue;
    }
    if (o.isUnlistedValued && hasEnded(picture, leg.expiry)) {
      const at = o.settlements?.get(leg.expiry) ?? null;
      if (at === null) {
        refuse('expiry', `no close of ${leg.expiry} is stored, so that what the option paid is not known`);
        continue;
      }
      const { worth } = settledLeg(picture, { ...leg, price: 0 }, at);
      const paid = leg.price ?? worth;
      const settled = settledLeg(picture, { ...leg, price: paid }, at);
      const valued = settled.leg.kind === 'underlying' ? { ...settled.leg, income } : settled.leg;
      seen.push({ leg, valued, live: undefined, valuedBy: 'settlement', paid, worth, units: settled.delta });
      continue;
    }
    const expiry = expiryOf(leg.expiry);
    if (!expiry) {
      refuse('expiry', `no options of ${leg.expiry} are quoted at this instant`);
      continue;
    }
    const at = expiry.strikes.indexOf(leg.strike);
    if (at < 0 && !o.isUnlistedValued) {
      refuse('strike', `no strike ${leg.strike} is listed for ${leg.expiry}`);
      continue;
    }
    const [value] = listedValues(expiry, [leg], o.inForce, { isSecondOrder: true });
    const { bid, ask } = expiry[leg.side];
    const [low, high] = at < 0 ? [null, null] : [bid[at], ask[at]];
    const mid = low !== null && high !== null ? 0.5 * (low + high) : undefined;
    const price = leg.price ?? (at < 0 ? value?.price : mid);
    if (!value) refuse('expiry', `theory has no volatility for ${leg.expiry}`);
    else if (price === undefined) refuse('price', 'must be given, since the option has no mid');
    else
      seen.push({
        ...{ leg, valued: valuedLeg({ ...leg, price }, expiry, value), live: { expiry, value }, units: 0 },
        ...{ valuedBy: at < 0 ? 'smile' : 'quote', paid: price, worth: value.price },
      });
  }
  return troubles.length > 0 ? { ok: false, troubles } : { ok: true, legs: seen };
}
