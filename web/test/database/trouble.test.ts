import { writeFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { connect } from '../../src/lib/server/database/connect.ts';
import { TooBusy } from '../../src/lib/server/derive/fair-turns.ts';
import { troubleOf } from '../../src/lib/server/http/trouble.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { listImports } from '../../src/lib/server/repositories/imports.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';

/* Errors as the system and the database really raise them, in words for who asked. */

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());

async function errorOf(work: () => unknown): Promise<unknown> {
  try {
    await work();
  } catch (error) {
    return error;
  }
  throw new Error('nothing failed');
}

test('a full disk is said to be full', async () => {
  // The kernel's own device for that.
  const error = await errorOf(() => writeFileSync('/dev/full', 'x'));
  expect(troubleOf(error)).toMatchObject({
    status: 507,
    type: 'no-space',
    detail: expect.stringMatching(/disk is full/),
  });
});

test('a read-only database is said to be read-only, by an import too', async () => {
  const name = store.url.slice(store.url.lastIndexOf('/') + 1);
  await store.connection.sql.text(`alter database ${name} set default_transaction_read_only = on`);
  const readOnly = connect(store.url, { connections: 1 });
  const file = await spooled(
    'underlying,as_of,underlying_price,expiry,side,strike,bid,ask\nA,2031-03-14T13:00:00Z,100,2031-06-20,call,100,1,1.2',
  );
  const error = await errorOf(() =>
    importChain(readOnly, 'local', { files: [file], options: importOptions.parse({}) }),
  );
  expect(troubleOf(error)).toMatchObject({ status: 503, type: 'read-only' });
  await readOnly.close();
  await store.connection.sql.text(`alter database ${name} reset default_transaction_read_only`);
});

test('a database that is away is said to be away, through the query builder too; an unknown error is none of these', async () => {
  const away = connect('postgres://nobody@127.0.0.1:1/none', { connections: 1 });
  const error = await errorOf(() => listImports(away.database, 'local'));
  expect(troubleOf(error)).toMatchObject({ status: 503, type: 'database-away' });
  expect(troubleOf(new TooBusy(7))).toMatchObject({ status: 503, type: 'busy' });
  expect(troubleOf(new RangeError('something else'))).toBeUndefined();
  await away.close();
});
