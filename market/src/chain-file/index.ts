export {
  CHAIN_FIELDS,
  REQUIRED_COLUMNS,
  TYPEABLE_COLUMNS,
  type ChainField,
  type ColumnMapping,
  mapColumns,
} from './fields.ts';
export { type DateOrder, type DecimalMark, parseInstant, parseNumber, detectDateOrder } from './parse-values.ts';
export {
  DELIMITERS,
  ENCODINGS,
  type ChainFormat,
  type Delimiter,
  type DetectResult,
  type Encoding,
  detectFormat,
} from './detect-format.ts';
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
