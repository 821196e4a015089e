import { UNIVERSE } from '@umwelt/market/veldmar';
import { fork } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { shippedMeasures, shippedPath, writeShipped } from '../src/lib/server/demo/shipped-measures.ts';
import { pastInstants, simulatedMeasures } from '../src/lib/server/demo/simulated-measures.ts';

/*
 * Makes the files of measures that the demo comes with, after the simulator or the derivation has changed: all of them, by as
 * many processes as there are cores, or those of `make-demo-measures.ts SYMBOL...`.
 */

const asked = process.argv.slice(2);
if (asked.length > 0) {
  for (const symbol of asked) {
    const rows = pastInstants(symbol).map((instant) => shippedMeasures(simulatedMeasures(0, symbol, instant)));
    const path = shippedPath(symbol);
    mkdirSync(dirname(path), { recursive: true });
    const file = writeShipped(rows);
    writeFileSync(path, file);
    console.log(`${symbol}: ${rows.length} instants, ${(file.length / 1000).toFixed(0)} kB`);
  }
} else {
  const left = UNIVERSE.map((u) => u.symbol);
  const next = () => {
    const symbol = left.shift();
    if (symbol === undefined) return;
    fork(fileURLToPath(import.meta.url), [symbol]).once('exit', (status) => {
      if (status !== 0) process.exitCode = 1;
      next();
    });
  };
  for (let i = 0; i < availableParallelism(); i++) next();
}
