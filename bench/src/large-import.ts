import { readFileSync } from 'node:fs';

/*
 * A million rows imported into a running ./start at BASE_URL, whose server is SERVER_PID: how long it takes, what memory server
 * and reader together take over rest, and how soon a cancelled one has ended.
 */

const ROWS = 1_000_000;
const ROWS_PER_INSTANT = 20_000;

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Processes that a process has started. */
function childrenOf(pid: number): string[] {
  const all = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim();
  return all === '' ? [] : all.split(' ');
}

/** Resident memory of a process and its children, MiB. */
function memoryOf(pid: number): number {
  let kibibytes = 0;
  for (const id of [String(pid), ...childrenOf(pid)]) {
    try {
      const status = readFileSync(`/proc/${id}/status`, 'utf8');
      kibibytes += Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0);
    } catch {
      // It has ended meanwhile.
    }
  }
  return kibibytes / 1024;
}

/** The rows of a file in pieces of one instant each: 50 expiries of 200 strikes, calls and puts. */
function* rows(symbol: string): Generator<string> {
  yield 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n';
  for (let instant = 0; instant < ROWS / ROWS_PER_INSTANT; instant++) {
    const at = new Date(Date.UTC(2029, 0, 2 + instant, 16, 30)).toISOString();
    const lines: string[] = [];
    for (let i = 0; i < ROWS_PER_INSTANT; i++) {
      const expiry = new Date(Date.UTC(2030, 0, 4 + 7 * Math.floor(i / 400))).toISOString().slice(0, 10);
      const strike = 50 + ((i >> 1) % 200);
      const inner = Math.max(0, i % 2 === 0 ? 150 - strike : strike - 150);
      lines.push(`${symbol},${at},150,${expiry},${i % 2 === 0 ? 'call' : 'put'},${strike},${inner + 3},${inner + 3.4}`);
    }
    yield `${lines.join('\n')}\n`;
  }
}

export async function largeImportFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  const pid = Number(process.env.SERVER_PID);
  if (!Number.isInteger(pid)) throw new Error('SERVER_PID is the process of the server at BASE_URL');
  const send = (symbol: string, signal?: AbortSignal) => {
    const pieces = rows(symbol);
    const body = new ReadableStream<Uint8Array>({
      pull(controller) {
        const { done, value } = pieces.next();
        if (done) controller.close();
        else controller.enqueue(new TextEncoder().encode(value));
      },
    });
    return fetch(`${base}/api/v1/imports/chains`, {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body,
      signal,
      duplex: 'half',
    } as RequestInit);
  };
  await pause(2000);
  const rest = memoryOf(pid);
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(pid))), 100);
  const leave = new AbortController();
  const cancelled = send(`CANCEL${process.pid}`, leave.signal).catch(() => undefined);
  const isReading = () => childrenOf(pid).length > 0;
  while (!isReading()) await pause(20);
  await pause(3000);
  const left = performance.now();
  leave.abort();
  while (isReading()) await pause(5);
  console.log(
    `a cancelled import of ${ROWS} rows has ended after ${(performance.now() - left).toFixed(0)} ms (goal 1000)`,
  );
  await cancelled;
  const start = performance.now();
  const answer = await send(`LARGE${process.pid}`);
  const seconds = (performance.now() - start) / 1000;
  clearInterval(watch);
  if (!answer.ok) throw new Error(await answer.text());
  console.log(`${ROWS} rows imported in ${seconds.toFixed(0)} s: ${await answer.text()}`);
  console.log(
    `server and reader together at most ${(most - rest).toFixed(0)} MiB over ${rest.toFixed(0)} at rest (goal 400)`,
  );
}
