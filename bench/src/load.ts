import { loopDelay, pause } from './loop-delay.ts';

/*
 * Fifty readers, the feed at 600 times and imports of 120,000 rows, for a minute, against a running ./start at BASE_URL whose
 * server was started with NODE_OPTIONS="--import …/bench/src/loop-delay.mjs" and LOOP_DELAY_FOLDER; SERVER_PID is its process.
 */

const READERS = 50;
const THOUGHT = 2000;
const SECONDS = 60;
const IDLE_SECONDS = 10;
const SYMBOLS = ['VM50', 'VFUND', 'VMQ', 'KELPA', 'MERRO', 'TYNDA', 'SKALD', 'TERN', 'RYE', 'ORVEN', 'PELAG', 'TIDEW'];
const VIEWS = ['term', 'skew', 'chain'];
const STREAMS = 10;

function chainFile(symbol: string): string {
  const rows = ['underlying,as_of,underlying_price,expiry,side,strike,bid,ask'];
  for (let instant = 0; instant < 60; instant++) {
    const at = new Date(Date.UTC(2030, 0, 2 + instant, 16, 30)).toISOString();
    for (let e = 1; e <= 10; e++) {
      const expiry = new Date(Date.UTC(2030, 3, 1 + 20 * e)).toISOString().slice(0, 10);
      for (let k = 0; k < 100; k++) {
        const strike = 50 + k;
        const time = 0.08 * Math.sqrt(e) * 100 * Math.exp(-(((strike - 100) / 40) ** 2));
        for (const side of ['call', 'put']) {
          const inner = Math.max(0, side === 'call' ? 100 - strike : strike - 100);
          rows.push(
            `${symbol},${at},100,${expiry},${side},${strike},${(inner + time - 0.05).toFixed(2)},${(inner + time + 0.05).toFixed(2)}`,
          );
        }
      }
    }
  }
  return rows.join('\n');
}

/** Numbers that look drawn, the same in every run. */
function drawn(seed: number): () => number {
  let x = seed;
  return () => (x = (Math.imul(1664525, x) + 1013904223) >>> 0) / 2 ** 32;
}

export async function loadFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  await loopDelay();
  await pause(1000 * IDLE_SECONDS);
  const idle = await loopDelay();
  const feed = (data: object) =>
    fetch(`${base}/api/v1/feed`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(data),
    });
  await feed({ action: 'start', speed: 600 });
  const end = performance.now() + 1000 * SECONDS;
  const isOver = () => performance.now() >= end;
  const leave = new AbortController();
  for (let i = 0; i < STREAMS; i++) {
    void fetch(`${base}/api/v1/stream?topic=${SYMBOLS[i % SYMBOLS.length]}`, { signal: leave.signal })
      .then(async (r) => {
        for await (const _piece of r.body as unknown as AsyncIterable<Uint8Array>);
      })
      .catch(() => undefined);
  }
  const times: number[] = [];
  const errors: string[] = [];
  const read = async (reader: number) => {
    const next = drawn(1 + reader);
    await pause(THOUGHT * next());
    while (!isOver()) {
      const symbol = SYMBOLS[Math.floor(next() * SYMBOLS.length)];
      const view = VIEWS[Math.floor(next() * VIEWS.length)];
      // A third live, a third at the demo's today, a third somewhere in the past two hundred days.
      const when = next();
      const past = new Date(Date.UTC(2031, 2, 13 - Math.floor(200 * next()), 17)).toISOString();
      const asOf = when < 1 / 3 ? '?asOf=live' : when < 2 / 3 ? '' : `?asOf=${past}`;
      const started = performance.now();
      try {
        const answer = await fetch(`${base}/${view}/${symbol}${asOf}`, { headers: { accept: 'text/html' } });
        await answer.text();
        times.push(performance.now() - started);
        if (!answer.ok) errors.push(`${view} ${symbol} ${asOf}: ${answer.status}`);
      } catch (error) {
        errors.push(`${view} ${symbol} ${asOf}: ${String(error)}`);
      }
      await pause(THOUGHT);
    }
  };
  let imports = 0;
  const bring = async () => {
    while (!isOver()) {
      const body = chainFile(`LOAD${process.pid}-${imports}`);
      const answer = await fetch(`${base}/api/v1/imports/chains`, {
        method: 'POST',
        headers: { 'content-type': 'text/csv' },
        body,
        signal: leave.signal,
      }).catch((error: unknown) => error as Error);
      if (leave.signal.aborted) return;
      if (answer instanceof Error) errors.push(`import: ${answer.message}`);
      else if (!answer.ok) errors.push(`import: ${answer.status} ${await answer.text()}`);
      else imports++;
    }
  };
  const bringing = bring();
  await Promise.all(Array.from({ length: READERS }, (_, i) => read(i)));
  const loaded = await loopDelay();
  leave.abort();
  await bringing;
  await feed({ action: 'pause', speed: 60 });
  times.sort((a, b) => a - b);
  const at = (share: number) => (times[Math.floor(share * (times.length - 1))] / 1000).toFixed(2);
  console.log(
    `views: ${times.length} in ${SECONDS} s, median ${at(0.5)} s, 95 % below ${at(0.95)} s, longest ${at(1)} s (goal: 95 % below 1.5 s)`,
  );
  console.log(
    `errors: ${errors.length}${errors.length > 0 ? `, the first: ${errors[0].slice(0, 300)}` : ''}; imports of 120,000 rows finished: ${imports}`,
  );
  if (idle && loaded)
    console.log(
      `event loop's delay: idle p99 ${idle.p99.toFixed(0)} ms, loaded p50 ${loaded.p50.toFixed(0)}, p99 ${loaded.p99.toFixed(0)}, longest ${loaded.max.toFixed(0)} ms (goal: p99 within 50 ms of idle)`,
    );
}
