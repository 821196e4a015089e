import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Spool, type SpooledFile } from '../../src/lib/server/imports/spool.ts';

const spool = new Spool({ folder: mkdtempSync(join(tmpdir(), 'spool-')), quota: 1 << 30, idle: 20_000 });
process.once('exit', () => spool.close());

/** A file that has arrived, as an upload brings it. */
export async function spooled(source: AsyncIterable<Uint8Array> | Uint8Array | string): Promise<SpooledFile> {
  async function* one(bytes: Uint8Array) {
    yield await Promise.resolve(bytes);
  }
  const isWhole = typeof source === 'string' || source instanceof Uint8Array;
  const received = await spool.receive(isWhole ? one(Buffer.from(source)) : source, 1 << 30);
  if (!received.ok) throw new Error(received.reason);
  return received.file;
}
