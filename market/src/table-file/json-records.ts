import { JSONParser } from '@streamparser/json';
import { checkLimit, type FileLimits, unfolded } from '../file-limits/index.ts';
import { type FileSource, notReadable, Unreadable } from './file-source.ts';

/** One row of rubbish must not grow without bound. */
const LONGEST_LINE = 1 << 20;
const ONE_OBJECT = 'one JSON object a line, its members plain values';

/** Objects of a file with one of them a line. @throws LimitExceeded; Unreadable */
export async function* jsonLineRecords(
  source: FileSource,
  limits: FileLimits,
): AsyncGenerator<Record<string, unknown>> {
  let row = 0;
  try {
    for await (const line of lines(source, limits)) {
      row++;
      if (line.trim() !== '') yield lineRecord(line, row);
    }
  } catch (error) {
    throw notReadable('JSON lines', error);
  }
}

async function* lines(source: FileSource, limits: FileLimits): AsyncGenerator<string> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let rest = '';
  for await (const bytes of unfolded(source.bytes(), limits)) {
    const parts = (rest + decoder.decode(bytes, { stream: true })).split('\n');
    rest = parts.pop() ?? '';
    if (rest.length > LONGEST_LINE)
      throw new Unreadable('a line is longer than 1 MB; one JSON object a line is needed');
    yield* parts;
  }
  rest += decoder.decode();
  if (rest !== '') yield rest;
}

function lineRecord(line: string, row: number): Record<string, unknown> {
  try {
    const value: unknown = JSON.parse(line);
    if (isRecord(value)) return value;
    throw new TypeError('not an object');
  } catch {
    throw new Unreadable(ONE_OBJECT, { row, value: line.slice(0, 80) });
  }
}

/**
 * Objects of a file that is one array of them, or one object with such an array in it; what stands beside the array goes
 * into each of its objects that does not say otherwise.
 * @throws LimitExceeded; Unreadable
 */
export async function* jsonArrayRecords(
  source: FileSource,
  limits: FileLimits,
): AsyncGenerator<Record<string, unknown>> {
  const found: Record<string, unknown>[] = [];
  const beside: Record<string, unknown> = {};
  let parser: JSONParser | undefined;
  try {
    for await (const bytes of unfolded(source.bytes(), limits)) {
      parser ??= recordParser(bytes, found, beside);
      parser.write(bytes);
      for (const record of found.splice(0)) yield { ...beside, ...record };
    }
    if (!parser?.isEnded) throw new Unreadable('the JSON ends in the middle; send the whole file');
  } catch (error) {
    throw notReadable('JSON', error);
  }
}

/** Gathers the elements of an outer array; or of the arrays in an outer object, with its plain members beside them. */
function recordParser(
  start: Uint8Array,
  found: Record<string, unknown>[],
  beside: Record<string, unknown>,
): JSONParser {
  const isArray = /^\s*(?:\u00ef\u00bb\u00bf)?\s*\[/.test(new TextDecoder('latin1').decode(start.subarray(0, 64)));
  const parser = new JSONParser({ paths: isArray ? ['$.*'] : ['$.*', '$.*.*'], keepStack: false });
  parser.onValue = ({ value, key, stack }) => {
    if (typeof key === 'number' && isRecord(value)) found.push(value);
    else if (stack.length === 1 && typeof key === 'string' && isPlain(value)) beside[key] = value;
  };
  return parser;
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function isPlain(value: unknown): value is string | number | boolean | null {
  return value === null || typeof value !== 'object';
}

/** Columns that an object may have are counted like those of any other file. */
export function checkMembers(record: Record<string, unknown>, limits: FileLimits): void {
  checkLimit(limits, 'columns', Object.keys(record).length);
}
