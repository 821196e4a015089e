import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { killAll, startProcess, until } from './processes.ts';
import { spooled } from './spooled.ts';

/* Overwriting, taking back and deleting under kill -9: one of the two states, never a mixture. */

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterEach(killAll);
afterAll(() => store.drop());

const INSTANTS = 30;
const STRIKES = 40;
const fileOf = (bid: number) =>
  [
    'underlying,as_of,underlying_price,expiry,side,strike,bid,ask',
    ...Array.from({ length: INSTANTS }, (_, day) =>
      Array.from({ length: STRIKES }, (_, i) => {
        const at = new Date(Date.UTC(2030, 0, 1 + day, 12)).toISOString();
        return `KILLED,${at},100,2031-06-20,${i % 2 === 0 ? 'call' : 'put'},${80 + i},${bid},${bid + 1}`;
      }).join('\n'),
    ),
  ].join('\n');

/** Bids of all slices by instant, each once: a mixture has more than one. */
async function bids(): Promise<{ instants: number; bids: number[]; underlyings: number }> {
  const [row] = await store.connection.sql<{ instants: number; bids: number[] | null; underlyings: number }[]>`
    select count(distinct s.instant)::int as instants, array_agg(distinct b) filter (where b <> 'NaN') as bids,
      (select count(*)::int from underlyings) as underlyings
    from slices s cross join lateral unnest(s.call_bid || s.put_bid) b`;
  return { ...row, bids: row.bids ?? [] };
}

/** Does something in a process that is killed after some time; tells whether it said that it was done. */
async function killedAfter(milliseconds: number, ...args: string[]): Promise<boolean> {
  const child = startProcess('killed', store.url, ...args);
  let said = '';
  child.stdout?.on('data', (piece: Buffer) => (said += piece.toString()));
  await until(() => Promise.resolve(said.includes('begins')));
  const isOver = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  await Promise.race([isOver, new Promise((resolve) => setTimeout(resolve, milliseconds))]);
  child.kill('SIGKILL');
  await isOver;
  return said.includes('done');
}

test('an overwriting import, its undoing and a deletion that are killed leave what was or what was to be', async () => {
  const options = importOptions.parse({ fileName: 'first.csv' });
  const first = await importChain(store.connection, 'local', { files: [await spooled(fileOf(5))], options });
  expect(first).toMatchObject({ ok: true, result: { newSlices: INSTANTS } });
  const folder = mkdtempSync(join(tmpdir(), 'killed-'));
  writeFileSync(join(folder, 'second.csv'), fileOf(6));
  const whole = { instants: INSTANTS, underlyings: 1 };
  const outcomes = new Set<number>();
  // From at once to long enough to be done.
  for (const after of [0, 150, 400, 700, 1200, 60_000]) {
    const isDone = await killedAfter(after, 'import', join(folder, 'second.csv'));
    const found = await bids();
    expect(found, `import killed after ${after}`).toMatchObject(whole);
    expect(found.bids).toHaveLength(1);
    if (isDone) expect(found.bids).toEqual([6]);
    outcomes.add(found.bids[0]);
    const [last] = await store.connection.sql<{ id: string; undo: string }[]>`
      select id, undo from imports order by sequence desc limit 1`;
    const isListed = (await store.connection.sql`select 1 from imports where undo = 'possible'`).length;
    expect(isListed).toBe(found.bids[0] === 6 ? 2 : 1);
    if (found.bids[0] !== 6) continue;
    // Taken back, killed in the middle, and again until it is done.
    for (const undoAfter of [100, 300, 60_000]) {
      const isUndone = await killedAfter(undoAfter, 'undo', last.id);
      const back = await bids();
      expect(back, `undo killed after ${undoAfter}`).toMatchObject(whole);
      expect(back.bids).toHaveLength(1);
      if (isUndone) expect(back.bids).toEqual([5]);
      if (back.bids[0] === 5) break;
    }
  }
  expect(outcomes).toEqual(new Set([5, 6]));
  for (const after of [50, 60_000]) {
    await killedAfter(after, 'delete', 'KILLED');
    const left = await bids();
    expect([
      { ...whole, bids: [5] },
      { instants: 0, underlyings: 0, bids: [] },
    ]).toContainEqual(left);
  }
  expect((await bids()).underlyings).toBe(0);
});
