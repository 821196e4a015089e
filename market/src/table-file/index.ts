export { writeTable } from './write-table.ts';
export { readTable, tableFormatOf, type TableProblem, type TableResult } from './read-table.ts';
