import type { z } from 'zod';
import { issueDetails, type ProblemDetail } from '../../api/issue-details.ts';

/** A JSON body as it was read: what it says, or why it says nothing. */
export type JsonBody<T> =
  | { type: 'body'; data: T }
  | { type: 'malformed'; detail: string }
  | { type: 'invalid'; errors: ProblemDetail[]; errorCount: number };

/** Nothing that is sent here lies deeper; what does would overflow the stack of whoever walks it. */
const MOST_DEPTH = 24;
/** Numbers, texts and lists together: a workbook's twenty thousand rows of two hundred columns, and something around them. */
const MOST_VALUES = 4_200_000;
/** A body above this is looked at from its beginning first: most that is wrong is wrong there. */
const LONG = 64 * 1024;
/** Items of each list in that beginning, and how many faults in it are enough to say no. */
const BEGINNING = 200;
const ENOUGH_FAULTS = 20;

/** Reads a JSON body and checks it by a schema; how deep and how many is counted before anything is made of it. */
export function readJsonBody<T extends z.ZodType>(bytes: Uint8Array, schema: T): JsonBody<z.output<T>> {
  const shape = shapeOf(bytes);
  if (shape.depth > MOST_DEPTH)
    return { type: 'malformed', detail: `lists and objects lie within each other more than ${MOST_DEPTH} deep` };
  if (shape.values > MOST_VALUES)
    return {
      type: 'malformed',
      detail: `more than ${MOST_VALUES.toLocaleString('en-US')} values; send less at a time`,
    };
  let said: unknown;
  try {
    said = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return { type: 'malformed', detail: 'send one JSON document' };
  }
  if (bytes.length > LONG) {
    const begun = schema.safeParse(beginningOf(said));
    if (!begun.success && begun.error.issues.length >= ENOUGH_FAULTS) return invalid(begun.error);
  }
  const parsed = schema.safeParse(said);
  return parsed.success ? { type: 'body', data: parsed.data } : invalid(parsed.error);
}

const invalid = (error: z.ZodError): JsonBody<never> => ({
  type: 'invalid',
  errors: issueDetails(error),
  errorCount: error.issues.length,
});

/** How deep lists and objects of a JSON text lie within each other, and how many values it holds; of the bytes alone. */
function shapeOf(bytes: Uint8Array): { depth: number; values: number } {
  let depth = 0;
  let deepest = 0;
  let values = 1;
  let isText = false;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (isText) {
      if (byte === BACKSLASH) i++;
      else if (byte === QUOTE) isText = false;
    } else if (byte === QUOTE) isText = true;
    else if (byte === COMMA) values++;
    else if (byte === LIST || byte === OBJECT) {
      values++;
      deepest = Math.max(deepest, ++depth);
    } else if (byte === LIST_END || byte === OBJECT_END) depth--;
  }
  return { depth: deepest, values };
}
const [QUOTE, BACKSLASH, COMMA, LIST, LIST_END, OBJECT, OBJECT_END] = [...'"\\,[]{}'].map((c) => c.charCodeAt(0));

/** The same with every list cut after its first items. */
function beginningOf(value: unknown): unknown {
  if (Array.isArray(value)) return value.slice(0, BEGINNING).map(beginningOf);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .slice(0, BEGINNING)
      .map(([key, inner]) => [key, beginningOf(inner)]),
  );
}
