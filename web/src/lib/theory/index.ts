export { borrowedSmileOf, expirySmile, fittedVolatility } from './expiry-smile.ts';
export { scaledGreeks, volatilityPoint } from './greek-scales.ts';
export { listedContract, type ListedOption } from './listed-contract.ts';
export { europeanEquivalents, isAmerican, type ListedValue, listedValues, type TheoryPart } from './listed-values.ts';
export {
  theoryVolatility,
  VOLATILITY_SOURCE_NAMES,
  type VolatilityInForce,
  volatilityInForce,
} from './volatility-in-force.ts';
