import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Timing } from './measure.ts';

const FOLDER = fileURLToPath(new URL('../baseline', import.meta.url));
const OUTPUT = fileURLToPath(new URL('../../.data/bench', import.meta.url));
const PACKAGES = {
  'g++': '/usr/bin/g++',
  make: '/usr/bin/make',
  'libquantlib0-dev': '/usr/include/ql/quantlib.hpp',
  'libboost-dev': '/usr/include/boost/version.hpp',
};
/** Prices of the high-precision scheme, one a line, computed once. */
export const AMERICAN_REFERENCE = join(OUTPUT, 'american-reference.txt');
const PROGRAMS = ['a_bsm', 'b_iv', 'c_american', 'd_svi', 'e_chain'] as const;
export type Program = (typeof PROGRAMS)[number];

/** Builds the baseline, installing what it needs when that is allowed; false when it cannot be had here. */
export function buildBaseline(): boolean {
  const missing = Object.entries(PACKAGES).flatMap(([name, proof]) => (existsSync(proof) ? [] : [name]));
  if (missing.length > 0) {
    if (process.getuid?.() !== 0) return false;
    console.log(`installing ${missing.join(' ')}`);
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore' });
    const install = ['install', '-y', '-qq', '--no-install-recommends', ...missing];
    if (spawnSync('apt-get', install, { stdio: 'ignore' }).status !== 0) return false;
  }
  mkdirSync(OUTPUT, { recursive: true });
  const targets = PROGRAMS.map((name) => join(OUTPUT, `${name}.O2`));
  const built = spawnSync('make', ['-s', '-j2', '-C', FOLDER, `OUT=${OUTPUT}`, ...targets], { stdio: 'inherit' });
  return built.status === 0;
}

/** One line of the baseline: its timing, and further figures such as errors. */
export interface BaselineTiming extends Timing {
  figures: Record<string, number>;
}

/** Runs one program of the baseline once; timings by their identifier. */
export function runBaseline(program: Program): Map<string, BaselineTiming> {
  const parameters = program === 'c_american' ? [AMERICAN_REFERENCE, 'brief'] : [];
  const text = execFileSync(join(OUTPUT, `${program}.O2`), parameters, { encoding: 'utf8' });
  const timings = new Map<string, BaselineTiming>();
  for (const line of text.trim().split('\n')) {
    const { id, ns, min, check, ...figures } = JSON.parse(line) as Record<string, number> & { id: string };
    timings.set(id, { fastest: min, median: ns, checksum: check, figures });
  }
  return timings;
}
