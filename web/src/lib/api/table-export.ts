import { z } from 'zod';
import { TABLE_FORMATS, TABLE_KINDS } from '@umwelt/market/table-format';
import { guessedTerms, importPreview, importTerms, jsonParameter, sessionCloseText } from './chain-import.ts';
import { instantText, zoneText } from './quantity.ts';

export const tableKind = z.enum(TABLE_KINDS);

/** How a stored table is written to a file, and of chains which. */
export const tableExport = z.object({
  /** Events also as iCalendar */
  format: z.enum([...TABLE_FORMATS, 'ics']).default('csv'),
  /** Of chains: the stored instant at or before this one; absent means the latest */
  asOf: instantText.optional(),
  /** Of chains: one instant, or all that are stored */
  scope: z.enum(['instant', 'all']).default('instant'),
});
export type TableExport = z.infer<typeof tableExport>;

export const tableProblem = z.object({
  row: z.number(),
  column: z.string(),
  value: z.string(),
  remedy: z.string(),
});

/** How to read a table that comes in. */
export const tableImport = z.object({
  fileName: z.string().max(255).default('table'),
  /** Underlying or currency of all rows, where the file has no such column */
  of: z.string().min(1).max(32).optional(),
  zone: zoneText.optional(),
  sessionClose: sessionCloseText.optional(),
  /** Of underlyings that are not stored yet, as JSON */
  terms: jsonParameter.pipe(importTerms.partial()).optional(),
  /** Of a file that was uploaded before */
  upload: z.uuid().optional(),
});
export type TableImport = Omit<z.infer<typeof tableImport>, 'upload'>;

export const tableImportResult = z
  .object({
    table: tableKind,
    /** Null when nothing was changed, so that there is nothing to take back */
    id: z.string().nullable(),
    rows: z.number(),
    /** Rows that were new or stored otherwise */
    changed: z.number(),
    underlyings: z.array(z.string()),
  })
  .meta({ id: 'TableImportResult' });

/** What an import of a table would do. */
export const tablePreview = z
  .object({
    table: tableKind.exclude(['chains']),
    /** Underlying or currency of all rows, where the file has no such column; null where it is not known yet */
    of: z.string().nullable(),
    /** Whether the file lacks the column */
    isOfNeeded: z.boolean(),
    rows: z.number(),
    problems: z.array(tableProblem),
    slices: z.object({ new: z.number(), changed: z.number(), same: z.number() }),
    columns: z.array(z.string()),
    first: z.array(z.array(z.string())),
    underlyings: z.array(z.object({ symbol: z.string(), isNew: z.boolean(), terms: guessedTerms })),
  })
  .meta({ id: 'TablePreview' });
export type TablePreview = z.infer<typeof tablePreview>;

/** What any file would do, by what it holds. */
export const filePreview = z.discriminatedUnion('table', [importPreview, tablePreview]);
export type FilePreview = z.infer<typeof filePreview>;
