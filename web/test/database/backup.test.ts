import { execFile } from 'node:child_process';
import { mkdtempSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { connect, type Connection } from '../../src/lib/server/database/connect.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';

/* The drill of docs/deploy.md: dump, restore into another database, and find the same there. */

const run = promisify(execFile);
let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());

test('a dump restored into another database holds the same, partitions and all', async () => {
  const rows = [1, 2].map((month) => `MINE,2031-0${month}-14T13:00:00Z,100,2031-06-20,call,100,1,1.2`);
  const file = await spooled(`underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n${rows.join('\n')}`);
  expect(
    await importChain(store.connection, 'local', { files: [file], options: importOptions.parse({}) }),
  ).toMatchObject({ ok: true });
  const [version] = readdirSync('/usr/lib/postgresql').sort().reverse();
  const tool = (name: string) => `/usr/lib/postgresql/${version}/bin/${name}`;
  const dump = join(mkdtempSync(join(tmpdir(), 'dump-')), 'umwelt.dump');
  await run(tool('pg_dump'), ['--format=custom', `--file=${dump}`, store.url]);
  const restored = `${store.url}_restored`;
  const name = restored.slice(restored.lastIndexOf('/') + 1);
  const { sql } = store.connection;
  await sql.text(`create database ${name}`);
  const copy = connect(restored, { connections: 1 });
  try {
    await run(tool('pg_restore'), ['--no-owner', `--dbname=${restored}`, dump]);
    const all = (of: Connection) => of.sql`
      select s.*, u.symbol, t.kind, i.file_name from slices s join underlyings u on u.id = s.underlying_id
      join contract_terms t on t.underlying_id = u.id, imports i order by s.instant`;
    expect(await all(copy)).toEqual(await all(store.connection));
    expect(await all(copy)).toHaveLength(2);
  } finally {
    await copy.close();
    await sql.text(`drop database ${name} with (force)`);
  }
});
