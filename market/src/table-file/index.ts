export { readTable, readTableRows, type ReadTableOptions, type TableProblem, type TableResult } from './read-table.ts';
export { fileInMemory, type FileSource, tableFormatOf } from './raw-rows.ts';
export { writeTable } from './write-table.ts';
