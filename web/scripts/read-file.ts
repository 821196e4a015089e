import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { once } from 'node:events';
import { type CalendarEvent, readCalendar } from '@umwelt/market/calendar-file';
import { type ChainRow, isProblem, readChain, readChainTable, type RowProblem } from '@umwelt/market/chain-file';
import { checkLimit, FILE_LIMITS, LimitExceeded, unfolded } from '@umwelt/market/file-limits';
import { type FileSource, readTable, readTableRows, tableFormatOf, type TableProblem } from '@umwelt/market/table-file';
import { columnsOf, type TableRecord } from '@umwelt/market/table-format';
import { isoInZone } from '@umwelt/market/zone';
import type { ReadMessage, ReadTask } from '../src/lib/server/imports/reading.ts';

/*
 * Reads one file in a process of its own: takes a task as a message, writes rows for COPY to standard output, and says how
 * far it is and how it ended. Whoever started it limits its memory and may end it at any time.
 */

const tell = (message: ReadMessage) =>
  new Promise<void>((resolve) => {
    if (process.send) process.send(message, () => resolve());
    else resolve();
  });
const PROGRESS_MILLISECONDS = 200;
const PIECE = 1 << 16;

process.once('message', (message) => void answer(message as ReadTask));

async function answer(task: ReadTask): Promise<void> {
  try {
    const source = await openFile(task.path);
    const end = task.kind === 'chain' ? await readChainFile(task, source) : await readTableFile(task, source);
    await flush();
    await tell(end);
  } catch (error) {
    await tell(failure(error));
  }
  process.disconnect();
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

async function openFile(path: string): Promise<FileSource> {
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

async function readChainFile(task: Extract<ReadTask, { kind: 'chain' }>, source: FileSource): Promise<ReadMessage> {
  const { format, read, limits } = task;
  const all =
    format === 'csv'
      ? readChain(unfolded(source.bytes(), limits), read, limits)
      : readChainTable(source, format, { zone: read.zone, limits });
  const problems: RowProblem[] = [];
  const counts = new Map<string, number>();
  const symbols = new Set<string>();
  let rows = 0;
  let wrong = 0;
  for await (const row of all) {
    progress(rows + wrong);
    if (isProblem(row)) {
      wrong++;
      counts.set(row.code, (counts.get(row.code) ?? 0) + 1);
      if (problems.length < task.mostProblems) problems.push(row);
      // After the first bad row nothing will be stored; a preview counts all of them.
      if (!task.isPreview && problems.length >= task.mostProblems) break;
      continue;
    }
    rows++;
    if (symbols.size < 200) symbols.add(row.underlying);
    if (!task.isPreview && wrong === 0) await write(chainLine(row));
  }
  return {
    type: 'chain',
    rows,
    problems,
    counts: [...counts].map(([code, n]) => ({ code, rows: n })),
    isTruncated: wrong >= task.mostProblems,
    symbols: [...symbols],
  };
}

function chainLine(r: ChainRow): string {
  const [at, expiry] = [r.asOf, r.expiry].map((instant) => new Date(instant).toISOString());
  return `${r.line}\t${r.underlying}\t${at}\t${r.underlyingPrice}\t${expiry}\t${r.side[0]}\t${r.strike}\t${r.bid}\t${r.ask}\t${r.bidSize}\t${r.askSize}\t${r.last}\t${r.volume}\t${r.openInterest}\n`;
}

async function readTableFile(task: Extract<ReadTask, { kind: 'table' }>, source: FileSource): Promise<ReadMessage> {
  const { table, of, zone, limits } = task;
  const typed: TableRecord = of === undefined ? {} : { [table === 'rates' ? 'currency' : 'underlying']: of };
  const start = await firstBytes(source);
  const isCalendar = table === 'events' && /^\s*BEGIN:VCALENDAR/i.test(new TextDecoder().decode(start.subarray(0, 64)));
  const all = isCalendar
    ? calendarRows(await wholeText(source), zone)
    : readTableRows(table, source, tableFormatOf(start), { typed, zone, limits });
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
    const cells = columns.map((c) => copyCell(read.record[c.name]));
    await write(`${read.row}\t${cells.join('\t')}\n`);
  }
  return { type: 'table', rows, problems, isTruncated: problems.length >= task.mostProblems };
}

/** Texts hold no control characters by now; a backslash is COPY's own sign. */
function copyCell(value: string | number | null | undefined): string {
  if (value === null || value === undefined) return '\\N';
  return typeof value === 'number' ? String(value) : value.replaceAll('\\', '\\\\');
}

async function firstBytes(source: FileSource): Promise<Uint8Array> {
  return new Uint8Array(await source.parts.slice(0, Math.min(64, source.parts.byteLength)));
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
