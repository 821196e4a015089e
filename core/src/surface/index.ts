export { type Slice, requireSlice } from './slice.ts';
export {
  type QuoteFault,
  type QuoteUnfit,
  type QuoteReason,
  type Verdicts,
  isFault,
  judgeAlone,
  judgeSlice,
} from './judge-quotes.ts';
export { type FactorEstimate, type ImpliedForwardResult, forwardOfPairs, impliedForward } from './implied-forward.ts';
export { forwardStraddle } from './forward-straddle.ts';
export { freedPairs } from './freed-pairs.ts';
export { freedSlice } from './freed-slice.ts';
export { pairsOf } from './parity-pairs.ts';
export { smilePoints } from './telling-points.ts';
export type { PremiumColumns } from './telling-side.ts';
export { fitErrors } from './fit-errors.ts';
export { type QuoteVolatilities, quoteVolatilities } from './quote-volatilities.ts';
export { type Smile, smileVolatility, durrleman } from './smile.ts';
export {
  type ConstantMaturity,
  type EventJump,
  type SurfacePlace,
  type SurfaceSmile,
  VolatilitySurface,
} from './volatility-surface.ts';
export { type SmileShapeName, type SmileSpan, smileShapeName, smileSpan } from './smile-shape.ts';
export { type SmileDescription, describedSmile } from './smile-description.ts';
export { type SplineParameters, splineSmile, splineThrough } from './spline-smile.ts';
export { type SviRawParameters, sviRawSmile } from './svi-raw.ts';
export { type SviRawFitInput, type SviRawFitResult, fitSviRaw } from './fit-svi-raw.ts';
export { type CarryInput, RATE_ERRORS, type SliceForward, impliedYield } from './slice-forward.ts';
export { impliedDrift, spotForward } from './spot-carry.ts';
export type { Estimated } from './carry-equations.ts';
export type { CarryEstimate, ExpiryEstimate, ImpliedDividend, OwnEstimate } from './estimate-carry.ts';
export { type FittedSlice, fitSlice } from './fit-slice.ts';
export type { ImplySliceOptions } from './imply-slice.ts';
export type { SliceSmile } from './fit-smile.ts';
export { type SmileMeasures, smileMeasures, logMoneynessAtDelta, volatilityAtDelta } from './smile-measures.ts';
export {
  type TermPoint,
  type TermShape,
  type ForwardVolatilityResult,
  termVolatility,
  forwardVolatility,
  termShape,
} from './term-structure.ts';
export { type ExpiryVariance, expiryVariance, stripVariance, varianceIndex, varianceStrip } from './variance-index.ts';
export { type SmileVariance, completedIndex, smileVariance } from './smile-variance.ts';
export { type Surface, type SurfaceExpiry, type SurfaceInput, deriveSurface } from './derive-surface.ts';
export {
  type DatedEvent,
  type EventEstimate,
  type EventVariances,
  type UnexplainedEvent,
  eventVariances,
} from './event-variance.ts';
export { type OutlierExpiry, outlierExpiries } from './outlier-expiries.ts';
export { type SmileMovement, empiricalStickiness, movedSmile, skewStickinessRatio } from './smile-movement.ts';
export { expectedAbsoluteMove, probabilityAbove, riskNeutralDensity, smileQuantile } from './smile-distribution.ts';
export { type Borrowing, borrowedSmile, fittedShift } from './borrowed-smile.ts';
export { type DividendForward, forwardPerSpotVolatility } from './spot-volatility.ts';
export { type ExerciseTerms, exercisePremiums } from './early-exercise.ts';
export { USUAL_RATE } from './rate-prior.ts';
export { zeroRate } from './zero-rate.ts';
