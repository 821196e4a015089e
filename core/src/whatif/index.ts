export { type ChangeCause, CHANGE_CAUSES, type PriceChange, explainPriceChange } from './price-change.ts';
export { type GapCause, GAP_CAUSES, type MarketGap, type MarketGapInput, explainMarketGap } from './market-gap.ts';
export {
  type SolveResult,
  optionLater,
  strikeForDelta,
  timeUntilPrice,
  underlyingForPrice,
  volatilityToCancelDecay,
} from './solve-input.ts';
export { type GreekCause, GREEK_CAUSES, type GreekChange, explainGreekChange } from './greek-change.ts';
export { escrowedPrice } from './escrowed-price.ts';
