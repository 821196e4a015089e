export {
  namesTable,
  readTable,
  readTableRows,
  type ReadTableOptions,
  type TableProblem,
  type TableResult,
} from './read-table.ts';
export {
  FILE_FORMATS,
  fileFormatOf,
  type FileFormat,
  fileInMemory,
  type FileSource,
  Unreadable,
} from './file-source.ts';
export { type DetectedText, detectText, firstRows, headerIndex } from './detect-text.ts';
export { type GridRow, gridRows } from './grid-rows.ts';
export { readSheets, type Sheet } from './workbook.ts';
export { rowGroups, writeTable } from './write-table.ts';
export { type EncodedRows, encodeRows, ROWS_A_GROUP, writeParquet } from './write-parquet.ts';
