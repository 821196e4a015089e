export {
  CHAIN_FIELDS,
  type ChainField,
  type ColumnMapping,
  isWide,
  missingFields,
  ownField,
  SIDED_FIELDS,
  type SidedField,
  TYPEABLE_FIELDS,
  type TypedCells,
} from './fields.ts';
export {
  DELIMITERS,
  ENCODINGS,
  type ChainFormat,
  type DateOrder,
  type DecimalMark,
  type Delimiter,
  type Encoding,
  type VolatilityUnit,
} from './format.ts';
