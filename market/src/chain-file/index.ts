export { detectDateOrder, parseInstant, parseNumber, parseSide } from './parse-values.ts';
export { type DetectResult, detectFormat } from './detect-format.ts';
export {
  type ChainRow,
  type ReadChainOptions,
  type RowProblem,
  type RowProblemCode,
  isProblem,
  missingColumns,
  parseRow,
  readChain,
} from './read-chain.ts';
export { type WrittenQuote, writeChain } from './write-chain.ts';
export { readChainTable } from './read-chain-table.ts';
