import { lawDensity, lawQuantile, type PriceLaw } from '../probability/index.ts';
import { type LaterOption, laterMean } from './later-option.ts';

/** Prices at a moment with the share of the law that each stands for: expectations are sums over them. */
export interface LawNodes {
  prices: Float64Array;
  /** Of the prices */
  logs: Float64Array;
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
  return nodesOf(
    prices.map((price) => price * moved),
    shares.map((share) => share / sum),
  );
}

/** One price that is known, as a law. */
export function certainPrice(price: number): LawNodes {
  return nodesOf(Float64Array.of(price), Float64Array.of(1));
}

function nodesOf(prices: Float64Array, shares: Float64Array): LawNodes {
  return { prices, shares, logs: prices.map(Math.log) };
}

/** Between these the volatility is looked for, per year. */
const LEAST = 1e-4;
const MOST = 8;
/** A step of Newton's below this leaves an error of its square; one of halving is the error. Absolute, of volatility. */
const NEWTON_STEP = 1e-6;
const HALVING_STEP = 1e-10;
/** Halving alone needs 37 rounds for that. */
const ROUNDS = 80;
const FIRST = 0.25;

/**
 * The constant volatility after a day at which a later option is worth, weighted by the law of the price on that day, what it is
 * worth today: the forward variance at its strike, moved until today's price is met. No price of the option is gained or lost by
 * looking at it later. By Newton's steps within bounds that close in, halved where a step would leave them.
 * @param value today's, carried to the day
 * @param start where it is looked for first: that of a day nearby
 * @returns undefined where no volatility meets it: the value lies below what the option is worth without any, or above all
 */
export function laterVolatility(
  option: LaterOption,
  value: number,
  nodes: LawNodes,
  start = FIRST,
): number | undefined {
  let [low, high] = [LEAST, MOST];
  let volatility = start > low && start < high ? start : FIRST;
  for (let round = 0; round < ROUNDS; round++) {
    const [mean, vega] = laterMean(option, volatility, nodes);
    const missing = value - mean;
    if (missing === 0) return volatility;
    if (missing > 0) low = volatility;
    else high = volatility;
    const next = volatility + missing / vega;
    const isInside = next > low && next < high;
    const moved = isInside ? next : 0.5 * (low + high);
    if (Math.abs(moved - volatility) < (isInside ? NEWTON_STEP : HALVING_STEP)) {
      // Driven to an end, the value may lie beyond it.
      return moved > 2 * LEAST && moved < 0.5 * MOST ? moved : within(option, value, nodes, moved);
    }
    volatility = moved;
  }
  return volatility;
}

/** A volatility near an end, if the value lies between the ends. */
function within(option: LaterOption, value: number, nodes: LawNodes, volatility: number): number | undefined {
  const [least] = laterMean(option, LEAST, nodes);
  const [most] = laterMean(option, MOST, nodes);
  return value >= least && value <= most ? volatility : undefined;
}
