import { type Delimiter, DELIMITERS, type Encoding } from '../chain-format/index.ts';
import { FILE_LIMITS } from '../file-limits/index.ts';
import { type FileFormat, fileInMemory, type FileSource } from './file-source.ts';
import { type GridRow, gridRows } from './grid-rows.ts';

/** Lines of a file that are looked at. */
const SAMPLE_ROWS = 300;
/** A header stands among the first lines, or there is none. */
const HEADER_WITHIN = 60;

export type DetectedText =
  | { ok: true; encoding: Encoding; delimiter: Delimiter; rows: GridRow[] }
  | { ok: false; reason: 'empty' | 'binary' | 'no-table' };

/**
 * Encoding, delimiter and first lines of a text by its first bytes, unfolded already.
 * @param o.score how many columns the cells of a line name
 */
export async function detectText(
  sample: Uint8Array,
  o: {
    isWhole: boolean;
    chosen?: { encoding?: Encoding; delimiter?: Delimiter };
    score: (cells: readonly string[]) => number;
  },
): Promise<DetectedText> {
  if (sample.length === 0) return { ok: false, reason: 'empty' };
  const encoding = o.chosen?.encoding ?? detectEncoding(sample);
  if (!encoding) return { ok: false, reason: 'binary' };
  const lines = new TextDecoder(encoding).decode(sample).split(/\r\n|\n|\r/);
  // The last line of a cut sample may end anywhere.
  const whole = o.isWhole || lines.length === 1 ? lines : lines.slice(0, -1);
  const filled = whole.filter((line) => line.trim() !== '');
  if (filled.length === 0) return { ok: false, reason: 'empty' };
  const delimiter = o.chosen?.delimiter ?? detectDelimiter(filled.slice(0, HEADER_WITHIN), o.score);
  if (!delimiter) return { ok: false, reason: 'no-table' };
  const text = new TextEncoder().encode(whole.join('\n'));
  try {
    const rows = await firstRows(fileInMemory(text), 'csv', { encoding: 'utf-8', delimiter });
    return { ok: true, encoding, delimiter, rows };
  } catch {
    return { ok: false, reason: 'no-table' };
  }
}

/** First lines of a file of any format. @throws as `gridRows` does */
export async function firstRows(
  source: FileSource,
  kind: FileFormat,
  format: { encoding: Encoding; delimiter: Delimiter; sheet?: string },
): Promise<GridRow[]> {
  const rows: GridRow[] = [];
  for await (const row of gridRows(source, kind, { format, limits: FILE_LIMITS })) {
    rows.push(row);
    if (rows.length >= SAMPLE_ROWS) break;
  }
  return rows;
}

/** The line that names most columns, where one names two. */
export function headerIndex(rows: readonly GridRow[], score: (cells: readonly string[]) => number): number | undefined {
  const scores = rows.slice(0, HEADER_WITHIN).map((row) => score(row.cells));
  const best = Math.max(...scores, 0);
  return best >= 2 ? scores.indexOf(best) : undefined;
}

function detectEncoding(sample: Uint8Array): Encoding | undefined {
  if (sample[0] === 0xff && sample[1] === 0xfe) return 'utf-16le';
  if (sample[0] === 0xfe && sample[1] === 0xff) return 'utf-16be';
  // Text has no control characters but tab, line feed, form feed and carriage return.
  let controls = 0;
  for (const byte of sample) if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 12 && byte !== 13) controls++;
  if (controls > 0) return undefined;
  // A sample may end inside a character: streaming mode does not count that as malformed.
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(sample, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/**
 * The delimiter by which a line names most fields; among those alike the one that splits every line from there on into as
 * many cells.
 */
function detectDelimiter(lines: string[], score: (cells: readonly string[]) => number): Delimiter | undefined {
  const cellsOf = (line: string, d: Delimiter) => line.split(d).map((cell) => cell.replace(/^\s*"|"\s*$/g, ''));
  const candidates = DELIMITERS.map((delimiter) => {
    const scores = lines.map((line) => (line.includes(delimiter) ? score(cellsOf(line, delimiter)) : 0));
    const best = Math.max(...scores);
    const header = best > 0 ? scores.indexOf(best) : 0;
    const cells = lines[header].split(delimiter).length;
    const isConsistent = lines.slice(header).every((line) => line.split(delimiter).length >= cells);
    return { delimiter, best, cells, isConsistent };
  }).filter((c) => c.cells > 1);
  candidates.sort((a, b) => b.best - a.best || Number(b.isConsistent) - Number(a.isConsistent) || b.cells - a.cells);
  return candidates[0]?.delimiter;
}
