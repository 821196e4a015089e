import {
  constantStructure,
  firstExpiry,
  incomeBy,
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
import { listedTerms } from './listed-contract.ts';
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
/** A leg of listed options with what theory and market say of one. */
interface SeenLeg {
  leg: StructureLeg;
  expiry: ExpiryPicture | undefined;
  value: ListedValue | undefined;
  price: number;
  /** Of one unit, per unit of underlying, by theory */
  worth: number;
}

export type EvaluatedStructure = { ok: true; evaluation: StructureEvaluation } | { ok: false; troubles: LegTrouble[] };

/**
 * A structure of listed options by the one theory: its value is the sum of what Chain says of each leg, its price the mid where none
 * is given, its chance of profit by the law of the smile at the first expiry. Money is price x multiplier.
 */
export function evaluateBySymbol(
  picture: Picture,
  { legs, multiplier = picture.underlying.multiplier }: StructureBySymbol,
  inForce: VolatilityInForce,
): EvaluatedStructure {
  const seen = seenLegs(picture, legs, inForce);
  if (!seen.ok) return seen;
  const income = heldIncome(picture);
  const valued = seen.legs.map(({ leg, expiry, price, value }): ValuedLeg =>
    leg.kind === 'underlying' || !expiry || !value
      ? { kind: 'underlying', quantity: leg.quantity, price, income }
      : valuedLeg({ ...leg, price }, expiry, value),
  );
  const dates = [...new Set(seen.legs.flatMap(({ expiry }) => (expiry ? [expiry] : [])))];
  const found = surfaceStructure(valued, { expiries: dates.map(marketExpiry) });
  if (!found.ok) {
    const message =
      found.reason === 'no-law'
        ? 'its expiry has no smile, so that later legs cannot be valued then'
        : 'no volatility after the first expiry gives it the value that it has today';
    return { ok: false, troubles: [{ leg: found.leg, field: 'expiry', message }] };
  }
  const { structure } = found;
  const sum = (of: (value: ListedValue) => number | undefined, ofUnderlying = 0) =>
    seen.legs.reduce((total, { leg, value }) => {
      const one = leg.kind === 'underlying' ? ofUnderlying : value ? of(value) : NaN;
      return total + leg.quantity * (one ?? NaN) * multiplier;
    }, 0);
  return {
    ok: true,
    evaluation: {
      ...recognizeStructure(valued),
      cost: structure.cost * multiplier,
      value: seen.legs.reduce((total, { leg, worth }) => total + leg.quantity * worth * multiplier, 0),
      dividends: incomeByFirst(valued) * multiplier,
      maxProfit: inMoney(structure.maxProfit, multiplier),
      maxLoss: inMoney(structure.maxLoss, multiplier),
      breakEvens: structure.breakEvens,
      probabilityOfProfit: finiteOrNull(structure.probabilityOfProfit ?? NaN),
      greeks: {
        ...{ delta: sum((v) => v.delta, 1), gamma: sum((v) => v.gamma), theta: sum((v) => v.theta) },
        ...{ vega: sum((v) => v.vega), rho: sum((v) => v.rho) },
        ...{ vanna: finiteOrNull(sum((v) => v.second?.vanna)), volga: finiteOrNull(sum((v) => v.second?.volga)) },
      },
      firstExpiry: dates.length === 0 ? null : dates.map((e) => e.date).sort()[0],
    },
  };
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
  inForce: VolatilityInForce,
): { ok: true; legs: SeenLeg[] } | { ok: false; troubles: LegTrouble[] } {
  const troubles: LegTrouble[] = [];
  const seen: SeenLeg[] = [];
  const nearest = legs
    .flatMap((leg) => (leg.kind === 'option' ? [leg.expiry] : []))
    .sort()
    .at(0);
  for (const [i, leg] of legs.entries()) {
    if (leg.kind === 'underlying') {
      // Of options on futures the one that the first leg is on.
      const worth = picture.expiries.find((e) => e.date === nearest)?.underlyingPrice ?? picture.price;
      seen.push({ leg, expiry: undefined, value: undefined, price: leg.price ?? worth, worth });
      continue;
    }
    const expiry = picture.expiries.find((e) => e.date === leg.expiry);
    if (!expiry) {
      troubles.push({ leg: i, field: 'expiry', message: `no options of ${leg.expiry} are quoted at this instant` });
      continue;
    }
    const at = expiry.strikes.indexOf(leg.strike);
    if (at < 0) {
      troubles.push({ leg: i, field: 'strike', message: `no strike ${leg.strike} is listed for ${leg.expiry}` });
      continue;
    }
    const [value] = listedValues(expiry, [leg], inForce, { isSecondOrder: true });
    const { bid, ask } = expiry[leg.side];
    const [low, high] = [bid[at], ask[at]];
    const price = leg.price ?? (low !== null && high !== null ? 0.5 * (low + high) : undefined);
    if (price === undefined)
      troubles.push({ leg: i, field: 'price', message: 'must be given, since the option has no mid' });
    else if (!value) troubles.push({ leg: i, field: 'expiry', message: `theory has no volatility for ${leg.expiry}` });
    else seen.push({ leg, expiry, value, price, worth: value.price });
  }
  return troubles.length > 0 ? { ok: false, troubles } : { ok: true, legs: seen };
}
