import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { isoInZone } from '@umwelt/market/zone';
import { asOfContext } from '../../web/src/lib/api/as-of-context.ts';
import { connect } from '../../web/src/lib/server/database/connect.ts';
import { tenorMeasures } from '../../web/src/lib/server/repositories/measures.ts';
import { slicesAt, storedInstants } from '../../web/src/lib/server/repositories/slices.ts';
import { findUnderlying } from '../../web/src/lib/server/repositories/underlyings.ts';
import { carryAt } from '../../web/src/lib/server/services/carry-at.ts';
import { pastSessions } from '../../web/src/lib/server/services/measure-history.ts';
import { loadPicture } from '../../web/src/lib/server/services/picture.ts';

const SYMBOLS = ['VM50', 'KELPA', 'TERN', 'RYE'];
const YEAR = 365 * 86_400_000;

/** Address of the database: of the environment, or of the running ./start. */
export function databaseUrl(): string | undefined {
  if (process.env.DATABASE_URL) return process.env.DATABASE_URL;
  const path = fileURLToPath(new URL('../../.data/database-url', import.meta.url));
  return existsSync(path) ? readFileSync(path, 'utf8') : undefined;
}

/** Times of single calls, milliseconds; the first few are left out. */
async function timesOf(calls: (() => Promise<unknown>)[]): Promise<number[]> {
  const times: number[] = [];
  for (const [i, call] of calls.entries()) {
    const start = performance.now();
    await call();
    if (i >= 5) times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b);
}

function print(name: string, times: number[], goal: number): void {
  const median = times[times.length >> 1];
  const tail = times[Math.floor(0.95 * times.length)];
  const reached = median <= goal ? 'reached' : 'MISSED';
  console.log(
    `${name}: median ${median.toFixed(1)} ms, 95 % below ${tail.toFixed(1)} ms (${times.length} calls, goal ${goal} ms: ${reached})`,
  );
}

/** Reading the demo that is stored: run ./start first and let its demo fill. */
export async function marketFigures(): Promise<void> {
  const url = databaseUrl();
  if (!url) {
    console.log('market: no database; run ./start first');
    return;
  }
  const connection = connect(url, { connections: 4 });
  const { database, sql } = connection;
  const [size] = await sql<{ size: string; slices: string; bytes: string; count: number }[]>`
    select pg_size_pretty(pg_database_size(current_database())) as size,
      pg_size_pretty(sum(pg_total_relation_size(relid))) as slices, sum(pg_total_relation_size(relid)) as bytes,
      (select count(*)::int from slices) as count
    from pg_partition_tree('slices') where isleaf`;
  console.log(
    `database ${size.size}, of it slices ${size.slices}: ${size.count} slices, ${Math.round(Number(size.bytes) / size.count)} bytes each`,
  );
  const state: (() => Promise<unknown>)[] = [];
  const year: (() => Promise<unknown>)[] = [];
  const picture: (() => Promise<unknown>)[] = [];
  let asked = 0;
  for (const symbol of SYMBOLS) {
    const underlying = await findUnderlying(database, symbol);
    if (!underlying) continue;
    const instants = (await storedInstants(database, underlying.id)).filter((_, i) => i % 7 === 0);
    for (const instant of instants) {
      state.push(() =>
        Promise.all([
          slicesAt(database, underlying.id, instant),
          carryAt(database, underlying, instant),
          pastSessions(database, underlying, instant),
        ]),
      );
      const from = new Date(instant.getTime() - YEAR);
      year.push(() => tenorMeasures(database, { underlyingId: underlying.id, tenor: 2, from, to: instant }));
      const context = asOfContext.parse({ asOf: isoInZone(instant.getTime(), underlying.zone) });
      // Put back is a quote that is not there: a picture that nobody has asked for yet, made as any other.
      picture.push(() => {
        const restored = [{ expiry: '1999-01-01', strike: ++asked, side: 'call' as const }];
        return loadPicture(database, symbol, { ...context, restored });
      });
    }
  }
  print('whole state of an underlying at an instant', await timesOf(state), 15);
  print('a year of the 30-day measures', await timesOf(year), 5);
  print('picture, read and derived anew', await timesOf(picture), 150);
  await connection.close();
}
