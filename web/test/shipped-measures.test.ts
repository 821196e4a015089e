import { UNIVERSE } from '@umwelt/market/veldmar';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { shippedMeasures, shippedRows } from '../src/lib/server/demo/shipped-measures.ts';
import { pastInstants, simulatedMeasures } from '../src/lib/server/demo/simulated-measures.ts';

/* The demo's past comes with the code as files: they are what the code would derive, or the code has moved on since. */

const REMEDY =
  'simulator or derivation have changed since these files were made: raise its version, then npm run demo-measures';
/** Of the commit in the usual run, drawn in the long one; ./test prints it. */
const SEED = Number(process.env.TEST_SEED ?? 20310314);
/** A tenth takes two minutes of a processor: it is for the long run. */
const SHARE = process.env.SOAK ? 10 : 240;

test.each(UNIVERSE.map((u) => u.symbol))(
  '%s: a drawn share of its past measures, derived anew, is what comes with the code',
  (symbol) => {
    const shipped = shippedRows(symbol);
    if (!shipped) throw new Error(`${symbol}: ${REMEDY}`);
    const instants = pastInstants(symbol);
    expect(shipped.map((row) => Date.parse(row.instant))).toEqual(instants);
    const count = Math.ceil(instants.length / SHARE);
    const [drawn] = fc.sample(fc.shuffledSubarray(instants, { minLength: count, maxLength: count }), {
      numRuns: 1,
      seed: SEED + UNIVERSE.findIndex((u) => u.symbol === symbol),
    });
    for (const instant of drawn) {
      const derived = shippedMeasures(simulatedMeasures(0, symbol, instant));
      expect(derived, `${derived.instant}: ${REMEDY}`).toEqual(shipped[instants.indexOf(instant)]);
    }
  },
);
