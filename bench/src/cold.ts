import { loopDelay, pause } from './loop-delay.ts';

/*
 * Twenty surfaces that nobody has asked for yet, asked for at once, against a running ./start whose server tells its event loop's
 * delay, as for load.ts.
 */

const SYMBOLS = ['VM50', 'VFUND', 'VMQ', 'KELPA', 'MERRO', 'TYNDA', 'SKALD', 'TERN', 'RYE', 'ORVEN', 'PELAG', 'TIDEW'];
const SURFACES = 20;
const ROUNDS = 5;
const IDLE_SECONDS = 5;

export async function coldFigures(): Promise<void> {
  const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
  await loopDelay();
  await pause(1000 * IDLE_SECONDS);
  const idle = await loopDelay();
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const start = performance.now();
    await Promise.all(
      Array.from({ length: SURFACES }, async (_, i) => {
        // Put back is a quote that is not there: a surface that nobody has asked for, made as any other.
        const restored = `2031-04-18/${1 + i + SURFACES * round}.${process.pid}/call`;
        const symbol = SYMBOLS[i % SYMBOLS.length];
        const response = await fetch(`${base}/api/v1/underlyings/${symbol}/surface?restored=${restored}`);
        if (!response.ok) throw new Error(`${symbol}: ${response.status}`);
        await response.text();
      }),
    );
    times.push(performance.now() - start);
  }
  const loaded = await loopDelay();
  times.sort((a, b) => a - b);
  console.log(`${SURFACES} cold surfaces at once: median of ${ROUNDS} ${times[ROUNDS >> 1].toFixed(0)} ms`);
  if (idle && loaded)
    console.log(
      `    event loop's delay: idle p99 ${idle.p99.toFixed(1)} ms, meanwhile p50 ${loaded.p50.toFixed(1)}, p99 ${loaded.p99.toFixed(1)}, longest ${loaded.max.toFixed(1)} ms (goal: p99 within 50 ms of idle: ${loaded.p99 - idle.p99 <= 50 ? 'reached' : 'MISSED'})`,
    );
}
