import { buildBaseline, type BaselineTiming, runBaseline } from './baseline.ts';
import { coldFigures } from './cold.ts';
import { firstStartFigures } from './first-start.ts';
import { ladderFigures } from './ladder.ts';
import { largeImportFigures } from './large-import.ts';
import { loadFigures } from './load.ts';
import { manyFigures } from './many.ts';
import { databaseUrl, marketFigures } from './market.ts';
import { faster, measure, type Timing, timeText } from './measure.ts';
import { rangeFigures } from './range.ts';
import { skewFigures } from './skew.ts';
import { steppingFigures } from './stepping.ts';
import { structureFigures } from './structure.ts';
import { SURFACE_GOALS, SURFACE_KINDS, surfaceTiming } from './surface.ts';
import { tableFigures } from './table.ts';
import { threadFigures } from './threads.ts';
import { type Work, works } from './works.ts';

/*
 * Speed of the core beside the C++ baseline, printed and not asserted. Both sides run in turn, five times each, so that
 * a busy moment of the machine does not fall on one side alone; the fastest rounds are compared.
 */

const TURNS = 5;
const chosen = process.argv.slice(2);
const list = works().filter((w) => chosen.length === 0 || chosen.some((part) => w.name.startsWith(part)));
const hasBaseline = list.length > 0 && buildBaseline();
if (list.length > 0 && !hasBaseline)
  console.log('no baseline: g++, make, libquantlib0-dev and libboost-dev are not here\n');

const ours = new Map<Work, Timing>();
const theirs = new Map<string, BaselineTiming>();
for (let turn = 0; turn < TURNS; turn++) {
  for (const program of new Set(list.map((w) => w.program))) {
    if (hasBaseline) {
      for (const [id, timing] of runBaseline(program)) {
        theirs.set(id, { ...faster(theirs.get(id), timing), figures: timing.figures });
      }
    }
    for (const work of list.filter((w) => w.program === program)) {
      ours.set(work, faster(ours.get(work), measure(work.operations, work.rounds, work.run, work.warmup)));
    }
  }
}

for (const work of list) {
  const own = ours.get(work) as Timing;
  console.log(`${work.name}: fastest ${timeText(own.fastest)}, median ${timeText(own.median)}`);
  if (work.accuracy) console.log(`    ${work.accuracy()}`);
  for (const { id, goal } of work.against) {
    const baseline = theirs.get(id);
    if (!baseline) continue;
    const ratio = own.fastest / baseline.fastest;
    const gap = Math.abs(own.checksum / baseline.checksum - 1);
    const agrees = work.agreement === Infinity ? '' : `, checksums differ by ${gap.toExponential(1)}`;
    const figures = Object.entries(baseline.figures)
      .filter(([name]) => /rmsErr|maxAbsErr$|RmsVol|maxRelErr/.test(name))
      .map(([name, value]) => ` ${name} ${value}`);
    console.log(
      `    ratio ${ratio.toFixed(3)} (goal ${goal}: ${ratio <= goal ? 'reached' : 'MISSED'}) of ${id} ${timeText(baseline.fastest)}${figures.join(',')}${agrees}`,
    );
    // Different work makes any ratio meaningless.
    if (gap > work.agreement) {
      console.error(`    checksums do not agree: ours ${own.checksum}, theirs ${baseline.checksum}`);
      process.exitCode = 1;
    }
  }
}
if (chosen.length === 0 || chosen.includes('surface')) {
  for (const kind of SURFACE_KINDS) {
    const surface = measure(1, 41, surfaceTiming(kind), 80);
    const goal = SURFACE_GOALS[kind];
    console.log(
      `surface, 12 expiries x 60 strikes x 2 sides, ${kind}: fastest ${timeText(surface.fastest)}, median ${timeText(surface.median)} (goal ${goal} ms at the median: ${surface.median <= goal * 1e6 ? 'reached' : 'MISSED'})`,
    );
  }
}
if (chosen.length === 0 || chosen.includes('ladder')) ladderFigures();
// Needs the built client.
if (chosen.includes('threads')) await threadFigures();
// These need a running ./start with its demo filled, and are asked for by name.
if (chosen.includes('market')) await marketFigures();
if (chosen.includes('stepping')) await steppingFigures();
if (chosen.includes('table')) await tableFigures();
if (chosen.includes('skew')) await skewFigures();
if (chosen.includes('range')) await rangeFigures();
if (chosen.includes('structure')) await structureFigures();
if (chosen.includes('load')) await loadFigures();
if (chosen.includes('cold')) await coldFigures();
if (chosen.includes('import')) await largeImportFigures();
for (const [name, figures] of [
  ['first-start', firstStartFigures],
  ['many', manyFigures],
] as const) {
  if (!chosen.includes(name)) continue;
  const url = databaseUrl();
  if (url) await figures(url);
  else console.log(`${name}: no database; scripts/database.sh start makes one`);
}
