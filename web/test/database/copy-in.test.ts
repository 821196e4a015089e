import { afterAll, beforeAll, expect, test } from 'vitest';
import { copyRows } from '../../src/lib/server/database/binary-copy.ts';
import { copyIn } from '../../src/lib/server/database/copy-in.ts';
import { testDatabase, type TestDatabase } from './database.ts';

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
  await store.connection.sql`create table copied (n integer primary key, at timestamptz)`;
});
afterAll(() => store.drop());

const GOOD = '1\t2031-03-14T13:00:00Z\n';

test.each([
  ['the only rows', '1\t0000-01-01T00:00:00Z\n', 1],
  ['rows before many others', '1\tnonsense\n', 20_000],
  ['the last of many', `${GOOD.repeat(1)}`, 1],
])('a COPY that fails by %s says why, and its connection serves on', async (_name, bad, others) => {
  const { sql, transaction } = store.connection;
  // Twice as many as there are connections: none of them may be lost.
  for (let i = 0; i < 10; i++) {
    const failing = transaction(async ({ client }) => {
      const copy = await copyIn(client, 'copy copied from stdin');
      await copy.write(bad);
      for (let n = 0; n < others; n++) await copy.write(`${2 + n}\t2031-03-14T13:00:00Z\n`);
      // The same key again is found out when the last row has come.
      await copy.write(`2\t2031-03-14T13:00:00Z\n`);
      await copy.end();
    });
    await expect(failing).rejects.toThrow(/out of range|invalid input syntax|duplicate key/);
  }
  expect(await sql`select count(*)::int as n from copied`).toMatchObject([{ n: 0 }]);
});

test('one that is given up in the middle keeps nothing, and the connection serves on', async () => {
  const { sql, transaction } = store.connection;
  const given = transaction(async ({ client }) => {
    const copy = await copyIn(client, 'copy copied from stdin');
    await copy.write(GOOD);
    await copy.abort(new Error('the client has gone'));
    throw new Error('the client has gone');
  });
  await expect(given).rejects.toThrow('the client has gone');
  await transaction(({ client }) =>
    copyRows(client, 'copied (n, at)', [
      [
        { type: 'int4', value: 7 },
        { type: 'timestamptz', value: new Date('2031-03-14T13:00:00Z') },
      ],
    ]),
  );
  expect([...(await sql`select n from copied`)]).toEqual([{ n: 7 }]);
});
