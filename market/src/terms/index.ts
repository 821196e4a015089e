export { exerciseByQuotes, type Guess } from './exercise-by-quotes.ts';
export {
  currencyPair,
  type GuessedTerms,
  guessTerms,
  NO_CURRENCY,
  type TermsEvidence,
  type UnderlyingKind,
} from './guess-terms.ts';
export { implyPrice } from './imply-price.ts';
