import { execFileSync, spawn } from 'node:child_process';
import { createHash, randomInt } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join, relative } from 'node:path';

/*
 * What ./test runs once database and packages are there: run-tests.js [--soak] [PATH...]. Stages run side by side where neither needs
 * the other; each says how long it took and how much of the processors. What a stage prints is kept, and shown where it fails.
 */

const USAGE =
  'usage: ./test [--soak] [PATH...]   a PATH is a file or folder of tests, such as core/test/pricing or e2e/level';
const words = process.argv.slice(2);
const isSoak = words.includes('--soak');
const asked = words.filter((word) => word !== '--soak').map((path) => relative('.', path));
const scratch = process.env.DATA_DIR;

/** Kinds of tests by the folder that they stand in, the narrowest first. */
const KINDS = [
  ['http', /^e2e\/http\b/],
  ['faults', /^e2e\/faults\b/],
  ['browser', /^e2e\b/],
  ['unit', /^(core|market|web)\b/],
];
const kindOf = (path) => KINDS.find(([, places]) => places.test(path))?.[0];
const unknown = asked.find((path) => !kindOf(path));
if (unknown !== undefined || words.some((word) => word.startsWith('-') && word !== '--soak')) {
  console.error(USAGE);
  process.exit(2);
}
/** What was asked for of a kind; undefined where other things were, all of it where nothing was. */
const askedOf = (kind) => {
  const paths = asked.filter((path) => kindOf(path) === kind || (path === 'e2e' && kind !== 'unit'));
  return asked.length === 0 || paths.length > 0 ? paths.filter((path) => path !== 'e2e') : undefined;
};

/** The usual run draws the same for everybody who looks at the same commit, the long one anew. */
const seed = isSoak ? randomInt(2 ** 31) : Number.parseInt(commit().slice(0, 7), 16);

function commit() {
  try {
    return execFileSync('git', ['rev-parse', 'HEAD'], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
  } catch {
    return '1'; // a tree without its history
  }
}

/** What the made market depends on: what makes it, stores it and derives from it. */
const MADE_BY = ['core/src', 'market/src', 'web/src/lib/api', 'web/src/lib/market', 'web/src/lib/server'].concat(
  ['web/scripts', 'web/drizzle', 'web/demo-measures', 'web/test/database/make-templates.ts', 'e2e/files'],
  ['package-lock.json'],
);

function digestOf(paths) {
  const hash = createHash('sha256');
  const add = (path) => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) add(join(path, name));
    else hash.update(path).update(readFileSync(path));
  };
  for (const path of paths) if (existsSync(path)) add(path);
  return hash.digest('hex').slice(0, 12);
}

const digest = digestOf(MADE_BY);
const made = {
  TEMPLATE_EMPTY: `template_empty_${digestOf(['web/drizzle'])}`,
  TEMPLATE_TODAY: `template_today_${digest}`,
  TEMPLATE_SMALL: `template_small_${digest}`,
  TEST_PICTURES: join(scratch, `pictures-${digest}`),
};
const templates = [
  `empty=${made.TEMPLATE_EMPTY}`,
  `today=${made.TEMPLATE_TODAY}`,
  `small=${made.TEMPLATE_SMALL}`,
  `pictures=${made.TEST_PICTURES}`,
];

const children = new Set();
const results = [];
let isEnding = false;

/** Runs a command to its end, with its output in a file; the last line that its shell says is what it used of the processors. */
function run(name, [command, ...args], env) {
  return new Promise((done) => {
    const timed = 'TIMEFORMAT="%U %S"; time "$@" >>"$0" 2>&1';
    const child = spawn('bash', ['-c', timed, logOf(name), command, ...args], {
      env: { ...process.env, ...made, NO_COLOR: '1', TEST_SEED: String(seed), ...env },
      stdio: ['ignore', 'ignore', 'pipe'],
      detached: true,
    });
    children.add(child);
    let said = '';
    child.stderr.on('data', (piece) => (said += piece));
    child.once('close', (status) => {
      children.delete(child);
      const used = said.trim().split('\n').at(-1)?.split(' ').map(Number) ?? [];
      done({ isWell: status === 0, used: used.reduce((sum, seconds) => sum + seconds, 0) });
    });
  });
}
const logOf = (name) => join(scratch, `${name}.log`);

/** Runs commands of a stage one after the other; the first that fails ends it. */
async function stage(name, commands, env = {}) {
  rmSync(logOf(name), { force: true });
  const began = Date.now();
  let used = 0;
  let isWell = true;
  for (const command of commands) {
    if (!isWell || isEnding) break;
    const result = await run(name, command, env);
    used += result.used;
    isWell = result.isWell;
  }
  const seconds = (Date.now() - began) / 1000;
  results.push({ name, isWell, seconds, used });
  const times = `${seconds.toFixed(0).padStart(5)} s ${used.toFixed(0).padStart(6)} s of CPU`;
  if (isEnding) return false;
  console.log(`${isWell ? 'ok   ' : 'FAIL '} ${name.padEnd(14)} ${times}`);
  if (!isWell) console.log(tailOf(logOf(name)));
  return isWell;
}

const tailOf = (path) => (existsSync(path) ? readFileSync(path, 'utf8').split('\n').slice(-80).join('\n') : '');
const npm = (script, ...args) => ['npm', 'run', '-s', script, ...args];
const vitest = (report, ...args) => [
  ...['node_modules/.bin/vitest', 'run', '--reporter=default', '--reporter=json'],
  ...[`--outputFile.json=${join(scratch, `${report}.json`)}`, ...args],
];
const UNIT = ['core', 'market', 'web', 'database', 'page'].flatMap((project) => ['--project', project]);
const playwright = (project, paths) => [
  ...['node_modules/.bin/playwright', 'test', '-c', 'e2e', `--project=${project}`],
  ...paths.map((path) => path.replace(/^e2e\//, '')),
];
const reported = (name) => ({ PLAYWRIGHT_JSON_OUTPUT_NAME: join(scratch, `${name}.json`) });

async function statics() {
  if (asked.length > 0) return;
  await stage('format', [npm('check:format')]);
  await stage('lint', [npm('check:lint')]);
  await stage('types', [npm('check:types')]);
  await stage('layers', [npm('check:layers')]);
  await stage('unused', [npm('check:unused')]);
}

async function tests(env = {}, suffix = '') {
  const isPrepared = (async () => {
    if (!(await bundled)) return false;
    return stage(`market${suffix}`, [['node', 'web/build-processes/make-templates.js', ...templates]]);
  })();
  const isBuilt = (async () => {
    if (!(await bundled)) return false;
    const needsServer = ['http', 'faults', 'browser'].some((kind) => askedOf(kind));
    return !needsServer || stage(`build${suffix}`, [['scripts/build.sh', 'server']]);
  })();
  const unit = (async () => {
    const paths = askedOf('unit');
    if (paths && (await isPrepared)) await stage(`unit${suffix}`, [vitest(`unit${suffix}`, ...UNIT, ...paths)], env);
  })();
  const outside = (async () => {
    if (!(await isPrepared) || !(await isBuilt)) return;
    const [http, faults] = [askedOf('http'), askedOf('faults')];
    if (http) await stage(`http${suffix}`, [vitest(`http${suffix}`, '--project', 'http', ...http)], env);
    // What kills and cuts waits for most of its time. It stops the database, too: that is one of its own.
    const name = `faults${suffix}`;
    const copy = ['scripts/copy-template.sh', process.env.DATABASE_URL, made.TEMPLATE_SMALL];
    const own = { ...env, ...reported(name), DATA_DIR: join(scratch, 'faults') };
    if (faults) await stage(name, [copy, playwright('faults', faults)], own);
  })();
  await unit;
  const paths = askedOf('browser');
  const name = `browser${suffix}`;
  if (paths && (await isPrepared) && (await isBuilt))
    await stage(name, [playwright('tasks', paths)], { ...env, ...reported(name) });
  await outside;
}

/** The long runs that are no tests by name. */
async function soak() {
  // What the fast checker says of types, by the compiler that the editors run.
  await stage('types-tsc', [npm('check:types-tsc')]);
  await stage('whole-demo', [['node', 'web/build-processes/make-templates.js', `whole=whole`]]);
  await stage('stream', [['scripts/soak-stream.sh', 'whole']]);
  console.log(tailOf(logOf('stream')));
  await tests({ SOAK: '1', FAST_CHECK_SEED: String(seed) }, '-soak');
}

/** What the reporters wrote: a file, how long it took, and its tests by how they ended. */
function reports() {
  const files = [];
  for (const { name } of results) {
    const path = join(scratch, `${name}.json`);
    if (!existsSync(path)) continue;
    const report = JSON.parse(readFileSync(path, 'utf8'));
    for (const file of report.testResults ?? []) files.push(fileOfVitest(file));
    for (const suite of report.suites ?? []) files.push(fileOfPlaywright(suite));
  }
  return files;
}

function fileOfVitest({ name, startTime, endTime, assertionResults, status }) {
  const count = (wanted) => assertionResults.filter((test) => test.status === wanted).length;
  const failed = count('failed') || (status === 'failed' ? 1 : 0); // one whose set-up failed has no tests
  const skipped = assertionResults.length - count('passed') - count('failed');
  return { name: relative('.', name), seconds: (endTime - startTime) / 1000, passed: count('passed'), failed, skipped };
}

function fileOfPlaywright(suite) {
  const specs = (s) => [...(s.specs ?? []), ...(s.suites ?? []).flatMap(specs)];
  const all = specs(suite).flatMap((spec) => spec.tests);
  const count = (wanted) => all.filter((test) => test.status === wanted).length;
  const milliseconds = all.flatMap((test) => test.results).reduce((sum, result) => sum + result.duration, 0);
  const [passed, skipped] = [count('expected') + count('flaky'), count('skipped')];
  return {
    name: `e2e/${suite.file}`,
    seconds: milliseconds / 1000,
    passed,
    failed: all.length - passed - skipped,
    skipped,
  };
}

function summary() {
  const files = reports();
  const sum = (of) => files.reduce((total, file) => total + file[of], 0);
  const slowest = files.toSorted((a, b) => b.seconds - a.seconds).slice(0, 10);
  console.log('\nslowest files');
  for (const { name, seconds, passed } of slowest)
    console.log(`${seconds.toFixed(1).padStart(8)} s  ${name} (${passed} tests)`);
  const used = results.reduce((total, stageOf) => total + stageOf.used, 0);
  console.log(`\n${files.length} files, ${(used / 60).toFixed(1)} min of CPU, database apart; seed ${seed}`);
  const fallen = results.filter((r) => !r.isWell);
  if (fallen.length > 0) console.log(`failed: ${fallen.map((r) => r.name).join(', ')}`);
  // A stage that failed without a failed test of its own counts as one.
  const failed = Math.max(sum('failed'), fallen.length);
  console.log(`${sum('passed')} passed, ${failed} failed${sum('skipped') > 0 ? `, ${sum('skipped')} skipped` : ''}`);
  return failed === 0 ? 0 : 1;
}

for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    isEnding = true;
    for (const { pid } of children) {
      try {
        process.kill(-pid, 'SIGTERM');
      } catch {
        // It has ended by itself.
      }
    }
  });

for (const name of readdirSync(scratch)) if (/\.json$/.test(name)) rmSync(join(scratch, name));
if (asked.length === 0) console.log(`seed ${seed}${isSoak ? ', drawn' : ', of the commit'}`);
const bundled = stage('processes', [
  ['scripts/build.sh', 'processes'],
  ['node', 'web/test/database/bundle-scripts.js'],
]);
await Promise.all([tests(), bundled.then(statics)]);
if (isSoak && !isEnding) await soak();
process.exit(isEnding ? 130 : summary());
