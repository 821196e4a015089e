export { carryRows } from './carry-rows.ts';
export { clickExpiry, focusExpiry, shownExpiries } from './expiry-choice.ts';
export { maturityOf } from './maturity.ts';
export { reasonWords } from './reason-words.ts';
export { maturityAt, surfaceAgain } from './surface-again.ts';
export { TENOR_DAYS } from './tenor-days.ts';
export { expiryBefore, forwardVolatilityInto, termRows } from './term-rows.ts';
export { tradedText } from './traded-text.ts';
export { viewResources } from './view-resources.ts';
