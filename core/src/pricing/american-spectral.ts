import { boundaryStep, solvePutBoundary } from './american-boundary.ts';
import { type AmericanScheme, type PutBoundary, putBoundary } from './american-scheme.ts';
import { type PutPremium, putPremiumInto } from './american-put.ts';
import { NEAR_BOUNDARY, putPremiumNearBoundary } from './american-put-near.ts';
import { putPremiumBySpot } from './american-put-premium.ts';
import { europeanGreeksRows, europeanPriceRows, firstGreeksColumns } from './european-batch.ts';
import { europeanColumns } from './european-columns.ts';

/*
 * American options with a continuous yield, as puts with strike 1: a call on spot S with strike K is S puts on spot
 * K / S with rate and yield exchanged.
 * See McDonald, R. L. & Schroder, M. D. (1998). A parity result for American options. Journal of Computational Finance
 * 1(3), 5-13.
 */

/** Market of a put with strike 1. */
export interface UnitPutMarket {
  rate: number;
  dividendYield: number;
  volatility: number;
  timeToExpiry: number;
}

/** Value of a unit put with its first two derivatives by spot. */
export interface UnitPut {
  value: number;
  delta: number;
  gamma: number;
  /** Whether it is to be exercised at once */
  isExercised: boolean;
}

/** A solved boundary with its market, from which puts of any spot are priced. */
export interface SolvedPut {
  market: UnitPutMarket;
  scheme: AmericanScheme;
  boundary: PutBoundary;
}

/** How a put with these rates is exercised early. */
export type ExerciseKind = 'never' | 'below-one-boundary' | 'between-two-boundaries';

/**
 * Exercise gains rate x strike and loses yield x spot per year: never early when that cannot be positive below the
 * strike; with rate and yield negative and the yield the lower it is positive only between two boundaries.
 * @see Battauz, A., De Donno, M. & Sbuelz, A. (2015). Real options and American derivatives: the double continuation
 *   region. Management Science 61(5), 1094-1107.
 */
export function exerciseKindOfPut(rate: number, dividendYield: number): ExerciseKind {
  if (rate > 0 || (rate === 0 && dividendYield < 0)) return 'below-one-boundary';
  return dividendYield >= rate ? 'never' : 'between-two-boundaries';
}

/** Solves the boundary; undefined when the numbers are too extreme for the collocation. */
export function solvePut(scheme: AmericanScheme, market: UnitPutMarket): SolvedPut | undefined {
  const boundary = putBoundary(scheme.boundaryNodes);
  const { rate, dividendYield, volatility, timeToExpiry } = market;
  const isSolved = solvePutBoundary(boundary, scheme, rate, dividendYield, volatility, timeToExpiry);
  return isSolved ? { market, scheme, boundary } : undefined;
}

/** A put in a slightly different market: two Newton steps from the solved boundary. */
export function nearbyPut(base: SolvedPut, change: Partial<UnitPutMarket>): SolvedPut | undefined {
  const market = { ...base.market, ...change };
  const boundary = { ...base.boundary, transform: base.boundary.transform.slice() };
  const isSolved = boundaryStep(boundary, base.scheme, market, 2);
  return isSolved ? { market, scheme: base.scheme, boundary } : undefined;
}

/** ln of the exercise boundary over the strike, with all time left. */
export function logBoundaryOf(put: SolvedPut): number {
  return -Math.sqrt(put.boundary.transform[0]);
}

const ROW = europeanColumns(1);
const OUT = firstGreeksColumns(1);
const PREMIUM: PutPremium = { value: 0, delta: 0, gamma: 0 };

/** Value of the unit put at a spot; at and below the boundary that of exercise. Allocates nothing. */
function unitPutValueAt(put: SolvedPut, spot: number): number {
  const { rate, dividendYield, volatility, timeToExpiry } = put.market;
  const logSpot = Math.log(spot);
  if (logSpot <= logBoundaryOf(put)) return 1 - spot;
  putPremiumInto(PREMIUM, put.boundary, put.scheme, logSpot, rate, dividendYield, volatility, timeToExpiry, false);
  setUnitRow(put.market, spot);
  europeanPriceRows(OUT.price, ROW, 1);
  // Near the boundary the premium's quadrature may fall short of exercise by its own error, hence the floor.
  return Math.max(OUT.price[0] + Math.max(PREMIUM.value, 0), 1 - spot);
}

/** Value of an option by its unit put; never below that of exercise, which the division by the strike may round up. */
export function spectralValue(put: SolvedPut, isPut: boolean, spot: number, strike: number): number {
  return isPut
    ? Math.max(strike * unitPutValueAt(put, spot / strike), strike - spot)
    : Math.max(spot * unitPutValueAt(put, strike / spot), spot - strike);
}

/** What early exercise adds to the value of the unit put, by spot; for many spots of one put. */
export function unitPutPremiumBySpot(put: SolvedPut): (spot: number) => number {
  const { rate, dividendYield, volatility, timeToExpiry } = put.market;
  const premium = putPremiumBySpot(put.boundary, put.scheme, rate, dividendYield, volatility, timeToExpiry);
  const logBoundary = logBoundaryOf(put);
  return (spot) => {
    setUnitRow(put.market, spot);
    europeanPriceRows(OUT.price, ROW, 1);
    const ofExercise = 1 - spot - OUT.price[0];
    const logSpot = Math.log(spot);
    return logSpot <= logBoundary ? ofExercise : Math.max(premium(logSpot), ofExercise, 0);
  };
}

/** Whether a put at a spot is to be exercised at once. */
export function isExercisedAt(put: SolvedPut, spot: number): boolean {
  return Math.log(spot) <= logBoundaryOf(put);
}

/** Whether a spot above the boundary is so close to it that the premium's kernel is narrow. */
export function isNearBoundary(put: SolvedPut, spot: number): boolean {
  const { volatility, timeToExpiry } = put.market;
  return Math.log(spot) - logBoundaryOf(put) < NEAR_BOUNDARY * volatility * Math.sqrt(timeToExpiry);
}

/** Value and slopes of the unit put at a spot; at and below the boundary those of exercise. */
export function unitPutAt(put: SolvedPut, spot: number): UnitPut {
  if (isExercisedAt(put, spot)) return { value: 1 - spot, delta: -1, gamma: 0, isExercised: true };
  const { rate, dividendYield, volatility, timeToExpiry } = put.market;
  const logSpot = Math.log(spot);
  let premium = PREMIUM;
  if (isNearBoundary(put, spot))
    premium = putPremiumNearBoundary(put.boundary, logSpot, rate, dividendYield, volatility, timeToExpiry);
  else putPremiumInto(PREMIUM, put.boundary, put.scheme, logSpot, rate, dividendYield, volatility, timeToExpiry, true);
  setUnitRow(put.market, spot);
  europeanGreeksRows(OUT, ROW, 1);
  return {
    value: Math.max(OUT.price[0] + Math.max(premium.value, 0), 1 - spot),
    delta: OUT.delta[0] + premium.delta,
    gamma: OUT.gamma[0] + premium.gamma,
    isExercised: false,
  };
}

function setUnitRow(market: UnitPutMarket, spot: number): void {
  ROW.isCall[0] = 0;
  ROW.spot[0] = spot;
  ROW.strike[0] = 1;
  ROW.timeToExpiry[0] = market.timeToExpiry;
  ROW.rate[0] = market.rate;
  ROW.dividendYield[0] = market.dividendYield;
  ROW.volatility[0] = market.volatility;
}
