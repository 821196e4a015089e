import readWorkbook from 'read-excel-file/node';
import { checkLimit, type FileLimits } from '../file-limits/index.ts';
import { type FileSource, notReadable, Unreadable } from './file-source.ts';

/** Sheets of a workbook with their cells as text. */
export interface Sheet {
  name: string;
  rows: string[][];
}

/** A workbook is held in memory as a whole, several times over while it is unfolded. */
const MOST_INFLATED = 1 << 27;

/**
 * Sheets of a workbook (Office Open XML), dates as ISO 8601 without a zone.
 * @throws LimitExceeded; Unreadable
 */
export function readSheets(source: FileSource, limits: FileLimits): Promise<Sheet[]> {
  const known = workbooks.get(source) ?? unfoldSheets(source, limits);
  workbooks.set(source, known);
  return known;
}

/** What was read of a file: its first lines are looked at before all of it is read. */
const workbooks = new WeakMap<FileSource, Promise<Sheet[]>>();

async function unfoldSheets(source: FileSource, limits: FileLimits): Promise<Sheet[]> {
  const bytes = new Uint8Array(await source.parts.slice(0, source.parts.byteLength));
  checkLimit({ ...limits, bytes: Math.min(limits.bytes, MOST_INFLATED) }, 'bytes', inflatedSize(bytes));
  let sheets: Awaited<ReturnType<typeof readWorkbook>>;
  try {
    sheets = await readWorkbook(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  } catch (error) {
    throw notReadable('a workbook', error);
  }
  for (const { data } of sheets) {
    checkLimit(limits, 'rows', data.length);
    const columns = data.reduce((most, row) => Math.max(most, row.length), 0);
    checkLimit(limits, 'columns', columns);
    checkLimit(limits, 'cells', data.length * columns);
  }
  return sheets.map(({ sheet, data }) => ({ name: sheet, rows: data.map((row) => row.map(cellText)) }));
}

function cellText(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) {
    // Kept as a fraction of a day, which is no whole number of milliseconds.
    const iso = new Date(Math.round(value.getTime() / 1000) * 1000).toISOString();
    return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso.slice(0, 19).replace('T', ' ');
  }
  return String(value as string | number | boolean);
}

/**
 * Bytes that the archive says it holds unfolded, by its directory at the end (APPNOTE 6.3, sections 4.3.12 and 4.3.16). One
 * that lies about it runs into the memory that the reading process may use.
 * @throws Unreadable
 */
function inflatedSize(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // A comment of up to 64 kB may follow the end record.
  const earliest = Math.max(0, bytes.length - 22 - 0xffff);
  for (let end = bytes.length - 22; end >= earliest; end--) {
    if (view.getUint32(end, true) !== 0x06054b50) continue;
    let size = 0;
    let at = view.getUint32(end + 16, true);
    for (let entry = view.getUint16(end + 10, true); entry > 0; entry--) {
      if (at + 46 > bytes.length || view.getUint32(at, true) !== 0x02014b50) break;
      size += view.getUint32(at + 24, true);
      at += 46 + view.getUint16(at + 28, true) + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
    }
    return size;
  }
  throw new Unreadable('not readable as a workbook (the archive has no end); send it again, or as CSV');
}
