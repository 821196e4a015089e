import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { exactText, figureText, inputText } from '../src/lib/measures/index.ts';
import {
  countText,
  dateText,
  instantLabel,
  numberText,
  ordinalText,
  percentileText,
  pointsText,
  probabilityText,
  signedText,
  significantText,
  strikeText,
  tickDecimals,
  volatilityText,
} from '../src/lib/ui/format.ts';
import { labelRows } from '../src/lib/ui/label-rows.ts';
import { readNumber } from '../src/lib/ui/number-input.ts';
import { labelColumn } from '../src/lib/ui/label-column.ts';
import { placeLabels } from '../src/lib/ui/place-labels.ts';
import { readInstant } from '../src/lib/ui/read-instant.ts';
import { plainText } from '../src/lib/ui/table/table-column.ts';

/* What is written on a screen reads back as the number that it was, as far as it was written. */

const value = fc.double({ min: -1e7, max: 1e7, noNaN: true });
/** A text as a number; what numbers have in common however they are written. */
function readBack(text: string): number {
  expect(text, 'no minus before nothing').not.toMatch(/^−0(\.0+)?( %)?$/);
  expect(text).not.toMatch(/-|NaN|Infinity/);
  // As it is copied from a table.
  const [, number, unit] = /^([+-]?[\d.]+) ?(%|k)?$/.exec(plainText(text)) ?? [];
  return Number(number) * (unit === '%' ? 0.01 : unit === 'k' ? 1000 : 1);
}

describe('numbers', () => {
  test('read back within half of their last digit, typed in again too', () => {
    fc.assert(
      fc.property(value, fc.integer({ min: 0, max: 6 }), (x, decimals) => {
        const text = numberText(x, decimals);
        const half = 0.5 * 10 ** -decimals + 1e-9;
        expect(Math.abs(readBack(text) - x)).toBeLessThanOrEqual(half);
        // What is typed with thousands apart has a point where it has a fraction.
        // Thousands are apart by spaces: nothing that is written here is doubtful.
        const read = readNumber(text);
        expect(read.ok && Math.abs(read.value - x) <= half, text).toBe(true);
        expect(signedText(x, decimals)).toBe(readBack(text) > 0 ? `+${text}` : text);
      }),
    );
  });

  test('keep as many digits as they say', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-6, max: 1e9, noNaN: true }), fc.integer({ min: 2, max: 6 }), (x, digits) => {
        const found = readBack(significantText(x, digits));
        expect(Math.abs(found / x - 1)).toBeLessThanOrEqual(0.5 * 10 ** (1 - digits) + 1e-9);
      }),
    );
    expect([0, 1e-9, NaN, null].map((x) => significantText(x))).toEqual(['0', '0.000000001000', '—', '—']);
  });

  test('of volatility, points and probability are in percent, with a sign where they are differences', () => {
    const share = fc.double({ min: -0.99, max: 3, noNaN: true });
    fc.assert(
      fc.property(share, (x) => {
        expect(Math.abs(readBack(volatilityText(x)) - 100 * x)).toBeLessThanOrEqual(0.05 + 1e-9);
        const points = pointsText(x);
        expect(Math.abs(readBack(points) - 100 * x)).toBeLessThanOrEqual(0.05 + 1e-9);
        expect(/^[+−]/.test(points)).toBe(readBack(points) !== 0);
      }),
    );
    // One decimal where the last percent is what matters.
    expect([0.004, 0.049, 0.05, 0.5, 0.95, 0.951, 1].map(probabilityText)).toEqual([
      '0.4 %',
      '4.9 %',
      '5 %',
      '50 %',
      '95 %',
      '95.1 %',
      '100.0 %',
    ]);
  });

  test('of contracts are shortened to two digits or more', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5_000_000 }), (count) => {
        const found = readBack(countText(count));
        expect(Math.abs(found - count)).toBeLessThanOrEqual(count < 1000 ? 0 : count < 10_000 ? 50 : 500);
      }),
    );
  });

  test('of strikes and ticks have the decimals that they need, and no more', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 10_000_000 }), fc.integer({ min: 0, max: 5 }), (n, decimals) => {
        const strike = n / 10 ** decimals;
        expect(readBack(strikeText(strike))).toBeCloseTo(strike, 9);
        expect(strikeText(strike)).not.toMatch(/\.\d*0$/);
      }),
    );
    expect([1, 0.5, 0.25, 0.05, 0.01, 0.0001, 0, null].map(tickDecimals)).toEqual([0, 1, 2, 2, 2, 4, 2, 2]);
  });

  const kelpa = { underlyingTick: 0.01, optionTick: 0.01, price: 96.4 };
  const pair = { underlyingTick: 0.0001, optionTick: 0.0001, price: 1.085 };
  const unknown = { underlyingTick: null, optionTick: null, price: 1.085 };

  test('that are not known are a dash in every unit; inputs of Workings have more digits than tables', () => {
    const units = ['volatility', 'points', 'price', 'premium', 'rate', 'share', 'factor', 'gamma', 'days'] as const;
    for (const unit of units) expect([figureText(null, unit, kelpa), inputText(null, unit, kelpa)]).toEqual(['—', '—']);
    const [shown, input] = [figureText, inputText].map((write) => units.map((unit) => write(0.12345678, unit, kelpa)));
    expect(shown).toEqual(['12.3', '+12.3', '0.12', '0.123', '+12.35', '12.3', '0.1235', '0.123', '0.1']);
    expect(input).toEqual([
      ...['12.35 %', '+12.35 pts', '0.123', '0.1235', '12.346 %', '12.3 %', '0.123457', '0.12346', '0.1 d'],
    ]);
    expect(exactText(0.12345678, 'premium', kelpa)).toBe('0.1234568');
    expect(exactText(0.125, 'premium', kelpa)).toBeUndefined();
  });

  test('follow tick and size: a small premium keeps its digits, one of a contract has cents', () => {
    expect([figureText(0.043, 'quote', pair), figureText(0.043, 'quote', unknown)]).toEqual(['0.0430', '0.0430']);
    expect(figureText(19.0679, 'premium', { ...kelpa, factor: 100 })).toBe('19.07');
    expect(figureText(-9e-49, 'delta', kelpa)).toBe('0.000');
    expect([significantText(-9e-49), significantText(0.00000123)]).toEqual(['0.00', '0.000001230']);
    // A vega of a pair is a hundredth of a cent, one of an index some units.
    expect([
      figureText(0.00123, 'sensitivity', pair),
      figureText(5.5, 'sensitivity', { ...kelpa, price: 4812 }),
    ]).toEqual([...['+0.00123', '+5.50']]);
  });

  test('of places in a row end as they are spoken', () => {
    // A place at either end is that place, and what only rounds to it is not.
    expect([0, 0.001, 0.5, 0.999, 1].map((share) => percentileText(share))).toEqual([
      ...['lowest', '1st percentile', '50th percentile', '99th percentile', 'highest'],
    ]);
    expect([0.01, 0.02, 0.03, 0.04, 0.11, 0.12, 0.13, 0.21, 0.22, 0.83, 1, 0].map(ordinalText)).toEqual([
      '1st',
      '2nd',
      '3rd',
      '4th',
      '11th',
      '12th',
      '13th',
      '21st',
      '22nd',
      '83rd',
      '100th',
      '0th',
    ]);
  });
});

describe('dates', () => {
  const day = fc
    .date({ min: new Date('2000-01-01T00:00:00Z'), max: new Date('2099-12-31T00:00:00Z'), noInvalidDate: true })
    .map((d) => d.toISOString().slice(0, 10));

  test('that are shown are read again, with the year where it is another', () => {
    fc.assert(
      fc.property(day, day, fc.constantFrom('Z', '+01:00', '-05:30'), (date, reference, offset) => {
        const shown = `${reference}T14:00:00${offset}`;
        expect(readInstant(instantLabel(`${date}T09:05:00${offset}`), shown)).toBe(`${date}T09:05:00${offset}`);
        const short = dateText(date, reference);
        if (date.slice(0, 4) === reference.slice(0, 4))
          expect(readInstant(short, shown)).toBe(`${date}T23:59:00${offset}`);
        else expect(short.endsWith(` ${date.slice(2, 4)}`)).toBe(true);
      }),
    );
  });

  test('that do not exist are not read', () => {
    for (const text of ['30 Feb', '2031-02-30', '31 Apr 2031', '0 Jan', '14 Mat', '14 Mar 25:00', '14 Mar 11:60', ''])
      expect(readInstant(text, '2031-03-14T14:00:00Z'), text).toBeUndefined();
  });
});

describe('labels', () => {
  const wanted = fc.array(
    fc.record({
      x: fc.double({ min: 0, max: 800, noNaN: true }),
      y: fc.double({ min: 0, max: 400, noNaN: true }),
      width: fc.double({ min: 10, max: 90, noNaN: true }),
    }),
    { maxLength: 25 },
  );

  test('never lie over each other, nor over a line where there is room, and the first stays beside its point', () => {
    fc.assert(
      fc.property(wanted, fc.double({ min: 30, max: 370, noNaN: true }), (labels, level) => {
        const line = { x: [0, 400, 800], y: [level, level + 20, level] };
        const frame = { left: -2000, right: 3000, top: -2000, bottom: 3000 };
        const places = placeLabels(labels, { height: 15, lines: [line], frame });
        for (const [i, a] of places.entries()) {
          for (let t = 0; t <= 1; t += 0.05) {
            const x = a.x + t * labels[i].width;
            const y = level + 20 * (1 - Math.abs(x - 400) / 400);
            if (x >= 0 && x <= 800) expect(Math.abs(y - a.y)).toBeGreaterThan(7.5 - 1e-6);
          }
          for (const [j, b] of places.slice(0, i).entries()) {
            const isBeside = a.x < b.x + labels[j].width && b.x < a.x + labels[i].width;
            if (isBeside) expect(Math.abs(a.y - b.y)).toBeGreaterThanOrEqual(15 - 1e-5);
          }
        }
        const free = placeLabels(labels, { height: 15 });
        if (labels.length > 0) expect(free[0]).toEqual({ x: labels[0].x + 5, y: labels[0].y, isLed: false });
      }),
    );
  });

  test('in a column keep their order and distance, and no other such column is nearer to the points', () => {
    const heights = fc.array(fc.double({ min: 0, max: 400, noNaN: true }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(
        heights,
        fc.array(fc.double({ min: -20, max: 20, noNaN: true }), { minLength: 12, maxLength: 12 }),
        (ys, moves) => {
          const wanted = [...ys].sort((a, b) => a - b);
          const placed = labelColumn(wanted, 14, [-1e4, 1e4]);
          placed.slice(1).forEach((y, i) => expect(y - placed[i]).toBeGreaterThanOrEqual(14 - 1e-9));
          const off = (column: number[]) => column.reduce((sum, y, i) => sum + (y - wanted[i]) ** 2, 0);
          let last = -Infinity;
          const other = placed.map((y, i) => (last = Math.max(y + moves[i], last + 14)));
          expect(off(placed)).toBeLessThanOrEqual(off(other) + 1e-6);
          expect(Math.min(...labelColumn(wanted, 14, [0, 400]))).toBeGreaterThanOrEqual(0);
        },
      ),
    );
  });

  test('in rows begin where the one before has ended, or are left out', () => {
    const places = fc.array(
      fc.record({ at: fc.double({ min: 0, max: 1000, noNaN: true }), text: fc.string({ maxLength: 20 }) }),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(places, fc.integer({ min: 1, max: 4 }), (labels, rows) => {
        const sorted = labels.toSorted((a, b) => a.at - b.at);
        const found = labelRows(sorted, rows);
        for (let row = 0; row < rows; row++) {
          const own = sorted.filter((_, i) => found[i] === row);
          for (let i = 1; i < own.length; i++)
            expect(own[i].at - own[i - 1].at).toBeGreaterThanOrEqual(6.2 * own[i - 1].text.length);
        }
        // One that is left out would have covered another in every row.
        for (const [i, row] of found.entries()) {
          if (row !== undefined) continue;
          const before = new Set(found.slice(0, i).filter((r) => r !== undefined));
          expect(before.size).toBe(rows);
        }
      }),
    );
  });
});

test('amounts of a position that stand beside each other add up to within one unit of the last digit', () => {
  const plain = (text: string) => Number(text.replace(/[\s\u202f]/g, '').replace('−', '-'));
  const amount = fc.double({ min: -9e4, max: 9e4, noNaN: true });
  fc.assert(
    fc.property(amount, amount, (value, cost) => {
      fc.pre(Math.abs(value - cost) < 1e5);
      const [shown, paid, over] = [value, cost, value - cost].map((x) => plain(figureText(x, 'money', scaleOfShare)));
      expect(Math.abs(shown - paid - over)).toBeLessThan(0.0101);
    }),
  );
  expect(figureText(237.5, 'money', scaleOfShare)).toBe('237.50');
  expect(figureText(0.0741, 'money', scaleOfShare)).toBe('0.07');
});

test('a Greek is never written as nothing where it is something', () => {
  const unit = fc.constantFrom('delta' as const, 'gamma' as const, 'sensitivity' as const);
  const size = fc.double({ min: -9, max: 2, noNaN: true });
  fc.assert(
    fc.property(unit, size, fc.boolean(), fc.constantFrom(1, 10, 100), (of, log, isNegative, factor) => {
      const value = (isNegative ? -1 : 1) * 10 ** log;
      expect(figureText(value, of, { ...scaleOfShare, factor })).toMatch(/[1-9]/);
    }),
  );
});

const scaleOfShare = { underlyingTick: 0.05, optionTick: 0.01, price: 100 };
