import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { once } from 'node:events';
import { type CalendarEvent, readCalendar } from '@umwelt/market/calendar-file';
import {
  type ChainRow,
  detectColumns,
  detectFormat,
  isProblem,
  readChain,
  recogniseTable,
  type RowProblem,
} from '@umwelt/market/chain-file';
import { checkLimit, FILE_LIMITS, type FileLimits, LimitExceeded, unfolded } from '@umwelt/market/file-limits';
import {
  fileFormatOf,
  type FileSource,
  firstRows,
  readSheets,
  readTable,
  readTableRows,
  type TableProblem,
  Unreadable,
} from '@umwelt/market/table-file';
import { columnsOf, type TableColumn, type TableRecord } from '@umwelt/market/table-format';
import { isoInZone } from '@umwelt/market/zone';
import type { Look, ProblemCount, ReadMessage, ReadTask } from '../src/lib/server/imports/reading.ts';

/*
 * Reads one file in a process of its own: takes tasks as messages, writes rows for COPY to standard output, and says how far
 * it is and how it ended. It ends when the file is read; after a look it waits to be asked for that. Whoever started it limits
 * its memory and may end it at any time.
 */

const tell = (message: ReadMessage) =>
  new Promise<void>((resolve) => {
    if (process.send) process.send(message, () => resolve());
    else resolve();
  });
const PROGRESS_MILLISECONDS = 200;
const PIECE = 1 << 16;

process.on('message', (message) => void answer(message as ReadTask));

async function answer(task: ReadTask): Promise<void> {
  try {
    const source = await openFile(task.path);
    if (task.kind === 'look') {
      await tell(await lookAt(task, source));
      return;
    }
    const end = task.kind === 'chain' ? await readChainFile(task, source) : await readTableFile(task, source);
    await flush();
    await tell(end);
  } catch (error) {
    await tell(failure(error));
  }
  process.disconnect();
}

const SAMPLE_BYTES = 1 << 16;

/** What a file is by its first bytes, unfolded when it is gzip. */
async function lookAt(task: Extract<ReadTask, { kind: 'look' }>, source: FileSource): Promise<Look> {
  const { chosen, limits } = task;
  const { sample, isWhole } = await firstBytes(source, limits);
  const format = fileFormatOf(sample);
  if (format === 'csv') {
    const detected = await detectFormat(sample, { isWhole, chosen });
    const table = isCalendar(sample) ? 'events' : recogniseTable(detected.ok ? detected.top : []);
    return { type: 'look', format, table, sheets: [], detected };
  }
  const marks = { encoding: 'utf-8', delimiter: ',', sheet: chosen.sheet } as const;
  try {
    const sheets = format === 'workbook' ? (await readSheets(source, limits)).map((s) => s.name) : [];
    const sheet = format === 'workbook' ? (sheets.find((name) => name === chosen.sheet) ?? sheets[0]) : undefined;
    const rows = await firstRows(source, format, { ...marks, sheet });
    return {
      type: 'look',
      format,
      table: recogniseTable(rows),
      sheets,
      detected: detectColumns(rows, { ...marks, sheet, headerLine: chosen.headerLine }),
    };
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    const { row, value } = error;
    const remedy = row > 0 ? `${error.remedy}, which line ${row} is not: ${value}` : error.remedy;
    return { type: 'look', format, table: 'chains', sheets: [], detected: { ok: false, reason: 'unreadable', remedy } };
  }
}

function failure(error: unknown): ReadMessage {
  if (error instanceof LimitExceeded) {
    const { limit, most, found } = error;
    return { type: 'limit', limit, most, found };
  }
  if (error instanceof Error && /allocation|Invalid (array|typed array|string) length/i.test(error.message))
    throw error;
  return { type: 'malformed', detail: error instanceof Error ? error.message.split('\n', 1)[0].slice(0, 300) : '' };
}

let bytesRead = 0;
let bytesAll = 1;
let opened: { path: string; source: FileSource } | undefined;

async function openFile(path: string): Promise<FileSource> {
  bytesRead = 0;
  if (opened?.path !== path) opened = { path, source: await sourceOf(path) };
  return opened.source;
}

async function sourceOf(path: string): Promise<FileSource> {
  const handle = await open(path);
  const { size } = await handle.stat();
  bytesAll = Math.max(1, size);
  return {
    async *bytes() {
      for await (const piece of createReadStream(path, { highWaterMark: PIECE }) as AsyncIterable<Buffer>) {
        bytesRead += piece.length;
        yield piece;
      }
    },
    parts: {
      byteLength: size,
      async slice(start, end = size) {
        const buffer = new ArrayBuffer(Math.max(0, end - start));
        await handle.read(new Uint8Array(buffer), 0, buffer.byteLength, start);
        bytesRead = Math.max(bytesRead, Math.min(end, size));
        return buffer;
      },
    },
  };
}

let waiting = '';
/** Writes rows in pieces, no faster than they are taken. */
async function write(line: string): Promise<void> {
  waiting += line;
  if (waiting.length >= PIECE) await flush();
}
async function flush(): Promise<void> {
  if (waiting === '') return;
  const piece = waiting;
  waiting = '';
  if (!process.stdout.write(piece)) await once(process.stdout, 'drain');
}

let toldAt = 0;
function progress(rows: number): void {
  const now = Date.now();
  if (now - toldAt < PROGRESS_MILLISECONDS) return;
  toldAt = now;
  void tell({ type: 'progress', share: Math.min(1, bytesRead / bytesAll), rows });
}

/** Lines kept of each kind of problem. */
const SHOWN_LINES = 20;

async function readChainFile(task: Extract<ReadTask, { kind: 'chain' }>, source: FileSource): Promise<ReadMessage> {
  const { format, read, limits } = task;
  const problems: RowProblem[] = [];
  const counts = new Map<string, ProblemCount>();
  let rows = 0;
  let leftOut = 0;
  for await (const row of readChain(source, format, read, limits)) {
    progress(rows + leftOut);
    if (isProblem(row)) {
      leftOut++;
      count(counts, row);
      if (problems.length < task.mostProblems) problems.push(row);
      // After so many nothing will be stored, and more tell nothing new.
      else if (task.badRows === 'refuse') break;
      continue;
    }
    rows++;
    if (leftOut === 0 || task.badRows === 'leave-out') await write(chainLine(row));
  }
  return { type: 'chain', rows, leftOut, problems, counts: [...counts.values()] };
}

function count(counts: Map<string, ProblemCount>, { code, field, line }: RowProblem): void {
  const key = `${code} ${field}`;
  const kind = counts.get(key) ?? { code, field, rows: 0, lines: [] };
  kind.rows++;
  if (kind.lines.length < SHOWN_LINES) kind.lines.push(line);
  counts.set(key, kind);
}

function chainLine(r: ChainRow): string {
  const [at, expiry] = [r.asOf, r.expiry].map((instant) => new Date(instant).toISOString());
  return `${[
    ...[r.line, r.underlying, at, r.underlyingPrice, expiry, r.side[0], r.strike, r.bid, r.ask, r.bidSize, r.askSize],
    ...[r.last, r.volume, r.openInterest, r.volatility, r.bidVolatility, r.askVolatility],
    ...[r.quotedIn === 'volatility', r.priceSource === 'parity'],
  ].join('\t')}\n`;
}

async function readTableFile(task: Extract<ReadTask, { kind: 'table' }>, source: FileSource): Promise<ReadMessage> {
  const { table, of, zone, limits } = task;
  const typed: TableRecord = of === undefined ? {} : { [table === 'rates' ? 'currency' : 'underlying']: of };
  const { sample: start } = await firstBytes(source, limits);
  const all =
    table === 'events' && isCalendar(start)
      ? calendarRows(await wholeText(source), zone)
      : readTableRows(table, source, fileFormatOf(start), { typed, zone, limits });
  const columns = columnsOf(table);
  const problems: TableProblem[] = [];
  let rows = 0;
  for await (const read of all) {
    progress(rows);
    if ('problems' in read) {
      problems.push(...read.problems);
      if (problems.length >= task.mostProblems) break;
      continue;
    }
    rows++;
    if (problems.length > 0) continue;
    const cells = columns.map((c) => copyCell(read.record[c.name], c));
    await write(`${read.row}\t${cells.join('\t')}\n`);
  }
  return { type: 'table', rows, problems, isTruncated: problems.length >= task.mostProblems };
}

/** Whether a file begins as iCalendar does (RFC 5545). */
function isCalendar(start: Uint8Array): boolean {
  return /^\s*BEGIN:VCALENDAR/i.test(new TextDecoder().decode(start.subarray(0, 64)));
}

/** Texts hold no control characters by now; a backslash is COPY's own sign. */
function copyCell(value: string | number | null | undefined, column: TableColumn): string {
  // A number that is not known is none.
  if (value === null || value === undefined) return column.type === 'number' ? 'NaN' : '\\N';
  return typeof value === 'number' ? String(value) : value.replaceAll('\\', '\\\\');
}

/** First bytes of a file, unfolded when it is gzip, and whether they are all of it. */
async function firstBytes(source: FileSource, limits: FileLimits): Promise<{ sample: Uint8Array; isWhole: boolean }> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of unfolded(source.bytes(), limits)) {
    pieces.push(piece);
    size += piece.length;
    if (size > SAMPLE_BYTES) break;
  }
  bytesRead = 0;
  return { sample: Buffer.concat(pieces).subarray(0, SAMPLE_BYTES), isWhole: size <= SAMPLE_BYTES };
}

/** Calendars are held in memory as a whole. */
const MOST_CALENDAR_BYTES = 1 << 25;

async function wholeText(source: FileSource): Promise<string> {
  checkLimit({ ...FILE_LIMITS, bytes: MOST_CALENDAR_BYTES }, 'bytes', source.parts.byteLength);
  const pieces: Uint8Array[] = [];
  for await (const piece of source.bytes()) pieces.push(piece);
  return new TextDecoder().decode(Buffer.concat(pieces));
}

/** Events of a calendar as rows of the table, checked as those of any other file. */
async function* calendarRows(text: string, zone: string): ReturnType<typeof readTableRows> {
  const read = readCalendar(text, zone);
  if (!read.ok) {
    yield { problems: [{ row: 0, column: '', value: '', remedy: read.reason }] };
    return;
  }
  const lines = read.events.map((e) => JSON.stringify(eventRecord(e, zone))).join('\n');
  const checked = await readTable('events', Buffer.from(lines), { zone });
  if (!checked.ok) yield { problems: checked.problems };
  else for (const [i, record] of checked.records.entries()) yield { row: i + 1, record };
}

function eventRecord({ underlying, instant, kind, label }: CalendarEvent, zone: string): TableRecord {
  return { underlying, instant: isoInZone(instant, zone), kind, label };
}
