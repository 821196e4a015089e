export {
  type ChosenFormat,
  type DetectedFormat,
  type DetectResult,
  detectColumns,
  detectFormat,
} from './detect-format.ts';
export { type Fact, factsOfFileName, typedByFacts } from './find-facts.ts';
export { mapColumns } from './header-words.ts';
export { recogniseTable } from './recognise-table.ts';
export {
  type ChainRow,
  type ReadChainOptions,
  type RowProblem,
  type RowProblemCode,
  isProblem,
  readChain,
  RowReader,
} from './read-chain.ts';
export { encodeQuotes, type WrittenQuote, type WrittenTerms, writeChain } from './write-chain.ts';
