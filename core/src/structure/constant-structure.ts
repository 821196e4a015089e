import { blackScholesMertonGreeks, blackScholesMertonPrice, requireRange } from '../pricing/index.ts';
import { finishAbove } from '../probability/index.ts';
import { checkLegs, firstExpiry, type Leg, type OptionLeg, structureCost } from './leg.ts';
import { payoffAtExpiry, payoffBreakEvens, payoffMaximum, payoffMinimum, payoffProfit } from './payoff.ts';
import { profitChance, profitProfile } from './profit-profile.ts';

/** A leg with the volatility that prices it where it is another than the market's. */
export type ConstantLeg = Leg & { volatility?: number };

/** A market of one volatility for the law of the price. */
export interface ConstantMarket {
  /** Spot, > 0 */
  underlying: number;
  rate: number;
  dividendYield: number;
  volatility: number;
}

/** Sums over legs, plain partial derivatives. */
export interface StructureGreeks {
  price: number;
  delta: number;
  gamma: number;
  theta: number;
  vega: number;
  rho: number;
  vanna: number;
  volga: number;
}

/** What a structure is at the first expiry of its legs, per unit of underlying; its Greeks are today's. */
export interface StructureFigures {
  /** Paid above 0 */
  cost: number;
  /** Undefined where they have no end */
  maxProfit: number | undefined;
  maxLoss: number | undefined;
  breakEvens: number[];
  probabilityOfProfit: number;
  greeks: StructureGreeks;
}

/** How far out prices are looked at where later legs make the profit a curve, in deviations to the first expiry. */
const REACH = 12;

/** And no farther than this, a hundred digits up and down: a price of 2,000 % over a hundred years has no double. */
const MOST_LOG_REACH = 230;

/**
 * A structure of European legs under constant volatilities: each leg is priced by its own, the law of the price has the market's
 * and the drift rate - yield. Everything but the Greeks is at the first expiry of the legs, where later ones are worth their model
 * price with what is left of their time; no interest on premium.
 * @throws RangeError outside the ranges of legs and market
 * @see Black, F. & Scholes, M. (1973). The pricing of options and corporate liabilities. Journal of Political Economy 81(3),
 *   637-654; Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183.
 */
export function constantStructure(legs: readonly ConstantLeg[], market: ConstantMarket): StructureFigures {
  checkLegs(legs);
  requireRange('underlying', market.underlying, { above: 0 });
  requireRange('volatility', market.volatility, { minimum: 0 });
  requireRange('rate', market.rate);
  requireRange('dividendYield', market.dividendYield);
  const first = firstExpiry(legs);
  const horizon = Number.isFinite(first) ? first : 0;
  const { underlying, rate, dividendYield, volatility } = market;
  const law = { spot: underlying, timeToExpiry: horizon, volatility, drift: rate - dividendYield };
  const below = (price: number) => 1 - finishAbove(law, price);
  const isOne = legs.every((leg) => leg.kind === 'underlying' || leg.years === first);
  const profit = isOne
    ? (price: number) => payoffProfit(legs, price)
    : (price: number) => profitAtFirst(legs, market, first, price);
  const shape = isOne ? exactShape(legs) : curvedShape(legs, market, profit);
  return {
    cost: structureCost(legs),
    ...shape,
    probabilityOfProfit: profitChance(profit, shape.breakEvens, below),
    greeks: constantGreeks(legs, market),
  };
}

type Shape = Pick<StructureFigures, 'maxProfit' | 'maxLoss' | 'breakEvens'>;

function exactShape(legs: readonly Leg[]): Shape {
  const payoff = payoffAtExpiry(legs);
  const [most, least] = [payoffMaximum(payoff), payoffMinimum(payoff)];
  return {
    maxProfit: most?.profit,
    maxLoss: least && (least.profit === 0 ? 0 : -least.profit),
    breakEvens: payoffBreakEvens(payoff),
  };
}

function curvedShape(legs: readonly ConstantLeg[], market: ConstantMarket, profit: (price: number) => number): Shape {
  const options = legs.filter((leg) => leg.kind === 'option');
  const years = Math.max(...options.map((leg) => leg.years));
  const deviation = Math.max(market.volatility, ...legs.map((l) => l.volatility ?? 0)) * Math.sqrt(years);
  const spread = Math.exp(Math.min(REACH * deviation, MOST_LOG_REACH));
  const strikes = options.map((leg) => leg.strike);
  const low = Math.max(Math.min(market.underlying, ...strikes) / spread, LEAST_PRICE);
  const high = Math.max(market.underlying, ...strikes) * spread;
  const { breakEvens, highest, lowest } = profitProfile(profit, { knots: strikes, low, high });
  const slope = slopeAtLast(legs, market, options.length === 0 ? 0 : firstExpiry(legs));
  // What it comes to as the price falls away, beyond what is looked at.
  const atNothing = profit(low * 1e-6);
  return {
    maxProfit: slope > SLOPE ? undefined : Math.max(highest.profit, atNothing),
    maxLoss: slope < -SLOPE ? undefined : -Math.min(lowest.profit, atNothing),
    breakEvens,
  };
}

/** Lowest price looked at: a millionth of it is still a number with all its digits. */
const LEAST_PRICE = 1e-300;
/** A slope beyond all strikes below this is rounding. */
const SLOPE = 1e-12;

/** Profit gained per unit of price far above all strikes at the first expiry: later calls move with exp(-yield x time left). */
function slopeAtLast(legs: readonly ConstantLeg[], { dividendYield }: ConstantMarket, first: number): number {
  return legs.reduce((sum, leg) => {
    if (leg.kind === 'underlying') return sum + leg.quantity;
    if (leg.side === 'put') return sum;
    return sum + leg.quantity * Math.exp(-dividendYield * (leg.years - first));
  }, 0);
}

function profitAtFirst(legs: readonly ConstantLeg[], market: ConstantMarket, first: number, price: number): number {
  return legs.reduce((sum, leg) => {
    if (leg.kind === 'underlying') return sum + leg.quantity * (price - leg.price);
    const worth = blackScholesMertonPrice({ ...inputOf(leg, market), spot: price, timeToExpiry: leg.years - first });
    return sum + leg.quantity * (worth - leg.price);
  }, 0);
}

function inputOf(leg: OptionLeg & { volatility?: number }, market: ConstantMarket) {
  const { rate, dividendYield, underlying } = market;
  return {
    ...{ side: leg.side, strike: leg.strike, spot: underlying, timeToExpiry: leg.years, rate, dividendYield },
    volatility: leg.volatility ?? market.volatility,
  };
}

/** Sums of quantity times Greek; the underlying has its price and delta 1. */
function constantGreeks(legs: readonly ConstantLeg[], market: ConstantMarket): StructureGreeks {
  const sum = { price: 0, delta: 0, gamma: 0, theta: 0, vega: 0, rho: 0, vanna: 0, volga: 0 };
  for (const leg of legs) {
    if (leg.kind === 'underlying') {
      sum.price += leg.quantity * market.underlying;
      sum.delta += leg.quantity;
      continue;
    }
    const greeks = blackScholesMertonGreeks(inputOf(leg, market));
    for (const name of Object.keys(sum) as (keyof StructureGreeks)[]) sum[name] += leg.quantity * greeks[name];
  }
  return sum;
}
