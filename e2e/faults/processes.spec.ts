import { execFile } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { promisify } from 'node:util';
import fc from 'fast-check';
import { expect, testAlone as test } from '../application.ts';
import { Application, root } from '../running-application.ts';
import { openPage } from '../open-page.ts';

/* The whole ./start, whose processes are killed one after the other: it starts them again by itself, and nothing is lost. */

const KINDS = ['server', 'worker', 'feed', 'database'] as const;
const KILLS = process.env.SOAK ? 50 : KINDS.length;
const SEED = Number(process.env.SOAK_SEED ?? 20310314);
const run = promisify(execFile);

let application: Application | undefined;
const started = async () => (application ??= await Application.start('kills', { workers: 2 }));
test.afterAll(() => application?.stop());
test.use({
  // eslint-disable-next-line no-empty-pattern -- Playwright wants the fixtures it depends on as a pattern
  baseURL: async ({}, use) => use((await started()).address),
});

async function pidOf(application: Application, kind: (typeof KINDS)[number]): Promise<number> {
  if (kind === 'database') {
    const children = readFileSync(`/proc/${application.pid}/task/${application.pid}/children`, 'utf8')
      .trim()
      .split(' ');
    return Number(children.find((pid) => readFileSync(`/proc/${pid}/comm`, 'utf8').trim() === 'postgres'));
  }
  // One that was just killed has given its last sign a moment ago.
  const alive = (await application.processes()).filter((p) => p.kind === kind && p.silentFor < 4 && isAlive(p.pid));
  return alive.at(-1)?.pid ?? NaN;
}
const isAlive = (pid: number) => existsSync(`/proc/${pid}`);

/** Two thousand slices of a file whose import takes a while. */
const INSTANTS = 60;
const file = [
  'underlying,as_of,underlying_price,expiry,side,strike,bid,ask',
  ...Array.from({ length: INSTANTS }, (_, day) =>
    Array.from({ length: 40 }, (_, i) => {
      const at = new Date(Date.UTC(2030, 0, 1 + day, 12)).toISOString();
      return `KILLED,${at},100,2031-06-20,${i % 2 === 0 ? 'call' : 'put'},${80 + (i >> 1) * 2},5,5.5`;
    }).join('\n'),
  ),
].join('\n');

/** Imports the file, again and again until it is answered: whoever sends it loses nothing when the server dies. */
async function importUntilAnswered(address: string): Promise<{ status: string; slices: number }> {
  for (;;) {
    const answer = await fetch(`${address}/api/v1/imports/chains`, {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body: file,
    }).catch(() => undefined);
    if (answer?.ok) return (await answer.json()) as { status: string; slices: number };
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

test(`${KILLS} kills in a drawn order under a live page and an import: all comes back by itself, nothing is lost`, async ({
  page,
  request,
}) => {
  const application = await started();
  await request.post('/api/v1/feed', { data: { action: 'start', speed: 10 } });
  await openPage(page, '/term/VM50?asOf=live');
  const shown = async () => Date.parse((await page.getByRole('banner').locator('time').getAttribute('datetime')) ?? '');
  const moves = async () => {
    const start = await shown();
    await expect.poll(async () => (await shown()) > start).toBe(true);
  };
  await moves();
  const feed = async () =>
    (await (await request.get('/api/v1/feed')).json()) as { sequence: number; instant: string; speed: number };
  const before = await feed();
  const importing = importUntilAnswered(application.address);
  const kinds = fc.sample(fc.constantFrom(...KINDS), { numRuns: KILLS, seed: SEED });
  // Each kind once at least.
  for (const [i, kind] of [...KINDS, ...kinds].slice(0, KILLS).entries()) {
    // It may just be coming back, or its sign of life be a little late.
    let pid = NaN;
    await expect
      .poll(async () => (pid = await pidOf(application, kind)), { message: `${i}: ${kind}` })
      .toBeGreaterThan(1);
    process.kill(pid, 'SIGKILL');
    await expect.poll(() => isAlive(pid), { message: kind }).toBe(false);
    await application.ready();
    if (kind !== 'database') {
      await expect
        .poll(async () =>
          (await application.processes()).some((p) => p.kind === kind && p.pid !== pid && p.silentFor < 4),
        )
        .toBe(true);
    }
    await moves();
  }
  expect(['imported', 'unchanged']).toContain((await importing).status);
  const { imports } = (await (await request.get('/api/v1/imports')).json()) as { imports: { slices: number }[] };
  expect(imports.filter((i) => i.slices > 0)).toMatchObject([{ slices: INSTANTS }]);
  // No wave is missing and none came twice: ten seconds of market time each.
  const after = await feed();
  expect(Date.parse(after.instant) - Date.parse(before.instant)).toBe((after.sequence - before.sequence) * 10_000);
  // Long work goes on, and what a dead worker had is taken up.
  type Group = { group: string; done: number; waiting: number; running: number; failed: number };
  const jobs = async () => ((await (await request.get('/api/v1/jobs')).json()) as { groups: Group[] }).groups;
  await expect.poll(async () => (await jobs()).reduce((sum, g) => sum + g.waiting + g.running, 0)).toBe(0);
  const groups = await jobs();
  expect(groups.map((g) => g.group)).toEqual(expect.arrayContaining(['Demo data', 'Measures of KILLED']));
  for (const { group, done, failed } of groups) expect([failed, done > 0], group).toEqual([0, true]);
  // The page itself was never loaded anew.
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/skew\/VM50/);
});

test('Data lists the processes, and says when work waits without a worker', async ({ page, request }) => {
  const application = await started();
  const stored = await request.post('/api/v1/imports/chains', {
    headers: { 'content-type': 'text/csv' },
    data: 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask\nWAITS,2031-01-02T12:00:00Z,100,2031-06-20,call,100,5,5.5',
  });
  expect(stored.ok(), await stored.text()).toBe(true);
  await openPage(page, '/data');
  const table = page.getByTestId('processes');
  for (const kind of ['server', 'worker', 'feed'])
    await expect(table.getByRole('row', { name: new RegExp(`^${kind}`) }).last()).toContainText('just now');
  // Stopped, the workers give no sign, as if their machine were away.
  const workers = (await application.processes())
    .filter((p) => p.kind === 'worker' && isAlive(p.pid))
    .map((p) => p.pid);
  for (const pid of workers) process.kill(pid, 'SIGSTOP');
  try {
    // Work that nobody does now, whether or not the demo's is done by this time.
    const changed = await request.patch('/api/v1/underlyings/WAITS', { data: { exercise: 'american' } });
    expect(changed.ok(), await changed.text()).toBe(true);
    await expect(page.getByRole('alert').filter({ hasText: 'no worker runs' })).toContainText('npm run worker');
  } finally {
    for (const pid of workers) process.kill(pid, 'SIGCONT');
  }
  await expect(page.getByRole('alert').filter({ hasText: 'no worker runs' })).toBeHidden();
});

test('a second ./start says where the first runs and leaves it alone; a taken port is found before anything is touched', async () => {
  const application = await started();
  const start = (environment: NodeJS.ProcessEnv) => {
    const { DATABASE_URL: _, ...rest } = process.env;
    return run(`${root}start`, [], { env: { ...rest, ...environment } }).then(
      () => ({ code: 0, stderr: '' }),
      (error: { code: number; stderr: string }) => error,
    );
  };
  const before = (await application.processes()).map((p) => p.pid);
  const second = await start({ DATA_DIR: application.folder });
  expect(second).toMatchObject({
    code: 1,
    stderr: expect.stringContaining(`already running at ${application.address}`) as unknown as string,
  });
  const folder = `${application.folder}-other`;
  rmSync(folder, { recursive: true, force: true });
  const port = new URL(application.address).port;
  const taken = await start({ DATA_DIR: folder, PORT: port });
  expect(taken).toMatchObject({
    code: 1,
    stderr: expect.stringContaining(`Port ${port} is in use`) as unknown as string,
  });
  expect(readdirSync(folder)).toEqual(['start.lock']);
  // More than this machine only where that is said, whichever of the two listens.
  const refused = { code: 2, stderr: expect.stringContaining('--open') as unknown as string };
  expect(await start({ DATA_DIR: folder, HOST: '0.0.0.0' })).toMatchObject(refused);
  const serving = run(process.execPath, [`${root}web/build-processes/serve.js`], {
    env: { ...process.env, HOST: '::' },
  });
  expect(await serving.catch((error: unknown) => error)).toMatchObject(refused);
  expect((await application.processes()).map((p) => p.pid)).toEqual(expect.arrayContaining(before));
});

test('the script killed leaves no process behind, and the next start is clean and has everything', async ({
  request,
}) => {
  const first = await started();
  const stored = async (o: Application) =>
    (await (await request.get(`${o.address}/api/v1/underlyings/KILLED`)).json()) as { latest: string };
  const { latest } = await stored(first);
  const pids = [...(await first.processes()).map((p) => p.pid), await pidOf(first, 'database')];
  process.kill(first.pid, 'SIGKILL');
  await expect.poll(() => pids.filter(isAlive)).toEqual([]);
  application = await Application.start('kills', { workers: 2, isKept: true });
  expect((await stored(application)).latest).toBe(latest);
});
