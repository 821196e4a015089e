import type { ClientBase } from 'pg';
import { copyIn } from './copy-in.ts';

/*
 * PostgreSQL's binary COPY format, the fastest way in for millions of float8: the server reads eight bytes instead of
 * parsing a decimal. PostgreSQL 15 documentation, COPY, "Binary Format"; arrays as array_send writes them.
 */

const SIGNATURE = Buffer.from('PGCOPY\n\xff\r\n\0\0\0\0\0\0\0\0\0', 'latin1');
const TRAILER = Buffer.from([0xff, 0xff]);
const FLOAT8_OID = 701;
/** Microseconds from 1970 to 2000, where PostgreSQL counts from */
const EPOCH_2000 = 946_684_800_000;
const CHUNK = 1 << 18;

export type CopyField =
  | { type: 'int4'; value: number }
  | { type: 'float8'; value: number }
  | { type: 'timestamptz'; value: Date }
  | { type: 'text'; value: string }
  | { type: 'jsonb'; value: unknown }
  | { type: 'float8[]'; value: ArrayLike<number> };

function sizeOf(field: CopyField): number {
  switch (field.type) {
    case 'int4':
      return 8;
    case 'float8':
    case 'timestamptz':
      return 12;
    case 'text':
      return 4 + Buffer.byteLength(field.value);
    case 'jsonb':
      // Its format has a version in front.
      return 5 + Buffer.byteLength(JSON.stringify(field.value));
    case 'float8[]':
      // An empty array has no dimension.
      return field.value.length === 0 ? 16 : 24 + 12 * field.value.length;
  }
}

function writeField(buffer: Buffer, at: number, field: CopyField): number {
  const size = sizeOf(field);
  buffer.writeInt32BE(size - 4, at);
  let p = at + 4;
  switch (field.type) {
    case 'int4':
      buffer.writeInt32BE(field.value, p);
      break;
    case 'float8':
      buffer.writeDoubleBE(field.value, p);
      break;
    case 'timestamptz':
      buffer.writeBigInt64BE(BigInt(field.value.getTime() - EPOCH_2000) * 1000n, p);
      break;
    case 'text':
      buffer.write(field.value, p);
      break;
    case 'jsonb':
      p = buffer.writeInt8(1, p);
      buffer.write(JSON.stringify(field.value), p);
      break;
    case 'float8[]': {
      const { value } = field;
      p = buffer.writeInt32BE(value.length === 0 ? 0 : 1, p);
      p = buffer.writeInt32BE(0, p);
      p = buffer.writeInt32BE(FLOAT8_OID, p);
      if (value.length === 0) break;
      p = buffer.writeInt32BE(value.length, p);
      p = buffer.writeInt32BE(1, p);
      for (let i = 0; i < value.length; i++) {
        p = buffer.writeInt32BE(8, p);
        p = buffer.writeDoubleBE(value[i], p);
      }
    }
  }
  return at + size;
}

/** Bytes of one row. */
export function encodeRow(fields: readonly CopyField[]): Buffer {
  const buffer = Buffer.allocUnsafe(fields.reduce((sum, field) => sum + sizeOf(field), 2));
  let at = buffer.writeInt16BE(fields.length, 0);
  for (const field of fields) at = writeField(buffer, at, field);
  return buffer;
}

/**
 * Loads rows by binary COPY.
 * @param target table and columns, e.g. `slices (underlying_id, instant)`; from the code, never from outside
 */
export async function copyRows(
  client: ClientBase,
  target: string,
  rows: Iterable<readonly CopyField[]>,
): Promise<void> {
  const copy = await copyIn(client, `copy ${target} from stdin with (format binary)`);
  let pieces: Buffer[] = [SIGNATURE];
  let size = 0;
  const flush = async () => {
    await copy.write(Buffer.concat(pieces));
    pieces = [];
    size = 0;
  };
  try {
    for (const row of rows) {
      const bytes = encodeRow(row);
      pieces.push(bytes);
      size += bytes.length;
      if (size > CHUNK) await flush();
    }
    pieces.push(TRAILER);
    await flush();
    await copy.end();
  } catch (error) {
    await copy.abort(error instanceof Error ? error : new Error('interrupted'));
    throw error;
  }
}

/** Arrays of one length behind each other, as the concatenation of `array_send` of each gives them. */
export function decodeArrays(bytes: Buffer, count: number): Float64Array[] {
  const columns: Float64Array[] = [];
  let p = 0;
  for (let c = 0; c < count; c++) {
    const isEmpty = bytes.readInt32BE(p) === 0;
    if (isEmpty) {
      columns.push(new Float64Array(0));
      p += 12;
      continue;
    }
    const length = bytes.readInt32BE(p + 12);
    p += 20;
    const column = new Float64Array(length);
    for (let i = 0; i < length; i++) {
      column[i] = bytes.readDoubleBE(p + 4);
      p += 12;
    }
    columns.push(column);
  }
  return columns;
}
