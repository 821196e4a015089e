import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { open, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { letGo } from './let-go.ts';

/** What an upload is doing, for whoever watches it. */
export interface UploadProgress {
  stage: 'received' | 'reading' | 'storing';
  /** Of the stage, 0 to 1 */
  share: number;
  rows: number;
}

/** A file that has arrived whole. */
export interface SpooledFile {
  id: string;
  /** As the sender called it, where it did */
  name?: string;
  path: string;
  bytes: number;
  sha256: string;
  progress: UploadProgress;
}

export type ReceiveResult =
  | { ok: true; file: SpooledFile }
  | { ok: false; reason: 'too-large' | 'no-room'; limit: number }
  | { ok: false; reason: 'idle'; seconds: number };

interface Kept extends SpooledFile {
  usedAt: number;
  users: number;
}

/** An upload that nobody used for so long is removed, milliseconds. */
const KEPT_FOR = 30 * 60_000;

/**
 * Files on their way in: each is received whole before anything else is done with it, so that a slow sender holds neither a
 * transaction nor a connection. Known to this process alone.
 */
export class Spool {
  readonly #folder: string;
  readonly #quota: number;
  readonly #idle: number;
  readonly #files = new Map<string, Kept>();
  #size = 0;

  /**
   * Empties what earlier processes left behind.
   * @param o.folder this process's files lie in a folder of its own in it
   * @param o.quota bytes of all files together
   * @param o.idle milliseconds after which a sender that sends nothing is given up
   */
  constructor(o: { folder: string; quota: number; idle: number }) {
    mkdirSync(o.folder, { recursive: true, mode: 0o700 });
    for (const name of readdirSync(o.folder)) {
      if (!isAlive(Number(name))) rmSync(join(o.folder, name), { recursive: true, force: true });
    }
    this.#folder = join(o.folder, String(process.pid));
    rmSync(this.#folder, { recursive: true, force: true });
    mkdirSync(this.#folder, { mode: 0o700 });
    this.#quota = o.quota;
    this.#idle = o.idle;
  }

  /** Receives a body; nothing is left of one that breaks off. @throws what the source or the disk throws */
  async receive(source: AsyncIterable<Uint8Array>, limit: number, name?: string): Promise<ReceiveResult> {
    this.#sweep();
    const id = randomUUID();
    const path = join(this.#folder, id);
    const hash = createHash('sha256');
    const handle = await open(path, 'wx', 0o600);
    const iterator = source[Symbol.asyncIterator]();
    let bytes = 0;
    let isKept = false;
    try {
      for (;;) {
        const next = await within(iterator.next(), this.#idle);
        if (next === 'idle') return { ok: false, reason: 'idle', seconds: this.#idle / 1000 };
        if (next.done) break;
        bytes += next.value.length;
        this.#size += next.value.length;
        if (bytes > limit) return { ok: false, reason: 'too-large', limit };
        if (this.#size > this.#quota) return { ok: false, reason: 'no-room', limit: this.#quota };
        hash.update(next.value);
        // All of it: a plain write may stop in the middle where the disk is nearly full.
        await handle.appendFile(next.value);
      }
      const progress: UploadProgress = { stage: 'received', share: 1, rows: 0 };
      const file: Kept = { id, name, path, bytes, sha256: hash.digest('hex'), progress, usedAt: Date.now(), users: 0 };
      this.#files.set(id, file);
      isKept = true;
      return { ok: true, file };
    } finally {
      await handle.close();
      if (!isKept) {
        this.#size -= bytes;
        await rm(path, { force: true });
        letGo(iterator);
      }
    }
  }

  /** A file by its id; undefined when it is unknown here, or has been removed. */
  find(id: string): SpooledFile | undefined {
    const file = this.#files.get(id);
    if (file) file.usedAt = Date.now();
    return file;
  }

  /** Uses a file so that it is not removed meanwhile. */
  async use<T>(file: SpooledFile, work: () => Promise<T>): Promise<T> {
    const kept = this.#files.get(file.id);
    if (kept) kept.users++;
    try {
      return await work();
    } finally {
      if (kept) {
        kept.users--;
        if (kept.users === 0) kept.progress = { stage: 'received', share: 1, rows: 0 };
        kept.usedAt = Date.now();
      }
    }
  }

  async remove(id: string): Promise<void> {
    const file = this.#files.get(id);
    if (!file) return;
    this.#files.delete(id);
    this.#size -= file.bytes;
    await rm(file.path, { force: true });
  }

  /** Ends with nothing left. */
  close(): void {
    this.#files.clear();
    this.#size = 0;
    rmSync(this.#folder, { recursive: true, force: true });
  }

  #sweep(): void {
    const before = Date.now() - KEPT_FOR;
    for (const file of this.#files.values()) {
      if (file.users === 0 && file.usedAt < before) void this.remove(file.id).catch(() => undefined);
    }
  }
}

function isAlive(pid: number): boolean {
  if (!Number.isInteger(pid) || pid <= 0 || pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

async function within<T>(promise: Promise<T>, milliseconds: number): Promise<T | 'idle'> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<'idle'>((resolve) => {
    timer = setTimeout(() => resolve('idle'), milliseconds);
  });
  // One that fails after it was given up concerns nobody.
  promise.catch(() => undefined);
  try {
    return await Promise.race([promise, late]);
  } finally {
    clearTimeout(timer);
  }
}
