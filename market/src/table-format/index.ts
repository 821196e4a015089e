export {
  type Cell,
  type ColumnType,
  columnsOf,
  TABLE_FORMATS,
  TABLE_KINDS,
  type TableColumn,
  type TableFormat,
  type TableKind,
  type TableRecord,
} from './table-kind.ts';
export { escapeFormula, unescapeFormula } from './formula-escape.ts';
