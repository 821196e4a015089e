import { z } from 'zod';
import { CHAIN_FIELDS, type ChainField, DELIMITERS, ENCODINGS } from '@umwelt/market/chain-format';
import { zoneText } from './quantity.ts';

/** Most strikes of one expiry at one instant. */
export const MOST_STRIKES = 2000;

const column = z.number().int().min(0).max(500);
export const columnMapping = z.partialRecord(z.enum(CHAIN_FIELDS as [ChainField, ...ChainField[]]), column);

export const chainFormat = z.object({
  encoding: z.enum(ENCODINGS),
  delimiter: z.enum(DELIMITERS),
  decimal: z.enum(['.', ',']),
  dateOrder: z.enum(['iso', 'dmy', 'mdy']),
  /** Whether 27.4 % is written as 0.274 or 27.4 */
  volatilityUnit: z.enum(['decimal', 'percent']),
  /** Line of the header, counted from 1; 0 for JSON and Parquet */
  headerLine: z.number().int().min(0),
  /** Of a workbook */
  sheet: z.string().max(100).optional(),
});

export const sessionCloseText = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'HH:MM');

/** Terms of the options on an underlying. */
export const importTerms = z.object({
  kind: z.enum(['index', 'fund', 'share', 'future', 'currency']),
  exercise: z.enum(['european', 'american']),
  model: z.enum(['spot', 'futures']),
  multiplier: z.number().positive().max(1e9),
  currency: z.string().regex(/^[A-Z]{3}$/, 'three capital letters, ISO 4217'),
});
export type ImportTerms = z.infer<typeof importTerms>;

const typedCell = z.string().max(60).optional();

/** How to read one file; everything left out is recognised from the file. */
export const importOptions = z.object({
  fileName: z.string().max(255).default('chain.csv'),
  format: chainFormat.partial().default({}),
  mapping: columnMapping.optional(),
  typed: z
    .object({
      underlying: typedCell,
      asOf: typedCell,
      underlyingPrice: typedCell,
      expiry: typedCell,
      side: typedCell,
    })
    .default({}),
  zone: zoneText.optional(),
  sessionClose: sessionCloseText.optional(),
  /** Of underlyings that are not stored yet */
  terms: importTerms.partial().default({}),
  /** What becomes of a file with rows that cannot be read */
  badRows: z.enum(['leave-out', 'refuse']).default('leave-out'),
  /** Distance of bid and offer where a file quotes one volatility, decimal */
  volatilityWidth: z.number().positive().max(1).default(0.01),
});
export type ImportOptions = z.infer<typeof importOptions>;
export type ImportOptionsInput = z.input<typeof importOptions>;

/** JSON in a parameter of an address. */
export const jsonParameter = z.string().transform((text, context) => {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    context.addIssue({ code: 'custom', message: 'must be JSON' });
    return z.NEVER;
  }
});
/** Id of a file that was uploaded before. */
const upload = z.uuid().optional();
/** A file that belongs to the first, as the puts to the calls. */
const beside = z.uuid().optional();
/** What an import of a chain is asked by. */
export const chainImportQuery = z.object({
  upload,
  beside,
  options: jsonParameter.pipe(importOptions).default(importOptions.parse({})),
});
/** What a preview is asked by: `options` only after the user's corrections. */
export const chainPreviewQuery = z.object({
  upload,
  beside,
  /** For the first look, which has no options yet */
  fileName: z.string().max(255).optional(),
  options: jsonParameter.pipe(importOptions).optional(),
});

export const rowProblem = z.object({
  line: z.number(),
  field: z.string(),
  value: z.string(),
  code: z.string(),
  remedy: z.string(),
});

/** Rows with one kind of problem: how many, and where the first are. */
const problemCount = z.object({ code: z.string(), field: z.string(), rows: z.number(), lines: z.array(z.number()) });

const gridRow = z.object({ line: z.number(), cells: z.array(z.string()) });
const guess = <T extends z.ZodType>(value: T) => z.object({ value, reason: z.string() });

/** Terms with what each was told by. */
export const guessedTerms = z.object({
  kind: guess(importTerms.shape.kind),
  exercise: guess(importTerms.shape.exercise),
  model: guess(importTerms.shape.model),
  multiplier: guess(importTerms.shape.multiplier),
  currency: guess(importTerms.shape.currency),
});

export const importPreview = z
  .object({
    table: z.literal('chains'),
    kind: z.enum(['csv', 'jsonl', 'json', 'parquet', 'workbook']),
    format: chainFormat,
    isDateOrderAmbiguous: z.boolean(),
    areSidesAssumed: z.boolean(),
    sheets: z.array(z.string()),
    /** First lines of the file, to choose the header from */
    top: z.array(gridRow),
    headers: z.array(z.string()),
    rows: z.array(gridRow.extend({ problem: rowProblem.nullable() })),
    mapping: columnMapping,
    /** Whether columns are as the user mapped such a file before, or that no longer agrees with the cells */
    memory: z.enum(['none', 'used', 'contradicted']),
    missing: z.array(z.string()),
    /** What the file says once, outside its columns, or its name */
    facts: z.array(z.object({ field: z.string(), value: z.string(), from: z.string() })),
    typed: importOptions.shape.typed.unwrap(),
    zone: guess(z.string()),
    sessionClose: guess(z.string()),
    badRows: importOptions.shape.badRows.unwrap(),
    volatilityWidth: z.number(),
    /** All of the file; null while a column is missing */
    whole: z
      .object({
        rows: z.number(),
        leftOut: z.number(),
        problems: z.array(problemCount),
        first: z.array(rowProblem),
        instants: z.object({ count: z.number(), first: z.string(), last: z.string() }).nullable(),
        expiries: z.number(),
        sides: z.array(z.enum(['call', 'put'])),
        /** What would become of what is stored */
        slices: z.object({ new: z.number(), changed: z.number(), same: z.number(), demo: z.number() }),
        /** Slices whose prices are made of quoted volatilities */
        quotedInVolatility: z.number(),
        /** Prices of underlyings that the file lacks, by parity; null where there are too few pairs */
        impliedPrices: z.array(z.object({ symbol: z.string(), price: z.number().nullable() })),
        underlyings: z.array(z.object({ symbol: z.string(), isNew: z.boolean(), terms: guessedTerms })),
        smile: z
          .object({
            symbol: z.string(),
            expiry: z.string(),
            days: z.number(),
            forward: z.number(),
            atm: z.number().nullable(),
            quotes: z.array(
              z.object({
                strike: z.number(),
                side: z.enum(['call', 'put']),
                bid: z.number().nullable(),
                ask: z.number().nullable(),
                isRejected: z.boolean(),
              }),
            ),
            curve: z.array(z.object({ strike: z.number(), volatility: z.number() })),
          })
          .nullable(),
      })
      .nullable(),
  })
  .meta({ id: 'ImportPreview' });
export type ImportPreview = z.infer<typeof importPreview>;
export type PreviewSmile = NonNullable<NonNullable<ImportPreview['whole']>['smile']>;

export const importResult = z
  .object({
    status: z.enum(['imported', 'unchanged']),
    /** Null when nothing was stored, so that there is nothing to take back */
    id: z.string().nullable(),
    rows: z.number(),
    slices: z.number(),
    newSlices: z.number(),
    changedSlices: z.number(),
    /** Rows that could not be read, by kind */
    leftOut: z.number(),
    problems: z.array(problemCount),
    underlyings: z.array(z.object({ symbol: z.string(), asOf: z.string() })),
  })
  .meta({ id: 'ImportResult' });
export type ImportResult = z.infer<typeof importResult>;
