import { type ChildProcess, spawn } from 'node:child_process';
import { PassThrough, type Readable } from 'node:stream';
import type { ChosenFormat } from '@umwelt/market/chain-file';
import { FILE_LIMITS } from '@umwelt/market/file-limits';
import type { CopyIn } from '../database/copy-in.ts';
import { builtProcess } from '../processes/built-process.ts';
import { type Look, type ReadMessage, readMessage, type ReadTask } from './reading.ts';

/** Address space of a process that reads a file, bytes: a limit of the heap alone would not hold buffers. */
export const MOST_MEMORY = 1536 * 1024 * 1024;
const MOST_HEAP_MEGABYTES = 384;

export type ReadOutcome =
  | Exclude<ReadMessage, { type: 'progress' | 'look' }>
  | { type: 'memory'; most: number }
  | { type: 'failed'; detail: string };

/** A process that reads one file: its memory is limited, and it goes when this one goes. */
export class ReaderProcess {
  readonly #child: ChildProcess;
  readonly #rows = new PassThrough();
  readonly #ended: Promise<ReadOutcome>;
  #onlook: ((look: Look) => void) | undefined;

  /** @param o.signal ends it at once */
  constructor(o: { signal?: AbortSignal; onprogress?: (share: number, rows: number) => void } = {}) {
    const child = spawn(
      '/usr/bin/prlimit',
      [
        `--as=${MOST_MEMORY}`,
        '/usr/bin/setpriv',
        '--pdeathsig',
        'KILL',
        '--',
        process.execPath,
        `--max-old-space-size=${MOST_HEAP_MEGABYTES}`,
        builtProcess('read-file'),
      ],
      {
        // Arenas and threads reserve address space that nothing of a single reader needs.
        env: { ...process.env, MALLOC_ARENA_MAX: '2', UV_THREADPOOL_SIZE: '2', NODE_OPTIONS: '' },
        stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      },
    );
    this.#child = child;
    // At once: what nobody reads when a process ends is thrown away.
    child.stdout?.pipe(this.#rows);
    const end = () => this.end();
    o.signal?.addEventListener('abort', end, { once: true });
    let last: ReadOutcome | undefined;
    let said = '';
    child.stderr?.on('data', (piece: Buffer) => (said = (said + piece.toString()).slice(-4000)));
    child.on('message', (message) => {
      const parsed = readMessage.parse(message);
      if (parsed.type === 'progress') o.onprogress?.(parsed.share, parsed.rows);
      else if (parsed.type === 'look') this.#onlook?.(parsed);
      else last = parsed;
    });
    this.#ended = new Promise<ReadOutcome>((resolve) => {
      child.once('error', (error) => resolve({ type: 'failed', detail: error.message }));
      child.once('close', (code, signal) => {
        o.signal?.removeEventListener('abort', end);
        if (last) resolve(last);
        else if (signal === 'SIGABRT' || code === 134 || /allocation failed|out of memory|bad_alloc/i.test(said))
          resolve({ type: 'memory', most: MOST_MEMORY });
        else resolve({ type: 'failed', detail: said.trim().split('\n').at(-1) ?? `status ${code ?? signal}` });
      });
    });
    if (o.signal?.aborted) end();
  }

  /** What the file is by its first lines; afterwards it can still be read, or must be ended. */
  look(path: string, chosen: ChosenFormat): Promise<Look | ReadOutcome> {
    const look = new Promise<Look>((resolve) => (this.#onlook = resolve));
    this.#child.send({ kind: 'look', path, chosen, limits: FILE_LIMITS } satisfies ReadTask);
    return Promise.race([look, this.#ended]);
  }

  /** Reads all of it. @returns rows as text for COPY, which must be read for it to go on, and how it ended */
  read(task: Exclude<ReadTask, { kind: 'look' }>): { rows: Readable; outcome: Promise<ReadOutcome> } {
    this.#child.send(task);
    return { rows: this.#rows, outcome: this.#ended };
  }

  end(): void {
    this.#child.kill('SIGKILL');
  }
}

/** Passes a reader's rows on to a COPY, and waits how it ends. @throws the signal's reason; what the database says of the rows */
export async function copyRead(
  { rows, outcome }: ReturnType<ReaderProcess['read']>,
  copy: CopyIn,
  signal: AbortSignal | undefined,
): Promise<ReadOutcome> {
  for await (const piece of rows as AsyncIterable<Buffer>) await copy.write(piece);
  signal?.throwIfAborted();
  return outcome;
}
