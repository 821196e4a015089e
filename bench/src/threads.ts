import { createServer } from 'node:http';
import { readdirSync, readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { type LadderTerms, optionLadder } from '@umwelt/core/pricing';
import { ladderRungs } from './ladder.ts';
import { measure } from './measure.ts';

/*
 * Whether what ships runs as fast as what is measured here: the same ladder in this bundle, and in the browser's thread as
 * the built client holds it (scripts/build.sh first).
 */

const WORKERS = 'web/build/client/_app/immutable/workers';
const terms: LadderTerms = {
  exercise: 'american',
  model: 'futures',
  underlying: 80,
  timeToExpiry: 0.35,
  rate: 0.04,
};
const ROUNDS = 41;
const WARMUP = 20;

/** An expiry of a picture with just what valuing its options reads. */
function expiry() {
  const rungs = ladderRungs();
  const strikes = [...new Set(rungs.map((r) => r.strike))];
  return {
    model: 'futures',
    years: terms.timeToExpiry,
    impliedRate: terms.rate,
    impliedYield: terms.rate,
    forward: terms.underlying,
    exercisedInto: { kind: 'future' },
    strikes,
    smile: null,
    call: { midVolatility: rungs.filter((r) => r.side === 'call').map((r) => r.volatility) },
    put: { midVolatility: rungs.filter((r) => r.side === 'put').map((r) => r.volatility) },
  };
}

/** Prints the median time of the ladder in both. */
export async function threadFigures(): Promise<void> {
  const rungs = ladderRungs();
  const here = measure(1, ROUNDS, () => optionLadder(terms, rungs).length, WARMUP).median / 1e6;
  const name = readdirSync(WORKERS).find((f) => f.startsWith('theory.worker') && f.endsWith('.js'));
  if (name === undefined) throw new Error('the client is not built: scripts/build.sh');
  const code = readFileSync(`${WORKERS}/${name}`);
  const server = createServer((request, response) => {
    const isWorker = request.url === '/worker.js';
    response.setHeader('content-type', isWorker ? 'text/javascript' : 'text/html');
    response.end(isWorker ? code : '<!doctype html><title>bench</title>');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', chromiumSandbox: false });
  const page = await browser.newPage();
  await page.goto(`http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/`);
  const options = rungs.map(({ side, strike }) => ({ side, strike }));
  const median = await page.evaluate(
    async ({ rounds, warmup, argumentList }) => {
      const worker = new Worker('/worker.js', { type: 'module' });
      // The message by which a function of the thread is called.
      const call = (id: string) =>
        new Promise((resolve) => {
          worker.onmessage = resolve;
          worker.postMessage({
            id,
            type: 'APPLY',
            path: ['listedValues'],
            argumentList: argumentList.map((value) => ({ type: 'RAW', value })),
          });
        });
      const times: number[] = [];
      for (let i = 0; i < warmup + rounds; i++) {
        const start = performance.now();
        await call(String(i));
        if (i >= warmup) times.push(performance.now() - start);
      }
      return times.sort((a, b) => a - b)[rounds >> 1];
    },
    { rounds: ROUNDS, warmup: WARMUP, argumentList: [expiry(), options, { source: 'own', level: null }] },
  );
  await browser.close();
  server.close();
  console.log(
    `the same ladder of ${rungs.length} options: here ${here.toFixed(1)} ms, in the browser's thread ${median.toFixed(1)} ms, its messages and European parts included`,
  );
}
