import { UNIVERSE } from '@umwelt/market/veldmar';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readShipped, shippedMeasures } from '../src/lib/server/demo/shipped-measures.ts';
import { pastInstants, simulatedMeasures } from '../src/lib/server/demo/simulated-measures.ts';

/* The demo's past comes with the code as files: they are what the code would derive, or the code has moved on since. */

const REMEDY = 'simulator or derivation have changed since these files were made: raise its version, then npm run demo-measures';
/** Of the commit in the usual run, drawn in the long one; ./test prints it. */
const SEED = Number(process.env.TEST_SEED ?? 20310314);
const SHARE = 10;

test.each(UNIVERSE.map((u) => u.symbol))(
  '%s: a drawn tenth of its past measures, derived anew, is what comes with the code',
  (symbol) => {
    const shipped = readShipped(symbol, 0);
    if (!shipped) throw new Error(`${symbol}: ${REMEDY}`);
    const instants = pastInstants(symbol);
    expect([...shipped.keys()]).toEqual(instants);
    const count = Math.ceil(instants.length / SHARE);
    const [drawn] = fc.sample(fc.shuffledSubarray(instants, { minLength: count, maxLength: count }), {
      numRuns: 1,
      seed: SEED + UNIVERSE.findIndex((u) => u.symbol === symbol),
    });
    for (const instant of drawn) {
      const at = `${new Date(instant).toISOString()}: ${REMEDY}`;
      const kept = shipped.get(instant);
      if (!kept) throw new Error(at);
      expect(shippedMeasures(kept), at).toEqual(shippedMeasures(simulatedMeasures(0, symbol, instant)));
    }
  },
);
