import { black76Price, type CashDividend, type Option, premiumBySpot, type Side } from '../pricing/index.ts';
import { type Smile, smileVolatility } from './smile.ts';
import { forwardPerSpotVolatility } from './spot-volatility.ts';
import type { PremiumColumns } from './telling-side.ts';

/** Shares by volatility and by place differ by no more than this where the smile is not too bent to mix by it. */
const MOST_BEND = 0.7;
/** What an American option of one expiry is on. */
export interface ExerciseTerms {
  timeToExpiry: number;
  forward: number;
  /** Per year, as the discount factor has it */
  rate: number;
  underlying:
    | { kind: 'future' }
    | { kind: 'spot'; spot: number; dividendYield: number; dividends: readonly CashDividend[] };
}

/** Premium as a function of ln(strike / forward). */
type PremiumCurve = (logMoneyness: number) => number;

/**
 * Deviations in the money of the strikes whose premium is solved for: two for a first look (`rough`: with dividends spread as a
 * yield), two for how it changes (`slope`), three to work with (`fine`), five to rely on (`final`). Besides the deepest of all, but
 * for slopes, and at the last halfway there.
 */
const NODES = {
  rough: [-0.8, 1],
  slope: [-0.6, 1.2],
  fine: [-1.8, -0.4, 1.2],
  final: [-1.8, -0.8, -0.1, 0.6, 1.2],
} as const;
/** And on which grids, where dividends are paid in cash. */
const GRID_OF = { rough: 'work', slope: 'slope', fine: 'work', final: 'final' } as const;
/** How closely premiums are solved for. */
export type PremiumDetail = keyof typeof NODES;
/** Deviations by which the deepest strike must lie beyond the last of these to be solved for as well. */
const FARTHER = 0.5;
/** Deviations between the reach of an underlying and the price at which exercise would pay, beyond which it never will. */
const OUT_OF_REACH = 5;

/**
 * Premium of early exercise of the calls and puts of one expiry, by strike: an American option with its strike's volatility less
 * the European one, and never less than makes it worth its exercise. The premium of strike K is K / K0 times that of K0 at a
 * spot K0 / K as high, but for the smile and cash dividends, which do not grow along: hence it is solved for a few strikes,
 * each at all spots, and mixed between. At detail `final` it errs by no more than 2.5e-4 of the spot.
 * @param strikes ascending
 * @param known lowest and highest ln(strike / forward) of the quotes behind the smile; beyond it counts the volatility at its end
 */
export function exercisePremiums(
  terms: ExerciseTerms,
  smile: Smile,
  strikes: Float64Array,
  known: readonly [number, number],
  detail: PremiumDetail,
): PremiumColumns {
  const { forward, timeToExpiry, rate } = terms;
  const logMoneyness = strikes.map((strike) => Math.log(strike / forward));
  const curves = premiumCurves(terms, smile, [logMoneyness[0], logMoneyness[strikes.length - 1]], known, detail);
  const columns = premiumColumns(curves, logMoneyness, forward);
  const spot = terms.underlying.kind === 'future' ? forward : terms.underlying.spot;
  const discountFactor = Math.exp(-rate * timeToExpiry);
  for (const side of ['call', 'put'] as const) {
    const sign = side === 'call' ? 1 : -1;
    strikes.forEach((strike, i) => {
      const exercise = sign * (spot - strike);
      // What is left alone to the end, or out of the money, is worth no exercise.
      if (columns[side][i] === 0 || exercise <= 0) return;
      const volatility = smileVolatility(smile, Math.min(Math.max(logMoneyness[i], known[0]), known[1]));
      const european = black76Price({ side, forward, strike, timeToExpiry, volatility, discountFactor });
      columns[side][i] = Math.max(columns[side][i], exercise - european);
    });
  }
  return columns;
}

function premiumCurves(
  terms: ExerciseTerms,
  smile: Smile,
  strikes: readonly [number, number],
  known: readonly [number, number],
  detail: PremiumDetail,
): Record<Side, PremiumCurve> {
  const deviation = Math.sqrt(smile.totalVariance(0));
  const { underlying } = terms;
  const dividendForward = underlying.kind === 'spot' ? { ...terms, ...underlying } : undefined;
  const ratio = (k: number) => (dividendForward ? forwardPerSpotVolatility(dividendForward, k) : 1);
  const spread = detail === 'rough' ? asYield(terms) : terms;
  const hasDividends = spread.underlying.kind === 'spot' && spread.underlying.dividends.length > 0;
  const volatilityAt = (k: number) => smileVolatility(smile, Math.min(Math.max(k, known[0]), known[1])) / ratio(k);
  const of = (side: Side) => {
    // Without a deviation there is no place to put strikes by.
    if (!(deviation > LEAST_DEVIATION) || !mayExerciseEarly(terms, side, deviation, strikes[0])) return () => 0;
    const step = side === 'put' ? deviation : -deviation;
    const deepest = (side === 'put' ? strikes[1] : strikes[0]) / step;
    const nodes: number[] = [...NODES[detail]];
    const last = nodes[nodes.length - 1];
    if (detail !== 'slope' && deepest > last + FARTHER) {
      // A parabola needs none.
      if (detail === 'final' && !hasDividends) nodes.push(0.5 * (last + deepest));
      nodes.push(deepest);
    }
    return curveOf(spread, volatilityAt, side, { step, nodes, detail });
  };
  return { call: of('call'), put: of('put') };
}

/** Of the log price to expiry; a market of 0.1 % has a million times that over a minute. */
const LEAST_DEVIATION = 1e-12;

/** Premium per unit of forward below which no quote could show it. */
const LEAST_PREMIUM = 1e-6;

/** Premiums of ascending strikes, given by ln(strike / forward), each no less than nothing. */
function premiumColumns(
  curves: Record<Side, PremiumCurve>,
  logMoneyness: Float64Array,
  forward: number,
): PremiumColumns {
  const count = logMoneyness.length;
  const columns = { call: new Float64Array(count), put: new Float64Array(count) };
  // From the deepest strike outward: out of the money a premium only falls.
  for (const side of ['call', 'put'] as const) {
    for (let n = 0; n < count; n++) {
      const i = side === 'call' ? n : count - 1 - n;
      const k = logMoneyness[i];
      const curve = curves[side](k);
      // By volatility the mixture may reach a little beyond its two strikes; a smile of none has no deviations to place one by.
      const premium = curve > 0 && curve < Infinity ? curve : 0;
      columns[side][i] = premium;
      if (premium < LEAST_PREMIUM * forward && (side === 'call' ? k > 0 : k < 0)) break;
    }
  }
  return columns;
}

/** A forward with its dividends spread over the time as a yield, whose premium is at hand at once. */
function asYield(terms: ExerciseTerms): ExerciseTerms {
  const { underlying, rate, forward, timeToExpiry } = terms;
  if (underlying.kind === 'future' || underlying.dividends.length === 0) return terms;
  const dividendYield = rate - Math.log(forward / underlying.spot) / timeToExpiry;
  return { ...terms, underlying: { ...underlying, dividendYield, dividends: [] } };
}

/** @param o.step ln(strike / forward) of one deviation in the money */
function curveOf(
  terms: ExerciseTerms,
  volatilityAt: (logMoneyness: number) => number,
  side: Side,
  { step, nodes, detail }: { step: number; nodes: readonly number[]; detail: PremiumDetail },
): PremiumCurve {
  const { timeToExpiry, rate, forward, underlying } = terms;
  const spot = underlying.kind === 'future' ? forward : underlying.spot;
  const strikes = nodes.map((z) => forward * Math.exp(z * step));
  const volatilities = nodes.map((z) => volatilityAt(z * step));
  const premiums = strikes.map((strike, j) => {
    const common = { side, exercise: 'american', strike, timeToExpiry, rate, underlying: spot } as const;
    const volatility = volatilities[j];
    const option: Option =
      underlying.kind === 'future'
        ? { ...common, model: 'futures', volatility }
        : {
            ...common,
            model: 'spot',
            volatility,
            dividendYield: underlying.dividendYield,
            dividends: [...underlying.dividends],
          };
    return premiumBySpot(option, GRID_OF[detail]);
  });
  const last = nodes.length - 1;
  const at = (i: number, strike: number) => (strike / strikes[i]) * premiums[i]((spot * strikes[i]) / strike);
  const place = (k: number) => Math.min(Math.max(k / step, nodes[0]), nodes[last]);
  const before = (z: number) => {
    let j = 0;
    while (j < last - 1 && z > nodes[j + 1]) j++;
    return j;
  };
  if (underlying.kind === 'spot' && underlying.dividends.length > 0 && last > 1) {
    // Volatility and dividends by strike change along: a parabola through the three strikes nearest.
    return (k) => {
      const z = place(k);
      const j = before(z);
      const isNearer = z - nodes[j] < nodes[j + 1] - z;
      const i = Math.min(Math.max(isNearer ? j - 1 : j, 0), last - 2);
      const strike = forward * Math.exp(k);
      const [a, b, c] = [nodes[i], nodes[i + 1], nodes[i + 2]];
      return (
        (((z - b) * (z - c)) / ((a - b) * (a - c))) * at(i, strike) +
        (((z - a) * (z - c)) / ((b - a) * (b - c))) * at(i + 1, strike) +
        (((z - a) * (z - b)) / ((c - a) * (c - b))) * at(i + 2, strike)
      );
    };
  }
  const isScaled = underlying.kind === 'future' || underlying.dividends.length === 0;
  /** Share of the farther of two strikes: by volatility, in which alone they differ but for dividends, where it tells them apart. */
  const shareOf = (j: number, z: number): number => {
    const share = (z - nodes[j]) / (nodes[j + 1] - nodes[j]);
    if (!isScaled) return share;
    const between = volatilities[j + 1] - volatilities[j];
    const byVolatility = (volatilityAt(z * step) - volatilities[j]) / between;
    return Math.abs(byVolatility - share) < MOST_BEND ? byVolatility : share;
  };
  return (k) => {
    const z = place(k);
    const j = before(z);
    const share = shareOf(j, z);
    const strike = forward * Math.exp(k);
    return (1 - share) * at(j, strike) + share * at(j + 1, strike);
  };
}

/**
 * Whether exercise before expiry can pay at any strike within reach, from the lowest ln(strike / forward) up.
 * @see Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183: a call is left
 *   alone until a dividend worth more than the interest on its strike until the next one.
 */
function mayExerciseEarly(
  { underlying, rate, timeToExpiry, forward }: ExerciseTerms,
  side: Side,
  deviation: number,
  lowest: number,
): boolean {
  if (underlying.kind === 'future') return rate > 0;
  const { dividendYield, dividends, spot } = underlying;
  const reach = OUT_OF_REACH * deviation;
  if (side === 'put') return rate > 0 ? !(Math.log(dividendYield / rate) > reach) : dividendYield < 0;
  // A yield makes exercise pay where the underlying stands above strike x rate / yield; a negative rate, that the strike is paid early.
  if (dividendYield > 0 ? !(Math.log(rate / dividendYield) > reach) : rate < 0) return true;
  const lowestStrike = forward * Math.exp(Math.max(lowest, -reach));
  return dividends.some((d, j) => {
    const until = j + 1 < dividends.length ? dividends[j + 1].time : timeToExpiry;
    const span = until - d.time;
    const lost = spot * Math.max(0, -Math.expm1(-dividendYield * span));
    return d.amount + lost > lowestStrike * -Math.expm1(-rate * span);
  });
}
