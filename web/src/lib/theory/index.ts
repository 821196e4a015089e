export { borrowedSmileOf, expirySmile } from './expiry-smile.ts';
export { scaledGreeks, volatilityPoint } from './greek-scales.ts';
export { listedContract, type ListedOption } from './listed-contract.ts';
export {
  carriesSlope,
  fittedChance,
  isAmerican,
  type ListedValue,
  listedValues,
  type TheoryPart,
} from './listed-values.ts';
export {
  theoryVolatility,
  theoryVolatilityAtMoney,
  VOLATILITY_SOURCE_NAMES,
  type VolatilityInForce,
  volatilityInForce,
} from './volatility-in-force.ts';
export { CHAIN_SIDES, chainOptions, type ChainSides, chainRow, chainRows } from './chain-rows.ts';
export { priceContractOf } from './price-contract.ts';
export {
  type Answer,
  type CurveRequest,
  type DecayLine,
  type DecayRequest,
  type FiguresRequest,
  pricerCurve,
  type PricerCurve,
  pricerDecay,
  type PricerDecay,
  type PricerFigures,
  pricerFigures,
  pricerGap,
  pricerSolution,
  pricerSolutions,
  type PricerSolutions,
  SEARCH_TARGETS,
  sideFigures,
  type SideFigures,
  type SolveAnswer,
  type SolveRequest,
} from './pricer-answers.ts';
export { laterInputs, marketInputs, PLAIN_INPUTS } from './pricer-defaults.ts';
export { basisFactor, basisWords, optionOf } from './pricer-option.ts';
export {
  type DistanceCount,
  DISTANCES,
  DISTANCE_WORDS,
  type DistantOption,
  distantOptions,
  ON_SMILE,
  sameDistance,
  type SameDistanceRow,
  toldDistance,
  withValues,
} from './same-distance.ts';
export { SHAPE_REACH, smileShape } from './smile-shapes.ts';
export { settledLeg, type SettledLeg } from './settled-leg.ts';
export { legExpiry, legTheory, legValues, spreadParts, spreadValue } from './spread-theory.ts';
export { SURFACE_VALUES, surfaceGreeks, type SurfaceGrid, surfaceGrid, type SurfaceValue } from './surface-grid.ts';
export { legAssignment, type LegAssignment } from './early-assignment-of.ts';
export { heldIncome } from './held-income.ts';
export { expiryLaw } from './expiry-law.ts';
export { listedAround, rangeBetween, rangeOf } from './range-of.ts';
export { askOdds, type OddsInput, sourceOf, type SourceOdds, sourcesOf } from './source-odds.ts';
export { toldMove } from './told-move.ts';
export { sessionOutEarned } from './session-out-earned.ts';
export {
  evaluateByNumbers,
  evaluateBySymbol,
  type EvaluatedStructure,
  type SeenBy,
  marketExpiry,
  valuedLeg,
} from './structure-evaluation.ts';
export { type HedgeResult, solveHedge } from './hedge-answer.ts';
export { tradeDistance } from './trade-distance.ts';
