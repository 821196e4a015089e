export { type Side, sideSign } from './side.ts';
export { requireRange } from './require-range.ts';
export type { Greeks } from './greeks.ts';
export {
  type BlackScholesMertonInput,
  blackScholesMertonPrice,
  blackScholesMertonGreeks,
} from './black-scholes-merton.ts';
export { type Black76Input, black76Price, black76Vega, black76Greeks, forwardDelta } from './black76.ts';
export { type BachelierInput, bachelierPrice, bachelierGreeks } from './bachelier.ts';
export {
  type FirstGreeksColumns,
  type GreeksColumns,
  europeanPriceInto,
  europeanGreeksInto,
  firstGreeksColumns,
  greeksColumns,
} from './european-batch.ts';
export { type EuropeanSlice, europeanSliceGreeksInto } from './european-slice.ts';
export { type EuropeanColumns, europeanColumns, setEuropeanRow } from './european-columns.ts';
export {
  type ImpliedVolatilityInput,
  type ImpliedVolatilityFailure,
  type ImpliedVolatilityResult,
  type QuoteColumns,
  IMPLIED_VOLATILITY_STATUS,
  impliedVolatility,
  impliedVolatilityInto,
} from './implied-volatility.ts';
export { type ImpliedNormalVolatilityInput, impliedNormalVolatility } from './implied-normal-volatility.ts';
export type { Accuracy } from './american-levels.ts';
export type { CashDividend } from './finite-difference-problem.ts';
export { type Option, type Exercise, type Model, checkOption, exerciseValue } from './option.ts';
export { type PricingMethod, PRICING_METHODS, pricingMethod } from './pricing-method.ts';
export { premiumBySpot } from './premium-by-spot.ts';
export { optionPrice } from './option-price.ts';
export { americanPriceInto } from './american-batch.ts';
export { optionGreeks, type ValuedOption, valuedOption } from './option-greeks.ts';
export {
  type LadderRung,
  type LadderTerms,
  type LadderSecondOrder,
  type LadderValue,
  LADDER_LEVELS,
  optionLadder,
} from './option-ladder.ts';
export { optionDelta } from './option-delta.ts';
export { type EarlyExercise, earlyExercise } from './option-exercise.ts';
export { optionImpliedVolatility } from './option-implied-volatility.ts';
export { priceBounds } from './price-bounds.ts';
