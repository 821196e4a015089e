import { execFile, execFileSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { afterEach, beforeEach, expect, test } from 'vitest';

/* The script of the private cluster: one that exists is never made again, whoever finds it. */

const run = promisify(execFile);
const isRoot = process.getuid?.() === 0;
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'cluster-'));
  // Any user may read the script.
  chmodSync(folder, 0o755);
  mkdirSync(join(folder, 'scripts'));
  cpSync(fileURLToPath(new URL('../../../scripts/database.sh', import.meta.url)), join(folder, 'scripts/database.sh'));
});
afterEach(async () => {
  await script('stop');
  rmSync(folder, { recursive: true, force: true });
});

async function script(command: string, user?: string): Promise<{ code: number; stderr: string }> {
  const path = join(folder, 'scripts/database.sh');
  const words = user ? ['runuser', '-u', user, '--', path, command] : [path, command];
  const env = { PATH: process.env.PATH, DATA_DIR: join(folder, 'data') };
  return run(words[0], words.slice(1), { env, timeout: 60_000 }).then(
    () => ({ code: 0, stderr: '' }),
    ({ code, stderr }: { code: number; stderr: string }) => ({ code, stderr }),
  );
}
const data = (name: string) => join(folder, 'data', name);

test('a cluster that cannot be read is neither made again nor given another password, and it says what to do', async () => {
  expect(await script('start')).toEqual({ code: 0, stderr: '' });
  await script('stop');
  const password = readFileSync(data('pg-password'), 'utf8');
  execFileSync('mv', [data('pg/data/PG_VERSION'), data('pg/data/PG_VERSION.away')]);
  const broken = await script('start');
  expect(broken).toMatchObject({ code: 1 });
  expect(broken.stderr).toMatch(/cannot be read as a PostgreSQL cluster[^]*Nothing was changed/);
  expect(existsSync(data('pg/data/base'))).toBe(true);
  expect(readFileSync(data('pg-password'), 'utf8')).toBe(password);
  execFileSync('mv', [data('pg/data/PG_VERSION.away'), data('pg/data/PG_VERSION')]);
  execFileSync('mv', [data('pg-password'), data('pg-password.away')]);
  expect((await script('start')).stderr).toMatch(/password of the database[^]*Restore it/);
  execFileSync('mv', [data('pg-password.away'), data('pg-password')]);
  expect(await script('start')).toEqual({ code: 0, stderr: '' });
});

test.runIf(isRoot)(
  'made by root, another user is told whose it is; made by a user, root runs it as that user',
  async () => {
    expect(await script('start')).toEqual({ code: 0, stderr: '' });
    await script('stop');
    const password = readFileSync(data('pg-password'), 'utf8');
    const other = await script('start', 'nobody');
    expect(other).toMatchObject({ code: 1 });
    expect(other.stderr).toMatch(/belongs to postgres[^]*Start as postgres \(or as root\) again/);
    expect(readFileSync(data('pg-password'), 'utf8')).toBe(password);

    rmSync(join(folder, 'data'), { recursive: true });
    mkdirSync(join(folder, 'data'));
    execFileSync('chown', ['nobody', join(folder, 'data')]);
    expect(await script('start', 'nobody')).toEqual({ code: 0, stderr: '' });
    expect(await script('stop', 'nobody')).toEqual({ code: 0, stderr: '' });
    const own = readFileSync(data('pg-password'), 'utf8');
    expect(await script('start')).toEqual({ code: 0, stderr: '' });
    const pid = readFileSync(data('pg/data/postmaster.pid'), 'utf8').split('\n')[0];
    expect(execFileSync('ps', ['-o', 'user=', '-p', pid], { encoding: 'utf8' }).trim()).toBe('nobody');
    expect(readFileSync(data('pg-password'), 'utf8')).toBe(own);
  },
);

test.runIf(isRoot)(
  'under a folder closed to others it lives elsewhere, and a folder that comes in its stead begins anew',
  async () => {
    chmodSync(folder, 0o700);
    // As the supervisor does it: one runs the server while the other looks for it.
    const running = script('run');
    expect(await script('ready')).toEqual({ code: 0, stderr: '' });
    await script('stop');
    await running;
    expect(await script('start')).toEqual({ code: 0, stderr: '' });
    const first = readFileSync(data('pg-place'), 'utf8').trim();
    expect(existsSync(join(first, 'data/PG_VERSION'))).toBe(true);
    expect(await script('start')).toEqual({ code: 0, stderr: '' });
    expect(readFileSync(data('pg-place'), 'utf8').trim()).toBe(first);
    await script('stop');
    rmSync(join(folder, 'data'), { recursive: true });
    expect(await script('start')).toEqual({ code: 0, stderr: '' });
    const second = readFileSync(data('pg-place'), 'utf8').trim();
    expect(second).not.toBe(first);
    expect(existsSync(join(first, 'data/PG_VERSION'))).toBe(true);
    await script('stop');
    for (const place of [first, second]) rmSync(place, { recursive: true });
  },
);
