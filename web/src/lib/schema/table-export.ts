import { z } from 'zod';
import { TABLE_FORMATS, TABLE_KINDS } from '@umwelt/market/table-format';
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
  zone: zoneText.default('+01:00'),
  /** Of a file that was uploaded before */
  upload: z.uuid().optional(),
});
export type TableImport = Omit<z.infer<typeof tableImport>, 'upload'>;

export const tableImportResult = z
  .object({ table: tableKind, rows: z.number(), underlyings: z.array(z.string()) })
  .meta({ id: 'TableImportResult' });
