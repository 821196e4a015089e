export { type TableFormat, TABLE_FORMATS, TABLE_KINDS, type TableKind, type TableRecord } from './table-kind.ts';
export { writeTable } from './write-table.ts';
export { readTable, tableFormatOf, type TableProblem, type TableResult } from './read-table.ts';
