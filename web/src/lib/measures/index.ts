export { CARRY_SOURCES } from './carry-measures.ts';
export {
  changeDerivation,
  type ChangeFigure,
  type ChangeStates,
  changeFigureId,
  changeValue,
  explainChangeFigure,
} from './change-workings.ts';
export { EXPIRY_COUNTS, keptOutCount, LEVEL_COUNTS, standingCount } from './count-measures.ts';
export { DISTANCE_MEASURES, distanceFigure } from './distance-measures.ts';
export { expiryFile } from './expiry-file.ts';
export { EXPIRY_MEASURES } from './expiry-measures.ts';
export { derivedValue } from './derived-value.ts';
export { CATALOGUE, type Catalogue, measuredOf } from './measured.ts';
export { levelMeasure, measureWords, wordsOf } from './measure-words.ts';
export { fixedFigure, fixedMeasure, LEVEL_MEASURES } from './level-measures.ts';
export {
  CHANGED_GREEKS,
  type ChangedGreek,
  explainGreekChange,
  GREEK_CAUSE_WORDS,
  type GreekChangeFigure,
  greekChangeFigureId,
  type GreekChangeStates,
  greekChangeValue,
} from './greek-change-workings.ts';
export { PRICER_MEASURES, pricerMeasure, type PricerMeasure } from './pricer-measures.ts';
export type { ExpiryMeasure, ExpirySubject, Measure, Unit, WorkingsInput } from './measure.ts';
export { explainPricerFigure, pricerFigureId, pricerProcedure } from './pricer-workings.ts';
export { QUOTE_MEASURES } from './quote-measures.ts';
export { explainSolveFigure, solveDerivation, solveFigureId } from './solve-workings.ts';
export { SPREAD_MEASURES, spreadFigure } from './spread-measures.ts';
export { STORED_MEASURES, storedValues } from './stored-measures.ts';
export {
  exactText,
  type FigureScale,
  figureScale,
  figureText,
  moneyText,
  figureWithUnit,
  inputText,
  premiumDecimals,
  quoteDecimals,
  underlyingDecimals,
} from './figure-text.ts';
export { derivationOf, figureId, explain, figureParts, needsQuotes, type Workings, workingsOf } from './workings.ts';
export { explainPastFigure, pastFigure } from './past-measures.ts';
export { explainRangeFigure, ODDS_SOURCE_NAMES, rangeFigure } from './range-measures.ts';
