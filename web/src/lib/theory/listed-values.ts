import {
  type Accuracy,
  black76Greeks,
  forwardDelta,
  type LadderRung,
  type LadderSecondOrder,
  type LadderValue,
  optionLadder,
  type PricingMethod,
} from '@umwelt/core/pricing';
import { probabilityAbove, type Smile } from '@umwelt/core/surface';
import type { ExpiryOverview, ExpiryPicture } from '../api/picture.ts';
import { borrowedSmileOf, expirySmile } from './expiry-smile.ts';
import { scaledGreeks } from './greek-scales.ts';
import { contractVolatility, type ListedOption, listedTerms } from './listed-contract.ts';
import { theoryVolatility, type VolatilityInForce } from './volatility-in-force.ts';

/** Value and Greeks of a listed option under the volatility in force, per unit of underlying and in the scales of the screen. */
export interface ListedValue {
  /** Of the forward, as the source in force says it */
  volatility: number;
  /** That the contract is priced with; another only where dividends are paid in cash */
  contractVolatility: number;
  price: number;
  /** Part of the price that the right to exercise early is worth */
  earlyExercise: number;
  delta: number;
  gamma: number;
  theta: number;
  vega: number;
  rho: number;
  forwardDelta: number;
  /** That it ends in the money; under smile and borrowed with the slope of the smile at its strike */
  probabilityItm: number;
  /** Probability in the money as if the volatility of its strike were that of all: N(d2) */
  probabilityItmConstantVolatility: number;
  /** Where they were asked for */
  second?: LadderSecondOrder;
  method: PricingMethod;
  level: Accuracy;
}

/** Options of one expiry that are to be valued. */
export interface TheoryPart {
  expiry: ExpiryPicture;
  options: readonly ListedOption[];
}

/**
 * Values of options of one expiry, American ones with their right to exercise early: the one valuation that every view,
 * file and answer of the API asks for.
 * @param order whether second-order Greeks are wanted, which take longer
 * @returns one an option, in their order; undefined where the source has no volatility for it
 */
export function listedValues(
  expiry: ExpiryPicture,
  options: readonly ListedOption[],
  inForce: VolatilityInForce,
  order: { isSecondOrder?: boolean } = {},
): (ListedValue | undefined)[] {
  const terms = listedTerms(expiry);
  const volatilities = options.map((o) => theoryVolatility(expiry, o, inForce));
  const places: number[] = [];
  const rungs: LadderRung[] = [];
  volatilities.forEach((volatility, i) => {
    if (volatility === null) return;
    const { side, strike } = options[i];
    places.push(i);
    rungs.push({ side, strike, volatility: contractVolatility(expiry, strike, volatility) });
  });
  const values: (ListedValue | undefined)[] = options.map(() => undefined);
  optionLadder(terms, rungs, order).forEach((value, j) => {
    const i = places[j];
    const volatility = volatilities[i];
    if (!value || volatility === null) return;
    values[i] = listedValue(expiry, options[i], inForce, { value, volatility, priced: rungs[j].volatility });
  });
  return values;
}

/** Whether options of an expiry may be exercised early, so that their values take a while. */
export function isAmerican(expiry: ExpiryPicture): boolean {
  return expiry.exercisedInto !== null;
}

/** Black's Greeks on the forward of the expiry. */
function europeanGreeks(expiry: ExpiryPicture, { side, strike }: ListedOption, volatility: number) {
  const { forward, years, impliedRate } = expiry;
  return black76Greeks({ side, forward, strike, timeToExpiry: years, rate: impliedRate, volatility });
}

function listedValue(
  expiry: ExpiryPicture,
  option: ListedOption,
  inForce: VolatilityInForce,
  o: { value: LadderValue; volatility: number; priced: number },
): ListedValue {
  const { side, strike } = option;
  const { volatility, value } = o;
  const european = europeanGreeks(expiry, option, volatility);
  const { price, delta, gamma, theta, vega, rho } = scaledGreeks(value, expiry.model);
  return {
    volatility,
    contractVolatility: o.priced,
    price,
    earlyExercise: isAmerican(expiry) ? Math.max(0, value.price - european.price) : 0,
    delta,
    gamma,
    theta,
    vega,
    rho,
    forwardDelta: forwardDelta({ side, forward: expiry.forward, strike, timeToExpiry: expiry.years, volatility }),
    probabilityItm: probabilityItm(expiry, option, inForce, european.probabilityItm),
    probabilityItmConstantVolatility: european.probabilityItm,
    ...(value.second ? { second: scaledGreeks(value.second, expiry.model) } : {}),
    method: value.method,
    level: value.level,
  };
}

/** Probability to end in the money: the smile in force carries its slope, any other source is one volatility for all strikes. */
function probabilityItm(
  expiry: ExpiryPicture,
  option: ListedOption,
  { source }: VolatilityInForce,
  constant: number,
): number {
  const smile = source === 'smile' ? expirySmile(expiry) : source === 'borrowed' ? borrowedSmileOf(expiry) : undefined;
  return smile ? smileChance(smile, expiry, option) : constant;
}

/** Chance in the money by a smile, its slope with it. */
function smileChance(smile: Smile, { forward }: ExpiryOverview, { side, strike }: ListedOption): number {
  const above = probabilityAbove(smile, Math.log(strike / forward));
  return side === 'call' ? above : 1 - above;
}

/** Whether chances under a source carry the slope of a smile; they are of one volatility for all strikes otherwise. */
export const carriesSlope = (source: VolatilityInForce['source']): boolean =>
  source === 'smile' || source === 'borrowed';

/** Chance in the money by the fitted smile with its slope; undefined without one. */
export function fittedChance(expiry: ExpiryOverview, option: ListedOption): number | undefined {
  const smile = expirySmile(expiry);
  return smile && smileChance(smile, expiry, option);
}
