import { z } from 'zod';
import { CHAIN_FIELDS, DELIMITERS, ENCODINGS } from '@umwelt/market/chain-format';
import { zoneText } from './quantity.ts';

/** Most strikes of one expiry at one instant. */
export const MOST_STRIKES = 2000;

const column = z.number().int().min(0).max(500);
export const columnMapping = z.partialRecord(z.enum(CHAIN_FIELDS), column);

export const chainFormat = z.object({
  encoding: z.enum(ENCODINGS),
  delimiter: z.enum(DELIMITERS),
  decimal: z.enum(['.', ',']),
  dateOrder: z.enum(['iso', 'dmy', 'mdy']),
});

/** Terms of the options on an underlying that a file does not say. */
export const importTerms = z.object({
  kind: z.enum(['index', 'fund', 'share', 'future', 'currency']).default('index'),
  exercise: z.enum(['european', 'american']).default('european'),
  model: z.enum(['spot', 'futures']).default('spot'),
  multiplier: z.number().positive().max(1e9).default(100),
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, 'three capital letters, ISO 4217')
    .default('XTS'),
});
export type ImportTerms = z.infer<typeof importTerms>;

const typedCell = z.string().max(60).optional();

/** How to read one file; everything left out is recognised from the file. */
export const importOptions = z.object({
  fileName: z.string().max(255).default('chain.csv'),
  format: chainFormat.partial().default({}),
  mapping: columnMapping.optional(),
  typed: z.object({ underlying: typedCell, asOf: typedCell, underlyingPrice: typedCell }).default({}),
  zone: zoneText.default('+01:00'),
  sessionClose: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'HH:MM')
    .default('17:30'),
  terms: importTerms.prefault({}),
});
export type ImportOptions = z.infer<typeof importOptions>;
export type ImportOptionsInput = z.input<typeof importOptions>;

/** JSON in a parameter of an address. */
const jsonParameter = z.string().transform((text, context) => {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    context.addIssue({ code: 'custom', message: 'must be JSON' });
    return z.NEVER;
  }
});
/** Id of a file that was uploaded before. */
const upload = z.uuid().optional();
/** What an import of a chain is asked by. */
export const chainImportQuery = z.object({
  upload,
  options: jsonParameter.pipe(importOptions).default(importOptions.parse({})),
});
/** What a preview is asked by: `options` only after the user's corrections. */
export const chainPreviewQuery = z.object({ upload, options: jsonParameter.pipe(importOptions).optional() });

export const rowProblem = z.object({
  line: z.number(),
  field: z.string(),
  value: z.string(),
  code: z.string(),
  remedy: z.string(),
});
export type RowProblemRecord = z.infer<typeof rowProblem>;

export const importPreview = z
  .object({
    format: chainFormat,
    isDateOrderAmbiguous: z.boolean(),
    headers: z.array(z.string()),
    rows: z.array(z.object({ cells: z.array(z.string()), problem: rowProblem.nullable() })),
    mapping: columnMapping,
    isMappingRemembered: z.boolean(),
    missing: z.array(z.string()),
    /** Rows of the whole file, and how many are wrong in which way; null while a column is missing */
    count: z
      .object({
        rows: z.number(),
        problems: z.array(z.object({ code: z.string(), rows: z.number() })),
        first: z.array(rowProblem),
      })
      .nullable(),
    zone: z.string(),
    sessionClose: z.string(),
    /** Symbols seen so far; terms are null for those not stored yet */
    underlyings: z.array(z.object({ symbol: z.string(), terms: importTerms.nullable() })),
  })
  .meta({ id: 'ImportPreview' });
export type ImportPreview = z.infer<typeof importPreview>;

export const importResult = z
  .object({
    status: z.enum(['imported', 'unchanged']),
    id: z.string(),
    rows: z.number(),
    slices: z.number(),
    newSlices: z.number(),
    changedSlices: z.number(),
    underlyings: z.array(z.object({ symbol: z.string(), asOf: z.string() })),
  })
  .meta({ id: 'ImportResult' });
export type ImportResult = z.infer<typeof importResult>;
