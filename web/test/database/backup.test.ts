import { execFile } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { connect, type Connection } from '../../src/lib/server/database/connect.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';

/* The drill of docs/deploy.md: dump, restore into another database, and find the same there. */

const run = promisify(execFile);
const root = fileURLToPath(new URL('../../../', import.meta.url));
let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());

/** The block of the guide's commands that begins with one. */
function commandsOf(first: string): string {
  const guide = readFileSync(join(root, 'docs/deploy.md'), 'utf8');
  const block = /```\n(.*?)```/s.exec(guide.slice(guide.lastIndexOf('```\n', guide.indexOf(first))));
  if (!block) throw new Error(`no commands with ${first}`);
  return block[1];
}

test('what the guide dumps and restores by its own commands holds the same, partitions and all', async () => {
  const rows = [1, 2].map((month) => `MINE,2031-0${month}-14T13:00:00Z,100,2031-06-20,call,100,1,1.2`);
  const file = await spooled(`underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n${rows.join('\n')}`);
  expect(
    await importChain(store.connection, 'local', { files: [file], options: importOptions.parse({}) }),
  ).toMatchObject({ ok: true });
  const [version] = readdirSync('/usr/lib/postgresql').sort().reverse();
  const folder = mkdtempSync(join(tmpdir(), 'dump-'));
  for (const name of ['web', 'node_modules', 'core', 'market']) symlinkSync(join(root, name), join(folder, name));
  const name = `umwelt_restored_${process.pid}`;
  const commands = commandsOf('pg_dump').replaceAll('umwelt_restored', name);
  const restored = store.url.replace(/\/[^/]*$/, `/${name}`);
  let copy: Connection | undefined;
  try {
    const env = {
      ...process.env,
      DATABASE_URL: store.url,
      PATH: `/usr/lib/postgresql/${version}/bin:${process.env.PATH}`,
    };
    await run('bash', ['-euc', commands], { cwd: folder, env });
    copy = connect(restored, { connections: 1 });
    const all = (of: Connection) => of.sql`
      select s.*, u.symbol, t.kind, i.file_name from slices s join underlyings u on u.id = s.underlying_id
      join contract_terms t on t.underlying_id = u.id, imports i order by s.instant`;
    expect(await all(copy)).toEqual(await all(store.connection));
    expect(await all(copy)).toHaveLength(2);
  } finally {
    await copy?.close();
    await store.connection.sql.text(`drop database if exists ${name} with (force)`);
    rmSync(folder, { recursive: true });
  }
});
