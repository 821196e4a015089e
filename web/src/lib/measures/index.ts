export { CARRY_SOURCES } from './carry-measures.ts';
export { EXPIRY_MEASURES } from './expiry-measures.ts';
export { fixedFigure, LEVEL_MEASURES } from './level-measures.ts';
export { PRICER_MEASURES, pricerMeasure, type PricerMeasure } from './pricer-measures.ts';
export { explainPricerFigure, pricerFigureId } from './pricer-workings.ts';
export { QUOTE_MEASURES } from './quote-measures.ts';
export { unitText } from './unit-text.ts';
export { figureId, figureParts, type Workings, workingsOf } from './workings.ts';
