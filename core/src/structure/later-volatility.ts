import { findRoot } from '../math/index.ts';
import { black76Price, type Side } from '../pricing/index.ts';
import { lawDensity, lawQuantile, type PriceLaw } from '../probability/index.ts';

/** Prices at a moment with the share of the law that each stands for: expectations are sums over them. */
export interface LawNodes {
  prices: Float64Array;
  /** Sum to 1; the mean price is the law's forward */
  shares: Float64Array;
}

/** The law beyond these shares is left out; what is left is scaled up and moved to the mean. */
const TAIL = 1e-7;
const NODES = 241;

/**
 * The law of a price as nodes, even in the logarithm between its outer quantiles.
 * @returns undefined where the law does not reach them
 */
export function lawNodes(law: PriceLaw): LawNodes | undefined {
  const [low, high] = [lawQuantile(law, TAIL), lawQuantile(law, 1 - TAIL)];
  if (!(low > 0 && high > low && high < Infinity)) return undefined;
  const step = Math.log(high / low) / (NODES - 1);
  const prices = Float64Array.from({ length: NODES }, (_, i) => low * Math.exp(i * step));
  // Density per unit of the logarithm.
  const shares = prices.map((price) => Math.max(0, lawDensity(law, price)) * price);
  const sum = shares.reduce((a, b) => a + b, 0);
  const mean = shares.reduce((total, share, i) => total + (share / sum) * prices[i], 0);
  const moved = law.forward / mean;
  return { prices: prices.map((price) => price * moved), shares: shares.map((share) => share / sum) };
}

/** An option that lives on after the front expiry. */
export interface LaterOption {
  side: Side;
  strike: number;
  /** Left after the front expiry, years, > 0 */
  yearsLeft: number;
  /** Forward of its expiry for each unit of the price at the front expiry */
  growth: number;
  /** Value at the front expiry of 1 paid at its own */
  discount: number;
}

/** Between these the volatility is looked for, per year. */
const LEAST = 1e-4;
const MOST = 8;
/** On the volatility, absolute: a hundred-millionth of a point. */
const TOLERANCE = 1e-10;

/** Worth of a later option at the front expiry, at a price of the underlying and a constant volatility from then on. */
export function laterValue(option: LaterOption, volatility: number, price: number): number {
  const { side, strike, yearsLeft, growth, discount } = option;
  return black76Price({
    side,
    forward: price * growth,
    strike,
    timeToExpiry: yearsLeft,
    volatility,
    discountFactor: discount,
  });
}

/**
 * The constant volatility after the front expiry at which a later option is worth, weighted by the law of the price at the front
 * expiry, what it is worth today: the forward variance at its strike, moved until today's price is met. No price of the option is
 * gained or lost by looking at it later.
 * @param value today's, carried to the front expiry
 * @returns undefined where no volatility meets it: the value lies below what the option is worth without any, or above all
 */
export function laterVolatility(option: LaterOption, value: number, nodes: LawNodes): number | undefined {
  const expected = (volatility: number) => {
    let sum = 0;
    for (let i = 0; i < nodes.prices.length; i++)
      sum += nodes.shares[i] * laterValue(option, volatility, nodes.prices[i]);
    return sum - value;
  };
  const found = findRoot(expected, { low: LEAST, high: MOST, tolerance: TOLERANCE });
  return found.ok ? found.root : undefined;
}
