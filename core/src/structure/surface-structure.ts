import { lawAbove, type PriceLaw } from '../probability/index.ts';
import { checkLegs, firstExpiry, type Leg, structureCost, type UnderlyingLeg, type OptionLeg } from './leg.ts';
import { type LaterOption, laterValue, laterVolatility, lawNodes } from './later-volatility.ts';
import { payoffAtExpiry, payoffBreakEvens, payoffMaximum, payoffMinimum, payoffProfit } from './payoff.ts';
import { type ProfitAt, profitChance, profitProfile } from './profit-profile.ts';

/** What the market says of one expiry. */
export interface MarketExpiry {
  years: number;
  forward: number;
  discountFactor: number;
  /** Of the price then; undefined without a smile */
  law: PriceLaw | undefined;
  /** Its options may be exercised before */
  isAmerican: boolean;
}

/** A leg with what one unit of it is worth today by theory. */
export type ValuedLeg = (OptionLeg & { value: number }) | UnderlyingLeg;

/** A structure as the fitted surface sees it at the first expiry of its legs, per unit of underlying. */
export interface SurfaceStructure {
  cost: number;
  maxProfit: number | undefined;
  maxLoss: number | undefined;
  breakEvens: number[];
  /** Undefined where the first expiry has no law of the price */
  probabilityOfProfit: number | undefined;
  profit: ProfitAt;
  /** Constant volatility after the first expiry of each leg that lives on; in the order of the legs, undefined of the others */
  laterVolatilities: (number | undefined)[];
}

/** Why a structure cannot be seen at its first expiry. */
export type SurfaceStructureResult =
  { ok: true; structure: SurfaceStructure } | { ok: false; reason: 'no-law' | 'no-volatility'; leg: number };

/** Prices are looked at as far out as the front law reaches with this share, and this many times beyond the outer strikes. */
const FAR = 3;
/** A slope beyond all strikes below this is rounding. */
const SLOPE = 1e-12;

/**
 * Figures of a structure at the first expiry of its legs by the fitted surface. Legs that expire then are worth their exercise;
 * later ones what they come to at a constant volatility from then on, each at the one that meets today's value over the law of the
 * price (see {@link laterVolatility}); the forward of a later expiry moves in proportion to the price. An American one is never worth
 * less than its exercise.
 * @param expiries of all option legs
 * @throws RangeError where a leg's expiry is not among them
 */
export function surfaceStructure(
  legs: readonly ValuedLeg[],
  expiries: readonly MarketExpiry[],
): SurfaceStructureResult {
  checkLegs(legs);
  const first = firstExpiry(legs);
  const expiryOf = (years: number): MarketExpiry => {
    const found = expiries.find((e) => e.years === years);
    if (!found) throw new RangeError(`no expiry is given in ${years} years`);
    return found;
  };
  const isOne = legs.every((leg) => leg.kind === 'underlying' || leg.years === first);
  const front = Number.isFinite(first) ? expiryOf(first) : undefined;
  const below = front?.law && ((price: number) => 1 - lawAbove(front.law as PriceLaw, price));
  const laterVolatilities: (number | undefined)[] = legs.map(() => undefined);
  if (isOne) {
    const profit = (price: number) => payoffProfit(legs, price);
    const payoff = payoffAtExpiry(legs);
    const [most, least] = [payoffMaximum(payoff), payoffMinimum(payoff)];
    const breakEvens = payoffBreakEvens(payoff);
    return {
      ok: true,
      structure: {
        ...{ cost: structureCost(legs), breakEvens, profit, laterVolatilities },
        maxProfit: most?.profit,
        maxLoss: least && (least.profit === 0 ? 0 : -least.profit),
        probabilityOfProfit: below && profitChance(profit, breakEvens, below),
      },
    };
  }
  if (!front?.law)
    return { ok: false, reason: 'no-law', leg: legs.findIndex((l) => l.kind === 'option' && l.years === first) };
  const nodes = lawNodes(front.law);
  if (!nodes) return { ok: false, reason: 'no-law', leg: 0 };
  const worths: ProfitAt[] = [];
  for (const [i, leg] of legs.entries()) {
    if (leg.kind === 'underlying' || leg.years === first) {
      worths.push((price) => payoffProfit([leg], price));
      continue;
    }
    const later = expiryOf(leg.years);
    const option: LaterOption = {
      ...{ side: leg.side, strike: leg.strike, yearsLeft: leg.years - first },
      growth: later.forward / front.forward,
      discount: later.discountFactor / front.discountFactor,
    };
    const volatility = laterVolatility(option, leg.value / front.discountFactor, nodes);
    if (volatility === undefined) return { ok: false, reason: 'no-volatility', leg: i };
    laterVolatilities[i] = volatility;
    worths.push((price) => {
      const worth = laterValue(option, volatility, price);
      const exercise = later.isAmerican
        ? Math.max(leg.side === 'call' ? price - leg.strike : leg.strike - price, 0)
        : 0;
      return leg.quantity * (Math.max(worth, exercise) - leg.price);
    });
  }
  const profit = (price: number) => worths.reduce((sum, worth) => sum + worth(price), 0);
  const strikes = legs.flatMap((leg) => (leg.kind === 'option' ? [leg.strike] : []));
  const low = Math.min(nodes.prices[0], ...strikes) / FAR;
  const high = Math.max(nodes.prices[nodes.prices.length - 1], ...strikes) * FAR;
  const { breakEvens, highest, lowest } = profitProfile(profit, { knots: strikes, low, high });
  const slope = slopeFar(legs, first, (years) => {
    const { forward, discountFactor, isAmerican } = expiryOf(years);
    const moved = (forward / front.forward) * (discountFactor / front.discountFactor);
    return isAmerican ? Math.max(1, moved) : moved;
  });
  const atNothing = profit(low * 1e-6);
  return {
    ok: true,
    structure: {
      ...{ cost: structureCost(legs), breakEvens, profit, laterVolatilities },
      maxProfit: slope > SLOPE ? undefined : Math.max(highest.profit, atNothing),
      maxLoss: slope < -SLOPE ? undefined : -Math.min(lowest.profit, atNothing),
      probabilityOfProfit: below && profitChance(profit, breakEvens, below),
    },
  };
}

/** Profit gained per unit of price far above all strikes. @param callSlope of a later call by its years */
function slopeFar(legs: readonly Leg[], first: number, callSlope: (years: number) => number): number {
  return legs.reduce((sum, leg) => {
    if (leg.kind === 'underlying') return sum + leg.quantity;
    if (leg.side === 'put') return sum;
    return sum + leg.quantity * (leg.years === first ? 1 : callSlope(leg.years));
  }, 0);
}
