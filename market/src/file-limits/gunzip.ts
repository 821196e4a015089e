import { createGunzip } from 'node:zlib';
import { pipeline, Readable } from 'node:stream';
import { checkLimit, type FileLimits } from './file-limits.ts';

/** Whether a file begins as gzip does (RFC 1952). */
export function isGzip(start: Uint8Array): boolean {
  return start[0] === 0x1f && start[1] === 0x8b;
}

/** Bytes of a file, decompressed when it is gzip, and counted. @throws LimitExceeded; Error for a broken archive */
export async function* unfolded(source: AsyncIterable<Uint8Array>, limits: FileLimits): AsyncGenerator<Uint8Array> {
  const iterator = source[Symbol.asyncIterator]();
  const first = await iterator.next();
  if (first.done) return;
  async function* all(): AsyncGenerator<Uint8Array> {
    yield first.value as Uint8Array;
    for (let next = await iterator.next(); !next.done; next = await iterator.next()) yield next.value;
  }
  const bytes: AsyncIterable<Uint8Array> = isGzip(first.value)
    ? // An error of either stream destroys the last, and the loop below throws it.
      pipeline(Readable.from(all(), { objectMode: false }), createGunzip(), () => undefined)
    : all();
  let size = 0;
  for await (const piece of bytes) {
    size += piece.length;
    checkLimit(limits, 'bytes', size);
    yield piece;
  }
}
