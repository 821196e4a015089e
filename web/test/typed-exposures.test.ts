import { HEDGED_GREEKS } from '@umwelt/core/hedge';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { structureParameters } from '../src/lib/views/structure/parameters.ts';
import { plainName, typedOptionsText, typedSumsText } from '../src/lib/views/structure/typed-exposures.ts';

const number = fc.option(
  fc.double({ min: -1e12, max: 1e12, noNaN: true }).map((v) => v + 0),
  { nil: undefined },
);
const exposures = fc
  .array(number, { minLength: HEDGED_GREEKS.length, maxLength: HEDGED_GREEKS.length })
  .map((values) =>
    Object.fromEntries(HEDGED_GREEKS.flatMap((g, i) => (values[i] === undefined ? [] : [[g, values[i]]]))),
  );
const cost = number.map((v) => v && Math.abs(v));
const name = fc
  .string({ maxLength: 60 })
  .map(plainName)
  .filter((text) => text !== '' && text !== 'underlying');

test('typed sums and options come back from an address as they went in', () => {
  fc.assert(
    fc.property(
      exposures,
      fc.uniqueArray(fc.record({ name, exposures, cost }), { maxLength: 8, selector: (o) => o.name }),
      (elsewhere, typed) => {
        const read = structureParameters.parse({
          elsewhere: typedSumsText(elsewhere),
          typed: typedOptionsText(typed),
        });
        expect(read.elsewhere ?? {}).toEqual(elsewhere);
        expect(read.typed).toEqual(typed);
      },
    ),
  );
});

test('what cannot be told apart, or is no number, is nothing', () => {
  for (const typed of [
    'a~1~~~~~~,a~2~~~~~~',
    'underlying~1~~~~~~',
    'a~x~~~~~~',
    'a',
    '~~~~',
    'a~1~~~~~~~',
    'a~1e400~~~~~~',
    'a~1~~~~~~-1',
  ])
    expect(structureParameters.parse({ typed }).typed, typed).toEqual([]);
  for (const elsewhere of ['', 'x', '1', '1~2', 'NaN~~~~~', '1~~~~~~'])
    expect(structureParameters.parse({ elsewhere }).elsewhere, elsewhere).toBeUndefined();
});
