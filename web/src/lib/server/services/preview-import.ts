import { detectFormat, isProblem, missingColumns, parseRow, type ReadChainOptions } from '@umwelt/market/chain-file';
import type { ColumnMapping } from '@umwelt/market/chain-format';
import { SESSION_CLOSE, VELDMAR_ZONE } from '@umwelt/market/zone';
import { importOptions, type ImportOptions, type ImportPreview } from '../../schema/chain-import.ts';
import type { Database } from '../database/connect.ts';
import { rememberedMapping } from '../repositories/imports.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { headerKey } from './import-chain.ts';

const SHOWN_ROWS = 12;

export type PreviewResult =
  { ok: true; preview: ImportPreview } | { ok: false; reason: 'empty' | 'binary' | 'no-table' };

/**
 * What an import of a file would read, from its first bytes.
 * @param corrections what the user changed; absent on the first look, when a remembered mapping is used
 */
export async function previewImport(
  database: Database,
  owner: string,
  o: { sample: Uint8Array; isWhole: boolean; corrections?: ImportOptions },
): Promise<PreviewResult> {
  const detected = detectFormat(o.sample, { isWhole: o.isWhole });
  if (!detected.ok) return detected;
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
  const symbols = new Set(parsed.flatMap((row) => (isProblem(row) ? [] : [row.underlying])));
  const rows = detected.rows.map((cells, i) => ({
    cells,
    problem: parsed[i] && isProblem(parsed[i]) ? parsed[i] : null,
  }));
  // Rows with problems come first into the few that are shown.
  const bad = rows.filter((r) => r.problem).slice(0, SHOWN_ROWS);
  const shown = [...bad, ...rows.filter((r) => !r.problem).slice(0, SHOWN_ROWS - bad.length)];
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
      underlyings: await Promise.all(
        [...symbols].slice(0, 50).map(async (symbol) => {
          const stored = await findUnderlying(database, symbol);
          if (!stored) return { symbol, terms: null };
          const { kind, exercise, model, multiplier, currency } = stored;
          return { symbol, terms: { kind, exercise, model, multiplier, currency } };
        }),
      ),
    },
  };
}

async function recall(database: Database, owner: string, headers: string[]): Promise<ImportOptions | undefined> {
  const stored = await rememberedMapping(database, owner, headerKey(headers));
  // Format is recognised anew from each file; only what the user decided is recalled.
  const parsed = importOptions.safeParse(stored);
  return parsed.success ? { ...parsed.data, format: { dateOrder: parsed.data.format.dateOrder } } : undefined;
}
