import { mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { Spool } from '../src/lib/server/imports/spool.ts';

let folder: string;
let spool: Spool;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'spool-'));
  // What a process that is gone left behind; no process has so high a number.
  mkdirSync(join(folder, '99999999'));
  writeFileSync(join(folder, '99999999', 'left'), 'x');
  spool = new Spool({ folder, quota: 1000, idle: 30 });
});
afterEach(() => spool.close());

async function* pieces(...sizes: number[]) {
  for (const size of sizes) yield await Promise.resolve(new Uint8Array(size).fill(65));
}
const inside = () => readdirSync(join(folder, String(process.pid)));

test('a file is received whole, readable by its owner alone, and gone when it is removed or the process ends', async () => {
  expect(readdirSync(folder)).toEqual([String(process.pid)]);
  const received = await spool.receive(pieces(10, 20), 100);
  if (!received.ok) throw new Error(received.reason);
  const { file } = received;
  expect(readFileSync(file.path, 'utf8')).toBe('A'.repeat(30));
  expect(statSync(file.path).mode & 0o777).toBe(0o600);
  expect(spool.find(file.id)).toBe(file);
  await spool.remove(file.id);
  expect(spool.find(file.id)).toBeUndefined();
  expect(inside()).toEqual([]);
});

test('too much, too much of all together, and a sender that falls silent are refused, and nothing is left of them', async () => {
  expect(await spool.receive(pieces(60, 60), 100)).toEqual({ ok: false, reason: 'too-large', limit: 100 });
  const kept = await spool.receive(pieces(900), 900);
  expect(await spool.receive(pieces(60, 60), 200)).toEqual({ ok: false, reason: 'no-room', limit: 1000 });
  async function* silent() {
    yield new Uint8Array(10);
    await new Promise(() => undefined);
  }
  expect(await spool.receive(silent(), 100)).toEqual({ ok: false, reason: 'idle', seconds: 0.03 });
  async function* broken() {
    yield await Promise.resolve(new Uint8Array(10));
    throw new Error('the client has gone');
  }
  await expect(spool.receive(broken(), 100)).rejects.toThrow('the client has gone');
  expect(inside()).toHaveLength(1);
  // What was refused does not count against the quota.
  if (kept.ok) await spool.remove(kept.file.id);
  expect(await spool.receive(pieces(500, 500), 1000)).toMatchObject({ ok: true });
});
