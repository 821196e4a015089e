import { connect } from '../../web/src/lib/server/database/connect.ts';
import { copySlices, ensurePartitions, type StoredSlice } from '../../web/src/lib/server/repositories/slices.ts';
import { insertUnderlying } from '../../web/src/lib/server/repositories/underlyings.ts';
import { withOwnDatabase } from './own-database.ts';
import { surfaceSlices } from './surface.ts';

const COUNT = 1000;
const INSTANT = new Date('2031-03-14T16:30:00Z');
const DAY = 86_400_000;

/**
 * How long the workers take to derive a thousand European underlyings of 12 expiries x 60 strikes x 2 sides that are stored:
 * read, derived, measures written, by the queue that also makes measures anew when their derivation changes.
 */
export async function manyFigures(url: string): Promise<void> {
  await withOwnDatabase(url, async ({ own, prepare, startWorkers }) => {
    await prepare();
    const connection = connect(own, { connections: 1 });
    const { sql } = connection;
    await connection.transaction(async ({ sql: inserting, database, client }) => {
      await ensurePartitions(inserting, [INSTANT]);
      for (let n = 0; n < COUNT; n++) {
        const underlyingId = await insertUnderlying(database, {
          symbol: `B${n}`,
          name: `Bench ${n}`,
          sector: 'Bench',
          source: 'import',
          kind: 'index',
          exercise: 'european',
          model: 'spot',
          settlement: 'cash',
          multiplier: 100,
          currency: 'XTS',
          foreignCurrency: null,
          zone: 'UTC',
          sessionClose: '17:30',
          optionTick: 0.01,
          underlyingTick: 0.01,
        });
        await copySlices(client, storedSlices(underlyingId, n), 'user');
      }
    });
    await prepare();
    const start = performance.now();
    startWorkers();
    for (let told = 0; ; await new Promise((resolve) => setTimeout(resolve, 200))) {
      const [{ done }] = await sql<{ done: number }[]>`select count(*)::int as done from derived_measures`;
      const seconds = (performance.now() - start) / 1000;
      if (done === COUNT) {
        console.log(`${COUNT} underlyings derived and stored by the workers in ${seconds.toFixed(1)} s (goal 30 s)`);
        break;
      }
      if (done >= told + COUNT / 5) {
        told = done;
        console.log(`    ${done} after ${seconds.toFixed(1)} s`);
      }
    }
    await connection.close();
  });
}

function storedSlices(underlyingId: number, n: number): StoredSlice[] {
  // No two alike: the level moves by a hundredth of a point.
  return surfaceSlices('European', 0.2 + 1e-4 * n).slices.map((slice, e) => {
    const zeros = () => new Float64Array(slice.strikes.length);
    const { strikes, callBid, callAsk, putBid, putAsk } = slice;
    return {
      underlyingId,
      instant: INSTANT,
      expiry: new Date(INSTANT.getTime() + (7 + 30 * e) * DAY),
      underlyingPrice: 100,
      ...{ strikes, callBid, callAsk, putBid, putAsk },
      ...{ callBidSize: zeros(), callAskSize: zeros(), callLast: zeros(), callVolume: zeros() },
      ...{ callOpenInterest: zeros(), putBidSize: zeros(), putAskSize: zeros(), putLast: zeros() },
      ...{ putVolume: zeros(), putOpenInterest: zeros() },
    };
  });
}
