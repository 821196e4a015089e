import { readFileSync } from 'node:fs';
import { get, type IncomingMessage } from 'node:http';

/*
 * Many browsers on the stream of a running application: BASE_URL, SERVER_PID (for its memory), BROWSERS, SECONDS. Fails
 * when one misses the last state or the server's memory grows.
 */

const base = process.env.BASE_URL ?? 'http://127.0.0.1:4173';
const pid = process.env.SERVER_PID;
const browsers = Number(process.env.BROWSERS ?? 200);
const seconds = Number(process.env.SECONDS ?? 120);
const SYMBOLS = ['VM50', 'KELPA', 'TERN', 'RYE', 'MERRO'];
/** One in this many reads more slowly than the waves come: a piece of 64 kB, then a rest. */
const SLOW_EVERY = 10;
const SLOW_REST = 800;
/** What lies in the buffers of a slow one's connection must be read by it before the last state arrives. */
const DRAIN_SECONDS = 150;
/** Growth of the mean memory from the second quarter of the run to the last that still counts as flat. */
const FLAT = 1.15;

interface Client {
  symbol: string;
  isSlow: boolean;
  pictures: number;
  asOf: string;
  bytes: number;
}

function open(index: number): Promise<Client> {
  const client: Client = {
    symbol: SYMBOLS[index % SYMBOLS.length],
    isSlow: index % SLOW_EVERY === 0,
    pictures: 0,
    asOf: '',
    bytes: 0,
  };
  return new Promise((resolve, reject) => {
    get(`${base}/api/v1/stream?topic=${client.symbol}`, (response: IncomingMessage) => {
      response.setEncoding('utf8');
      let rest = '';
      response.on('data', (piece: string) => {
        client.bytes += piece.length;
        rest += piece;
        for (let end = rest.indexOf('\n\n'); end >= 0; end = rest.indexOf('\n\n')) {
          const event = rest.slice(0, end);
          rest = rest.slice(end + 2);
          if (!event.startsWith('event: picture')) continue;
          client.pictures++;
          client.asOf = /"asOf":"([^"]+)"/.exec(event)?.[1] ?? client.asOf;
        }
        if (client.isSlow) {
          response.pause();
          setTimeout(() => response.resume(), SLOW_REST);
        }
      });
      resolve(client);
    }).on('error', reject);
  });
}

const command = (body: object) =>
  fetch(`${base}/api/v1/feed`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  }).then((response) => response.json() as Promise<{ instant: string; sequence: number }>);
const rest = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));
/** Resident memory of the server, MiB. */
const memory = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? NaN) / 1024;

const clients = await Promise.all(Array.from({ length: browsers }, (_, i) => open(i)));
const { sequence: first } = await command({ action: 'start', speed: 1 });
const samples: number[] = [];
for (let second = 0; second < seconds; second++) {
  await rest(1000);
  if (pid) samples.push(memory());
}
await command({ action: 'pause' });
// The wave in the making.
await rest(3000);
const { instant, sequence: last } = (await (await fetch(`${base}/api/v1/feed`)).json()) as {
  instant: string;
  sequence: number;
};
const isLate = (c: Client) => c.asOf !== instant;
const stopped = performance.now();
while (clients.some(isLate) && performance.now() - stopped < 1000 * DRAIN_SECONDS) await rest(250);
const drained = (performance.now() - stopped) / 1000;
const late = clients.filter(isLate);
const fast = clients.filter((c) => !c.isSlow);
const mean = (list: number[]) => list.reduce((sum, v) => sum + v, 0) / list.length;
const quarter = Math.floor(samples.length / 4);
const [early, end] = [mean(samples.slice(quarter, 2 * quarter)), mean(samples.slice(-quarter))];
console.log(
  `${browsers} browsers, ${seconds} s, ${last - first} waves: ${mean(fast.map((c) => c.pictures)).toFixed(0)} pictures each (slow ones ${mean(clients.filter((c) => c.isSlow).map((c) => c.pictures)).toFixed(0)}), ${(clients.reduce((sum, c) => sum + c.bytes, 0) / seconds / 1e6).toFixed(1)} MB/s; last state missed by ${late.length}, the last had it ${drained.toFixed(0)} s after the end`,
);
if (pid) console.log(`server memory ${early.toFixed(0)} MiB in the second quarter, ${end.toFixed(0)} MiB in the last`);
const isFlat = !pid || end < FLAT * early;
if (late.length > 0 || !isFlat) {
  for (const c of late.slice(0, 5))
    console.error(`${c.symbol} shows ${c.asOf || 'nothing'}, the market is at ${instant}`);
  if (!isFlat) console.error('memory grew');
  process.exit(1);
}
process.exit(0);
