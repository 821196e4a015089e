import { z } from 'zod';
import { chainImportQuery, chainPreviewQuery, importPreview, importResult } from '../chain-import.ts';
import { instantText, storedSymbol } from '../quantity.ts';
import { filePreview, tableExport, tableImport, tableImportResult, tableKind, tablePreview } from '../table-export.ts';
import { upload } from '../upload.ts';
import { defineRoute } from './route.ts';

/** In what a file may come as the body. */
const bodyTypes = ['text/csv', 'application/json', 'application/octet-stream'];
const body = z.string();
const withId = z.object({ id: z.string() });
const table = z.object({ table: tableKind.exclude(['chains']) });

export const takeUploadRoute = defineRoute({
  method: 'post',
  path: '/uploads',
  summary: 'Take a file in, to be previewed and imported by its id',
  answers: 'The file is here',
  query: z.object({ fileName: z.string().optional() }),
  body,
  bodyTypes: ['application/octet-stream'],
  answer: upload,
  status: 201,
});

export const readUploadRoute = defineRoute({
  method: 'get',
  path: '/uploads/{id}',
  summary: 'What is being done with an upload; 410 when it is not here any more',
  parameters: withId,
  answer: upload,
});

export const removeUploadRoute = defineRoute({
  method: 'delete',
  path: '/uploads/{id}',
  summary: 'Remove an upload',
  answers: 'It is not here any more',
  parameters: withId,
  answer: z.undefined(),
});

export const exportRoute = defineRoute({
  method: 'get',
  path: '/exports/{table}/{symbol}',
  summary: 'A stored table of an underlying (of a currency, for rates) as a file that imports again',
  answers: 'CSV, one JSON object a line, Parquet or, for events, iCalendar',
  parameters: z.object({ table: tableKind, symbol: storedSymbol }),
  query: tableExport,
  answer: z.string(),
  answerTypes: ['text/csv', 'application/jsonl', 'application/vnd.apache.parquet', 'text/calendar'],
});

const storedImport = z
  .object({
    id: z.string(),
    fileName: z.string(),
    table: z.string().meta({ description: 'Kind of table that the file held' }),
    rows: z.number().meta({ description: 'Rows that were read' }),
    slices: z.number().meta({ description: 'Of chains: underlyings by expiry and instant' }),
    leftOut: z.number().meta({ description: 'Rows that could not be read' }),
    undo: z
      .enum(['possible', 'undone', 'dropped', 'never'])
      .meta({ description: 'Whether it can be taken back, was taken back, or why it cannot be' }),
    refusal: z.string().nullable().meta({ description: 'Why it was refused; null of one that was taken in' }),
    createdAt: instantText,
  })
  .meta({ id: 'StoredImport' });

export const listImportsRoute = defineRoute({
  method: 'get',
  path: '/imports',
  summary: 'Imports, newest first',
  answer: z.object({ imports: z.array(storedImport) }),
  rows: ({ imports }) => imports,
});

export const importChainRoute = defineRoute({
  method: 'post',
  path: '/imports/chains',
  summary:
    'Import a chain: text of any delimiter, a workbook, JSON or Parquet, one row a quote or a strike; rows that cannot be read are left out and counted, unless badRows is refuse',
  answers: 'Imported, or unchanged when all of it is stored already; jobs derive what is kept of the past',
  query: chainImportQuery,
  body,
  bodyTypes,
  answer: importResult,
});

export const previewChainRoute = defineRoute({
  method: 'post',
  path: '/imports/chains/preview',
  summary: 'What an import of a chain would do; nothing is stored',
  query: chainPreviewQuery,
  body,
  bodyTypes,
  answer: importPreview,
});

export const importTableRoute = defineRoute({
  method: 'post',
  path: '/imports/tables/{table}',
  summary: 'Import bars, rates, dividends or events, all or nothing',
  answers: 'Imported',
  parameters: table,
  query: tableImport,
  body,
  bodyTypes,
  answer: tableImportResult,
});

export const previewTableRoute = defineRoute({
  method: 'post',
  path: '/imports/tables/{table}/preview',
  summary: 'What an import of a table would do; nothing is stored',
  parameters: table,
  query: tableImport,
  body,
  bodyTypes,
  answer: tablePreview,
});

export const previewFileRoute = defineRoute({
  method: 'post',
  path: '/imports/preview',
  summary: 'What any file holds, recognised by its columns, and what an import of it would do',
  answers: 'Preview of a chain or of a table',
  query: chainPreviewQuery,
  body,
  bodyTypes,
  answer: filePreview,
});

export const clearRefusedRoute = defineRoute({
  method: 'delete',
  path: '/imports/refused',
  summary: 'Take refused files off the list of imports',
  answer: z.object({ cleared: z.number().meta({ description: 'Files that were taken off' }) }),
});

export const undoImportRoute = defineRoute({
  method: 'delete',
  path: '/imports/{id}',
  summary: 'Take an import back; rows that were changed since stay and are counted',
  parameters: withId,
  answer: z.object({
    restored: z.number().meta({ description: 'Rows that are as they were before it' }),
    kept: z.number().meta({ description: 'Rows that were changed since and stay' }),
    removed: z.array(z.string()).meta({ description: 'Underlyings of which nothing is left' }),
  }),
});
