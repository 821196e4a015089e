import { type LadderTerms, premiumBySpot } from '../pricing/index.ts';
import { lawAbove, lawPayoff, type PriceLaw } from '../probability/index.ts';
import { type SmileMovement, skewStickinessRatio, smileVolatility } from '../surface/index.ts';
import {
  type CashLeg,
  checkLegs,
  firstExpiry,
  legsOn,
  type OptionLeg,
  structureCost,
  type UnderlyingLeg,
} from './leg.ts';
import { type LaterOption, laterValue } from './later-option.ts';
import { certainPrice, laterVolatility, lawNodes, type LawNodes } from './later-volatility.ts';
import { payoffAtExpiry, payoffBreakEvens, payoffMaximum, payoffMinimum, payoffOf, payoffProfit } from './payoff.ts';
import { type ProfitAt, profitChance, profitProfile } from './profit-profile.ts';

/** What the market says of a day: an expiry, or any other. */
export interface MarketDay {
  /** From now; 0 is now */
  years: number;
  /** Of the underlying for that day; its price where it is now */
  forward: number;
  discountFactor: number;
  /** Of the price then; undefined now, and without a smile */
  law: PriceLaw | undefined;
}

export interface MarketExpiry extends MarketDay {
  /** Whether its underlying is a future, which a rate does not move */
  isForwardFixed?: boolean;
  /** What its options share where they may be exercised before, as of now; undefined of European ones */
  american: LadderTerms | undefined;
}

/** An option leg with what one unit of it is worth today by theory. */
export interface ValuedOptionLeg extends OptionLeg {
  /** Without the right to exercise early */
  value: number;
  /** Volatility of an American contract for each unit of that of the forward; 1 unless dividends are paid in cash */
  contractRatio?: number;
}
export type ValuedLeg = ValuedOptionLeg | UnderlyingLeg | CashLeg;

/** What is assumed to be otherwise on the day; nothing where it is left out. */
export interface MarketShift {
  /** On every volatility after the day, decimal */
  parallel?: number;
  /** By the root of 30 days over what is left, so that near expiries move more; never more than at 7 days */
  isByRootTime?: boolean;
  /** On the volatility of a strike a tenth below its forward of today, decimal; in proportion to the logarithm elsewhere */
  tilt?: number;
  /** On the rate after the day, decimal, continuous */
  rate?: number;
  /** How the smile of a later leg goes with the price, from where it is expected that day; it stays with its strikes otherwise */
  movement?: SmileMovement;
}

/** A structure on one day, per unit of underlying. */
export interface SurfaceStructure {
  cost: number;
  /** Undefined where they have no end */
  maxProfit: number | undefined;
  maxLoss: number | undefined;
  breakEvens: number[];
  /** Undefined where nothing tells the law of the price on that day */
  probabilityOfProfit: number | undefined;
  /** By the law of that day, undiscounted */
  expectedProfit: number | undefined;
  profit: ProfitAt;
  /** Constant volatility after the day of each leg that lives on; in the order of the legs, undefined of the others */
  laterVolatilities: (number | undefined)[];
}

/** Why a structure cannot be seen on a day, and which leg is in the way. */
export type SurfaceStructureResult =
  | { ok: true; structure: SurfaceStructure }
  | { ok: false; reason: 'no-law' | 'no-volatility'; leg: number };

/** Prices are looked at as far out as the law reaches, and this many times beyond that and the outer strikes. */
const FAR = 3;
/** A slope beyond all strikes below this is rounding. */
const SLOPE = 1e-12;
/** What a shift by the root of time is told for, and where it ends, in years. */
const SHIFT_AT = 30 / 365;
const SHIFT_LEAST = 7 / 365;
/** Where a tilt is told for, as the logarithm of strike over forward. */
const TILT_AT = Math.log(0.9);
/** No shift brings a volatility below this. */
const LEAST_VOLATILITY = 0.005;

export type StructureRefused = Extract<SurfaceStructureResult, { ok: false }>;

interface SurfaceInput {
  expiries: readonly MarketExpiry[];
  /** No later than the first expiry, which it is without one */
  day?: MarketDay;
  shift?: MarketShift;
}

/** A day as its law and its legs are seen. */
export interface SeenDay {
  /** The underlying among them entered at its price less what it has brought by then */
  legs: readonly ValuedLeg[];
  profit: ProfitAt;
  /** Constant volatility after the day of each leg that lives on; in the order of the legs, undefined of the others */
  laterVolatilities: (number | undefined)[];
  law: PriceLaw | undefined;
  nodes: LawNodes | undefined;
  /** Undefined of legs that expire then; of none where all do */
  later: (Later | undefined)[] | undefined;
  /** Of each leg that lives on and whose smile moves with the price: its volatility by that price */
  volatilityAt: (((price: number) => number) | undefined)[];
  /** Before any shift, in the order of the legs: where the next day's are looked for */
  fittedVolatilities: (number | undefined)[];
}

/**
 * Figures of a structure by the fitted surface on a day no later than the first expiry of its legs, which is the day that is meant
 * where none is given. Legs that expire then are worth their exercise. One that lives on is worth what it comes to at a constant
 * volatility from then on, at the one that meets today's value over the law of the price on that day (see {@link laterVolatility});
 * its forward moves in proportion to the price. The underlying has brought its dividends by then ({@link legsOn}). To an American one is added what early exercise is worth then, at that volatility
 * and that price: by one boundary or grid a leg, whose error is about 1e-5 of the strike.
 * @param o.expiries of all option legs
 * @throws RangeError where a leg's expiry is not among them, or for a day after the first
 */
export function surfaceStructure(legs: readonly ValuedLeg[], o: SurfaceInput): SurfaceStructureResult {
  const seen = seenOn(legs, o);
  if ('ok' in seen) return seen;
  const { nodes, later, profit, laterVolatilities } = seen;
  const cost = structureCost(legs);
  if (!later) return { ok: true, structure: { ...atExpiry(seen), cost } };
  const known = nodes?.prices ?? [o.day?.forward ?? NaN];
  const strikes = legs.flatMap((leg) => (leg.kind === 'option' ? [leg.strike] : []));
  const low = Math.min(known[0], ...strikes) / FAR;
  const high = Math.max(known[known.length - 1], ...strikes) * FAR;
  const { breakEvens, highest, lowest } = profitProfile(profit, { knots: strikes, low, high });
  const slope = slopeFar(legs, later);
  const atNothing = profit(low * 1e-6);
  return {
    ok: true,
    structure: {
      ...{ cost, breakEvens, profit, laterVolatilities },
      maxProfit: slope > SLOPE ? undefined : Math.max(highest.profit, atNothing),
      maxLoss: slope < -SLOPE ? undefined : -Math.min(lowest.profit, atNothing),
      ...odds(seen, breakEvens),
    },
  };
}

/**
 * A day as {@link surfaceStructure} sees it.
 * @param o.starts volatilities of the legs near which theirs are looked for
 */
export function seenOn(
  given: readonly ValuedLeg[],
  o: SurfaceInput & { starts?: readonly (number | undefined)[] },
): SeenDay | StructureRefused {
  checkLegs(given);
  const first = firstExpiry(given);
  const expiryOf = (years: number): MarketExpiry => {
    const found = o.expiries.find((e) => e.years === years);
    if (!found) throw new RangeError(`no expiry is given in ${years} years`);
    return found;
  };
  const day = o.day ?? (Number.isFinite(first) ? expiryOf(first) : undefined);
  if (day && day.years > first) throw new RangeError(`the day lies after the first expiry: ${day.years} years`);
  const legs = legsOn(given, day?.years ?? 0);
  const { law } = day ?? {};
  const nodes = law && lawNodes(law);
  const laterVolatilities: (number | undefined)[] = legs.map(() => undefined);
  const fittedVolatilities = [...laterVolatilities];
  const volatilityAt: SeenDay['volatilityAt'] = legs.map(() => undefined);
  if (!day || legs.every((leg) => leg.kind !== 'option' || leg.years === day.years)) {
    const profit = (price: number) => payoffProfit(legs, price);
    return { legs, law, nodes, later: undefined, laterVolatilities, fittedVolatilities, volatilityAt, profit };
  }
  if (day.years > 0 && !nodes) return { ok: false, reason: 'no-law', leg: legs.findIndex((l) => l.kind === 'option') };
  // Now the price is known: its law is one point.
  const known = nodes ?? certainPrice(day.forward);
  const fitted = legs.map((leg) =>
    leg.kind !== 'option' || leg.years === day.years ? undefined : laterOf(leg, expiryOf(leg.years), day),
  );
  const later = fitted.map((own) => own && grown(own, { rate: o.shift?.rate }));
  const premiums: (ProfitAt | undefined)[] = legs.map(() => undefined);
  for (const [i, leg] of legs.entries()) {
    const [own, moving] = [fitted[i], later[i]];
    if (!own || !moving || leg.kind !== 'option') continue;
    const volatility = laterVolatility(own.option, leg.value / day.discountFactor, known, o.starts?.[i]);
    if (volatility === undefined) return { ok: false, reason: 'no-volatility', leg: i };
    const moved = shifted(volatility, own.option, Math.log(leg.strike / expiryOf(leg.years).forward), o.shift);
    fittedVolatilities[i] = volatility;
    laterVolatilities[i] = moved;
    volatilityAt[i] = movingVolatility(moved, expiryOf(leg.years), {
      strike: leg.strike,
      from: day.forward,
      shift: o.shift,
    });
    premiums[i] = moving.american && premiumOf(leg, moving, moved);
  }
  const profit: ProfitAt = (price) =>
    legs.reduce((sum, leg, i) => {
      const own = later[i];
      if (!own || leg.kind !== 'option') return sum + payoffProfit([leg], price);
      const volatility = volatilityAt[i]?.(price) ?? laterVolatilities[i] ?? NaN;
      const worth = laterValue(own.option, volatility, price);
      return sum + leg.quantity * (worth + (premiums[i]?.(price) ?? 0) - leg.price);
    }, 0);
  return { legs, law, nodes, later, laterVolatilities, fittedVolatilities, volatilityAt, profit };
}

function atExpiry(seen: SeenDay): Omit<SurfaceStructure, 'cost'> {
  const payoff = payoffAtExpiry(seen.legs);
  const [most, least] = [payoffMaximum(payoff), payoffMinimum(payoff)];
  const breakEvens = payoffBreakEvens(payoff);
  return {
    ...{ breakEvens, profit: seen.profit, laterVolatilities: seen.laterVolatilities },
    maxProfit: most?.profit,
    maxLoss: least && (least.profit === 0 ? 0 : -least.profit),
    ...odds(seen, breakEvens),
  };
}

function odds(
  { profit, law, ...seen }: SeenDay,
  breakEvens: readonly number[],
): Pick<SurfaceStructure, 'probabilityOfProfit' | 'expectedProfit'> {
  return {
    probabilityOfProfit: law && profitChance(profit, breakEvens, (price) => 1 - lawAbove(law, price)),
    expectedProfit: law && expectedProfit({ profit, law, ...seen }, law),
  };
}

/** Exact of what expires that day; of what lives on a sum over the nodes, on which its volatility rests. */
function expectedProfit({ legs, later, nodes, profit }: SeenDay, law: PriceLaw): number | undefined {
  const ending = legs.filter((leg, i) => leg.kind !== 'option' || !later?.[i]);
  const meanOf = (leg: ValuedLeg) =>
    leg.kind === 'option' ? lawPayoff(law, leg.side, leg.strike) : payoffOf(leg, law.forward);
  const paid = ending.reduce((sum, leg) => sum + leg.quantity * (meanOf(leg) - leg.price), 0);
  if (ending.length === legs.length) return paid;
  return nodes?.shares.reduce((sum, share, i) => {
    const price = nodes.prices[i];
    return sum + share * (profit(price) - payoffProfit(ending, price));
  }, paid);
}

/** A leg that lives on after a day, as it is seen then. */
export interface Later {
  option: LaterOption;
  isForwardFixed: boolean;
  /** With the dividends that are left; undefined of European ones */
  american: LadderTerms | undefined;
}

function laterOf(leg: OptionLeg, expiry: MarketExpiry, day: MarketDay): Later {
  const { forward, discountFactor, american, isForwardFixed = false } = expiry;
  const { side, strike, years } = leg;
  const dividends = american?.dividends
    ?.map(({ time, amount }) => ({ time: time - day.years, amount }))
    .filter(({ time }) => time > 0);
  return {
    option: {
      ...{ side, strike, yearsLeft: years - day.years, growth: forward / day.forward },
      discount: discountFactor / day.discountFactor,
    },
    isForwardFixed,
    american: american && { ...american, dividends },
  };
}

/** What the right to exercise early is worth on a day, by the price then: no less than what exercise brings beyond holding on. */
export function premiumOf(leg: ValuedOptionLeg, { option, american }: Later, volatility: number): ProfitAt {
  if (!american) return () => 0;
  const premium = premiumBySpot(
    {
      ...{ ...american, side: leg.side, strike: leg.strike, timeToExpiry: option.yearsLeft },
      volatility: volatility * (leg.contractRatio ?? 1),
    },
    'work',
  );
  return (price) => {
    const exercise = leg.side === 'call' ? price - leg.strike : leg.strike - price;
    const held = laterValue(option, volatility, price);
    return Math.max(premium(price), exercise - held, 0);
  };
}

/** A later option some time after, or under another rate. */
export function grown(later: Later, { years = 0, rate = 0 }: { years?: number; rate?: number }): Later {
  if (years === 0 && rate === 0) return later;
  const { option, american, isForwardFixed } = later;
  const { yearsLeft, growth, discount } = option;
  const left = yearsLeft - years;
  const share = left / yearsLeft;
  return {
    option: {
      ...option,
      yearsLeft: left,
      growth: growth ** share * (isForwardFixed ? 1 : Math.exp(rate * left)),
      discount: discount ** share * Math.exp(-rate * left),
    },
    isForwardFixed,
    american: american && {
      ...american,
      rate: american.rate + rate,
      dividends: american.dividends?.map((d) => ({ ...d, time: d.time - years })).filter((d) => d.time > 0),
    },
  };
}

/** @param moneyness logarithm of strike over forward */
function shifted(
  volatility: number,
  { yearsLeft }: LaterOption,
  moneyness: number,
  shift: MarketShift | undefined,
): number {
  if (!shift) return volatility;
  const { parallel = 0, tilt = 0, isByRootTime = false } = shift;
  const scale = isByRootTime ? Math.sqrt(SHIFT_AT / Math.max(SHIFT_LEAST, yearsLeft)) : 1;
  return Math.max(LEAST_VOLATILITY, volatility + scale * parallel + (tilt * moneyness) / TILT_AT);
}

/**
 * The volatility of a leg by the price, where its smile does not stay with its strikes: what the smile of its expiry says there more
 * than at its own strike. The right to exercise early keeps the volatility of where the price is expected.
 * @returns undefined where it stays
 */
function movingVolatility(
  volatility: number,
  { law, forward }: MarketExpiry,
  { strike, from, shift }: { strike: number; from: number; shift: MarketShift | undefined },
): ((price: number) => number) | undefined {
  const ratio = shift?.movement ? skewStickinessRatio(shift.movement) : 1;
  if (ratio === 1 || !law) return undefined;
  const { smile } = law;
  const own = Math.log(strike / forward);
  const still = smileVolatility(smile, own);
  return (price) => {
    // As movedSmile: w'(k) = w(k + R h) at k, the own place less h.
    const there = smileVolatility(smile, own + (ratio - 1) * Math.log(price / from));
    return Math.max(LEAST_VOLATILITY, volatility + there - still);
  };
}

/** Profit gained per unit of price far above all strikes. */
function slopeFar(legs: readonly ValuedLeg[], seen: readonly (Later | undefined)[]): number {
  return legs.reduce((sum, leg, i) => {
    if (leg.kind === 'underlying') return sum + leg.quantity;
    if (leg.kind === 'cash' || leg.side === 'put') return sum;
    const later = seen[i];
    if (!later) return sum + leg.quantity;
    const moved = later.option.growth * later.option.discount;
    return sum + leg.quantity * (later.american ? Math.max(1, moved) : moved);
  }, 0);
}
