import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { tableImport } from '../../src/lib/api/table-export.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { importTable } from '../../src/lib/server/imports/import-table.ts';
import { undoImport } from '../../src/lib/server/imports/undo-import.ts';
import {
  compactDataChanges,
  pictureVersion,
  underlyingsVersion,
} from '../../src/lib/server/repositories/data-version.ts';
import { findUnderlying, type StoredUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { removeInstants, removeUnderlying } from '../../src/lib/server/services/change-underlying.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';

/* The database counts what is changed, and every cache of every process goes by that: none has to be told. */

type Service = typeof import('../../src/lib/server/services/picture.ts');

let store: TestDatabase;
/** The service as two processes have it, each with caches of its own. */
let one: Service;
let other: Service;
beforeAll(async () => {
  store = await testDatabase();
  one = await import('../../src/lib/server/services/picture.ts');
  vi.resetModules();
  other = await import('../../src/lib/server/services/picture.ts');
  expect(other.loadPicture).not.toBe(one.loadPicture);
});
afterAll(() => store.drop());

/** A chain whose values stand so much above their intrinsic value, at noons of March 2031. */
function chain(symbol: string, days: readonly number[], above: number): string {
  const lines = days.flatMap((day) =>
    [90, 95, 100, 105, 110].flatMap((strike) =>
      (['call', 'put'] as const).map((side) => {
        const value = Math.max(0, side === 'call' ? 100 - strike : strike - 100) + above;
        const at = `2031-03-${String(day).padStart(2, '0')}T12:00:00Z`;
        return `${symbol},${at},100,2031-06-20,${side},${strike},${value.toFixed(2)},${(value + 0.1).toFixed(2)}`;
      }),
    ),
  );
  return ['underlying,as_of,underlying_price,expiry,side,strike,bid,ask', ...lines].join('\n');
}

async function storeChain(symbol: string, days: readonly number[], above: number): Promise<string> {
  const files = [await spooled(chain(symbol, days, above))];
  const outcome = await importChain(store.connection, 'local', { files, options: importOptions.parse({}) });
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.failure));
  return outcome.result.id ?? '';
}

async function storedOf(symbol: string): Promise<StoredUnderlying> {
  const found = await findUnderlying(store.connection.database, symbol);
  if (!found) throw new Error(symbol);
  return found;
}

const noon = (day: number) => new Date(Date.UTC(2031, 2, day, 12));
const versionAt = async (symbol: string, day: number) =>
  pictureVersion(store.connection.database, await storedOf(symbol), noon(day));

async function levelOf(service: Service, symbol: string, day: number): Promise<number> {
  const context = asOfContext.parse({ asOf: noon(day).toISOString() });
  const loaded = await service.loadPicture(store.connection.database, symbol, context);
  if (!loaded.ok) throw new Error(loaded.reason);
  return loaded.picture.expiries[0].atm ?? NaN;
}

test('a version changes with what is seen at an instant, and not with what comes later or belongs to another', async () => {
  const { database } = store.connection;
  await storeChain('NEAR', [3, 4], 3);
  await storeChain('FARA', [3], 3);
  const [third, fourth, others] = [await versionAt('NEAR', 3), await versionAt('NEAR', 4), await versionAt('FARA', 3)];
  const all = await underlyingsVersion(database);

  await storeChain('NEAR', [5], 3);
  expect([await versionAt('NEAR', 3), await versionAt('NEAR', 4), await underlyingsVersion(database)]).toEqual([
    third,
    fourth,
    all,
  ]);

  const replaced = await storeChain('NEAR', [4], 4);
  expect(await versionAt('NEAR', 3)).toBe(third);
  const after = await versionAt('NEAR', 4);
  expect(after).not.toBe(fourth);
  await undoImport(store.connection, 'local', replaced);
  expect(await versionAt('NEAR', 4)).not.toBe(after);

  // A curve is of all underlyings in its currency, from its session on.
  const { currency } = await storedOf('FARA');
  const before = await versionAt('FARA', 3);
  expect(before).toBe(others);
  const curve = (session: string) => `currency,session,days,rate\n${currency},${session},30,0.03`;
  const imported = async (session: string) =>
    importTable(store.connection, 'local', {
      table: 'rates',
      file: await spooled(curve(session)),
      options: tableImport.parse({}),
    });
  expect(await imported('2031-03-20')).toMatchObject({ ok: true });
  expect(await versionAt('FARA', 3)).toBe(before);
  expect(await imported('2031-02-20')).toMatchObject({ ok: true });
  expect(await versionAt('FARA', 3)).not.toBe(before);

  // Of one transaction the earliest change counts, whichever came first.
  const { id } = await storedOf('NEAR');
  const earliest = await versionAt('NEAR', 3);
  await store.connection.transaction(async ({ sql }) => {
    for (const day of [5, 3, 4])
      await sql`update slices set underlying_price = 100.5 where underlying_id = ${id} and instant = ${noon(day).toISOString()}`;
  });
  expect(Number(await versionAt('NEAR', 3))).toBe(Number(earliest) + 1);

  // What is taken back by the database itself has not changed anything.
  const quiet = await versionAt('FARA', 3);
  await database
    .transaction(async (transaction) => {
      await removeInstants(transaction as unknown as typeof database, 'FARA', [noon(3)]);
      throw new Error('rolled back');
    })
    .catch(() => undefined);
  expect(await versionAt('FARA', 3)).toBe(quiet);
});

test('an instant that is appended leaves what was derived before it as it is, but for its neighbours', async () => {
  await storeChain('TAIL', [3, 4], 3);
  const level = await levelOf(one, 'TAIL', 3);
  // Quotes that become others behind the triggers' back: whoever derives again would see them.
  await store.connection.transaction(async ({ sql }) => {
    await sql`set local session_replication_role = replica`;
    await sql`update slices set call_bid = array(select b + 2 from unnest(call_bid) b), call_ask = array(select a + 2 from unnest(call_ask) a),
      put_bid = array(select b + 2 from unnest(put_bid) b), put_ask = array(select a + 2 from unnest(put_ask) a)
      where underlying_id = ${(await storedOf('TAIL')).id}`;
  });
  await storeChain('TAIL', [5], 3);
  const loaded = await one.loadPicture(
    store.connection.database,
    'TAIL',
    asOfContext.parse({ asOf: noon(3).toISOString() }),
  );
  if (!loaded.ok) throw new Error(loaded.reason);
  expect(loaded.picture.expiries[0].atm).toBe(level);
  expect(Date.parse(loaded.picture.latest)).toBe(noon(5).getTime());
  // The one that has not been derived yet is made of what is stored now.
  expect(await levelOf(one, 'TAIL', 4)).toBeGreaterThan(level + 0.02);
});

test('two processes on one database agree at the next request, whoever changed it', async () => {
  await storeChain('BOTH', [3, 4], 3);
  const first = await levelOf(one, 'BOTH', 4);
  expect(await levelOf(other, 'BOTH', 4)).toBe(first);
  const id = await storeChain('BOTH', [4], 5);
  const second = await levelOf(one, 'BOTH', 4);
  expect(second).toBeGreaterThan(first + 0.02);
  expect(await levelOf(other, 'BOTH', 4)).toBe(second);
  await undoImport(store.connection, 'local', id);
  expect([await levelOf(one, 'BOTH', 4), await levelOf(other, 'BOTH', 4)]).toEqual([first, first]);
  // An instant that is new, and an underlying that is gone.
  await storeChain('BOTH', [5], 6);
  expect(await levelOf(other, 'BOTH', 5)).toBeGreaterThan(second);
  await removeUnderlying(store.connection, 'BOTH');
  await expect(levelOf(one, 'BOTH', 4)).rejects.toThrow('unknown-underlying');
  await expect(levelOf(other, 'BOTH', 4)).rejects.toThrow('unknown-underlying');
});

test('a derivation under way while quotes are replaced does not bring the old back', async () => {
  await storeChain('RACE', [3], 3);
  const old = await levelOf(other, 'RACE', 3);
  for (const above of [4, 5, 6]) {
    const underWay = levelOf(one, 'RACE', 3);
    const [, during] = await Promise.all([storeChain('RACE', [3], above), underWay]);
    const after = await levelOf(one, 'RACE', 3);
    expect(after).toBeGreaterThan(old + 0.02 * (above - 3));
    expect([await levelOf(one, 'RACE', 3), await levelOf(other, 'RACE', 3)]).toEqual([after, after]);
    expect(during).toBeLessThanOrEqual(after);
  }
});

test('changes that are put together are forgotten too much rather than too little', async () => {
  const { database, sql } = store.connection;
  await storeChain('MANY', [3], 3);
  const { id } = await storedOf('MANY');
  for (let n = 0; n < 60; n++) await sql`update slices set underlying_price = ${100 + n} where underlying_id = ${id}`;
  const [late, early] = [await versionAt('MANY', 10), await versionAt('NEAR', 3)];
  await compactDataChanges(database);
  const [{ rows }] = await sql<{ rows: number }[]>`
    select count(*)::int as rows from data_changes where subject = ${`underlying ${id}`} and "table" = 'slices'`;
  expect(rows).toBe(1);
  expect(await versionAt('MANY', 10)).toBe(late);
  expect(await versionAt('NEAR', 3)).toBe(early);
  await sql`update slices set underlying_price = 1 where underlying_id = ${id}`;
  expect(Number(await versionAt('MANY', 10))).toBe(Number(late) + 1);
});
