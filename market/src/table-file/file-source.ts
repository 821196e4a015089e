import type { AsyncBuffer } from 'hyparquet';

/** A file as it lies somewhere: read from the front, or anywhere. */
export interface FileSource {
  bytes(): AsyncIterable<Uint8Array>;
  /** For formats with their index at the end */
  parts: AsyncBuffer;
}

/** A file that is in memory. */
export function fileInMemory(bytes: Uint8Array): FileSource {
  // A copy, because a Node buffer may be a part of a larger one.
  const whole = new Uint8Array(bytes).buffer;
  return {
    async *bytes() {
      yield await Promise.resolve(bytes);
    },
    parts: { byteLength: whole.byteLength, slice: (start, end) => whole.slice(start, end) },
  };
}

/** Thrown for a file that is not in the format it begins as. `row` counts from 1; 0 for the file as a whole. */
export class Unreadable extends Error {
  readonly row: number;
  readonly value: string;
  readonly remedy: string;
  constructor(remedy: string, o: { row?: number; value?: string } = {}) {
    super(remedy);
    this.name = 'Unreadable';
    this.remedy = remedy;
    this.row = o.row ?? 0;
    this.value = o.value ?? '';
  }
}

/** The error as it is when it says what to do already, else as one that does. */
export function notReadable(format: string, error: unknown): unknown {
  if (error instanceof Unreadable || (error instanceof Error && error.name === 'LimitExceeded')) return error;
  const reason = error instanceof Error ? error.message.split('\n', 1)[0] : String(error);
  return new Unreadable(
    `not readable as ${format} (${reason.slice(0, 200)}); send CSV, JSON, a workbook (xlsx) or Parquet`,
  );
}

/** Formats that files come in; more than they are written in. */
export const FILE_FORMATS = ['csv', 'jsonl', 'json', 'parquet', 'workbook'] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

/** Format of a file by its first bytes: Parquet's or a workbook's mark, an opening bracket or brace, or else CSV. */
export function fileFormatOf(start: Uint8Array): FileFormat {
  const text = new TextDecoder('latin1').decode(start).replace(/^\u00ef\u00bb\u00bf/, '');
  if (text.startsWith('PAR1')) return 'parquet';
  if (text.startsWith('PK\u0003\u0004')) return 'workbook';
  const filled = text.trimStart();
  if (filled.startsWith('[')) return 'json';
  if (!filled.startsWith('{')) return 'csv';
  // One object a line, if the first line is one.
  const [line, more] = filled.split('\n', 2);
  if (more === undefined) return /^\{[^{[]*\}\s*$/.test(line) || !/"[^"]*"\s*:\s*\[\s*\{/.test(line) ? 'jsonl' : 'json';
  try {
    JSON.parse(line);
    return 'jsonl';
  } catch {
    return line.trim().length > 1 && more.trimStart().startsWith('{') ? 'jsonl' : 'json';
  }
}
