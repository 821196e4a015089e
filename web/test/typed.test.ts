import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readLegs } from '../src/lib/api/picked-legs.ts';
import { droppedParameters } from '../src/lib/shell/dropped-parameters.ts';
import { readWithin } from '../src/lib/ui/number-input.ts';
import { structureParameters } from '../src/lib/views/structure/parameters.ts';
import { times, timesOver } from '../src/lib/views/structure/structure-edit.ts';

/* Nothing that is typed destroys: what may not be is refused with its range, and a link says what of it is left out. */

test.each([
  ['100000', { within: [1, 999], isWhole: true }, 'from 1 to 999'],
  ['-1', { within: [1, 999], isWhole: true }, 'from 1 to 999'],
  ['0', { within: [-999, 999], isWhole: true, isNonzero: true }, 'any number but 0'],
  ['0.5', { within: [-999, 999], isWhole: true }, 'a whole number is needed'],
  ['99999999999', { within: [-999, 999], isWhole: true }, 'from −999 to 999'],
  ['150 %', { within: [5, 99], isPercent: true }, 'from 5 to 99'],
  ['+5%', { within: [-50, 100] }, 'not in percent: write the number alone'],
  ['-50', { within: [Number.MIN_VALUE, 500], isPercent: true }, 'above 0, up to 500'],
  ['5000', { within: [-200, 200], isPercent: true }, 'from −200 to 200'],
  ['0', { within: [Number.MIN_VALUE, 1e9] }, 'above 0'],
  ['-3', { within: [0, 1e9] }, '0 or more'],
] as const)('%s is refused: %o', (text, rule, wrong) => {
  expect(readWithin(text, rule)).toEqual({ ok: false, wrong });
});

test('what lies within is taken as it is typed, to the ends', () => {
  fc.assert(
    fc.property(fc.double({ min: -50, max: 100, noNaN: true }), (value) => {
      const text = value.toFixed(6);
      const read = readWithin(text, { within: [-50, 100] });
      expect(read).toEqual({ ok: true, value: Number(text) });
    }),
  );
  expect(readWithin('99 %', { within: [5, 99], isPercent: true })).toEqual({ ok: true, value: 99 });
});

const leg = (ratio: number, strike: number) => ({ ratio, strike, expiry: '2031-04-18', side: 'call' as const });

test('as many times as is said: twice said is once done, in whole contracts, the underlying with them', () => {
  const drawn = fc.tuple(
    fc.uniqueArray(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 4 }),
    fc.integer({ min: -9, max: 9 }),
    fc.integer({ min: 1, max: 40 }),
  );
  fc.assert(
    fc.property(drawn, ([ratios, held, many]) => {
      const legs = ratios.map((r, i) => leg(i % 2 ? -r : r, 100 + i));
      const over = timesOver(legs, held);
      const next = times(legs, many / over);
      const heldThen = (held * many) / over;
      expect(timesOver(next, heldThen)).toBe(many);
      expect(times(next, many / timesOver(next, heldThen))).toEqual(next);
      expect(next).toHaveLength(legs.length);
    }),
  );
});

test('a link says what of it is left out, and keeps the rest', () => {
  const said = '2~2031-04-18~60~put,1000~2031-04-18~65~put,1~soon~70~put,0~2031-04-18~75~put';
  expect(readLegs(said)).toEqual({
    legs: [{ ratio: 2, expiry: '2031-04-18', strike: 60, side: 'put' }],
    dropped: ['1000~2031-04-18~65~put', '1~soon~70~put'],
  });
  const many = Array.from({ length: 14 }, (_, i) => `1~2031-04-18~${60 + i}~put`);
  expect(readLegs(many.join(',')).dropped).toEqual(many.slice(12));
  const query = { legs: said, shift: '500', held: '1e9', take: 'never', day: 'x', volatilitySource: 'mine', tilt: '3' };
  const notes = droppedParameters(structureParameters, new URLSearchParams(query));
  expect(Object.fromEntries(notes.map((n) => [n.parameter, n.text]))).toEqual({
    shift: '“shift=500” is left out: at most 100.',
    held: '“held=1e9” is left out: at most 1000000.',
    take: '“take=never” is left out: one of mid, market, theory.',
    day: '“day=x” is left out: a number is needed.',
    volatilitySource: '“volatilitySource=mine” is left out: one of smile, own, atm, borrowed, index, realized, typed.',
    legs: '2 legs are left out: “1000~2031-04-18~65~put, 1~soon~70~put”. A leg has 1 to 999 contracts, a structure at most 12 legs.',
  });
  expect(droppedParameters(structureParameters, new URLSearchParams('held=2&legs=&unknown=1'))).toEqual([]);
});
