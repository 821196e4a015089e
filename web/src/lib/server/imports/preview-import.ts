import { detectFormat, isProblem, missingColumns, parseRow, type ReadChainOptions } from '@umwelt/market/chain-file';
import { FILE_LIMITS } from '@umwelt/market/file-limits';
import type { ColumnMapping } from '@umwelt/market/chain-format';
import { SESSION_CLOSE, VELDMAR_ZONE } from '@umwelt/market/zone';
import { importOptions, type ImportOptions, type ImportPreview } from '../../schema/chain-import.ts';
import type { Database } from '../database/connect.ts';
import { rememberedMapping } from '../repositories/imports.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { headerKey, type ImportFailure, readFailure, ReaderFailed, sampleOf } from './import-chain.ts';
import { readApart } from './read-apart.ts';
import type { SpooledFile } from './spool.ts';

const SHOWN_ROWS = 12;
const SHOWN_SYMBOLS = 50;

export type PreviewResult = { ok: true; preview: ImportPreview } | { ok: false; failure: ImportFailure };

/**
 * What an import of a file would read: format and columns from its first bytes, rows and problems from all of it.
 * @param o.corrections what the user changed; absent on the first look, when a remembered mapping is used
 */
export async function previewImport(
  database: Database,
  owner: string,
  o: { file: SpooledFile; corrections?: ImportOptions; signal?: AbortSignal },
): Promise<PreviewResult> {
  const { file, signal } = o;
  const { sample, isWhole } = await sampleOf(file);
  const detected = detectFormat(sample, { isWhole });
  if (!detected.ok) return { ok: false, failure: { reason: detected.reason } };
  const remembered = o.corrections ? undefined : await recall(database, owner, detected.headers);
  const chosen = o.corrections ?? remembered;
  const mapping: ColumnMapping = chosen?.mapping ?? detected.mapping;
  const read: ReadChainOptions = {
    format: { ...detected.format, ...chosen?.format },
    mapping,
    typed: chosen?.typed ?? {},
    zone: chosen?.zone ?? VELDMAR_ZONE,
    sessionClose: chosen?.sessionClose ?? SESSION_CLOSE,
  };
  const missing = missingColumns(mapping, read.typed);
  const parsed = missing.length === 0 ? detected.rows.map((cells, i) => parseRow(cells, i + 2, read)) : [];
  const rows = detected.rows.map((cells, i) => ({
    cells,
    problem: parsed[i] && isProblem(parsed[i]) ? parsed[i] : null,
  }));
  // Rows with problems come first into the few that are shown.
  const bad = rows.filter((r) => r.problem).slice(0, SHOWN_ROWS);
  const shown = [...bad, ...rows.filter((r) => !r.problem).slice(0, SHOWN_ROWS - bad.length)];
  const whole = missing.length === 0 ? await readWhole(file, read, signal) : undefined;
  if (whole && !whole.ok) return whole;
  return {
    ok: true,
    preview: {
      format: read.format,
      isDateOrderAmbiguous: detected.isDateOrderAmbiguous && !chosen,
      headers: detected.headers,
      rows: shown,
      mapping,
      isMappingRemembered: remembered !== undefined,
      missing,
      zone: read.zone,
      sessionClose: read.sessionClose,
      count: whole ? { rows: whole.rows, problems: whole.counts, first: whole.problems } : null,
      underlyings: await Promise.all(
        (whole?.symbols ?? []).slice(0, SHOWN_SYMBOLS).map(async (symbol) => {
          const stored = await findUnderlying(database, symbol);
          if (!stored) return { symbol, terms: null };
          const { kind, exercise, model, multiplier, currency } = stored;
          return { symbol, terms: { kind, exercise, model, multiplier, currency } };
        }),
      ),
    },
  };
}

/** Reads every row without storing any. */
async function readWhole(file: SpooledFile, read: ReadChainOptions, signal: AbortSignal | undefined) {
  const { rows, outcome } = readApart(
    {
      kind: 'chain',
      path: file.path,
      limits: FILE_LIMITS,
      format: 'csv',
      read,
      mostProblems: SHOWN_ROWS,
      isPreview: true,
    },
    { signal, onprogress: (share, count) => (file.progress = { stage: 'reading', share, rows: count }) },
  );
  // Nothing is written to it, but it must be read for the process to end.
  rows.resume();
  const end = await outcome;
  signal?.throwIfAborted();
  if (end.type === 'table') throw new ReaderFailed('a table came where a chain was read');
  if (end.type !== 'chain') return { ok: false as const, failure: readFailure(end) };
  return { ok: true as const, ...end };
}

async function recall(database: Database, owner: string, headers: string[]): Promise<ImportOptions | undefined> {
  const stored = await rememberedMapping(database, owner, headerKey(headers));
  // Format is recognised anew from each file; only what the user decided is recalled.
  const parsed = importOptions.safeParse(stored);
  return parsed.success ? { ...parsed.data, format: { dateOrder: parsed.data.format.dateOrder } } : undefined;
}
