export {
  CHAIN_FIELDS,
  REQUIRED_COLUMNS,
  TYPEABLE_COLUMNS,
  type ChainField,
  type ColumnMapping,
  mapColumns,
} from './fields.ts';
export {
  DELIMITERS,
  ENCODINGS,
  type ChainFormat,
  type DateOrder,
  type DecimalMark,
  type Delimiter,
  type Encoding,
} from './format.ts';
