import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  findDate,
  isMissing,
  parseCount,
  parseInstant,
  parsePrice,
  parseVolatility,
} from '../../src/cell-text/index.ts';

const o = { order: 'dmy' as const, zone: '+01:00', defaultTime: '17:30' };
const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October'];

test('a date is read in every common order of its parts, with month names long and short', () => {
  const day = Date.UTC(2031, 2, 21, 16, 30);
  for (const text of [
    ...['21 Mar 2031', 'Mar 21, 2031', '21MAR31', 'Fri 21 March 2031', 'Friday, 21st March 2031', '21-Mar-2031'],
    ...["21 Mar '31", '2031 Mar 21', '2031-Mar-21', 'March 21 2031', '20310321', '2031/03/21', '21.03.2031', '21/3/31'],
  ])
    expect(parseInstant(text, o), text).toBe(day);
  for (const text of ['31 Apr 2031', 'Mar 2031', '21 Foo 2031', '2031-13-01', '21 Mar', 'soon', '2031'])
    expect(parseInstant(text, o), text).toBeUndefined();
});

test('times have offsets, zones by their IANA names, halves of the day, or none of these', () => {
  const at = Date.UTC(2031, 6, 1, 12, 5);
  for (const text of [
    ...['2031-07-01T12:05:00Z', '2031-07-01 14:05 Europe/Berlin', '2031-07-01T14:05:00+02:00[Europe/Berlin]'],
    ...['1 Jul 2031 8:05 am America/New_York', '1 Jul 2031, 13:05', 'Jul 1, 2031 at 01:05 PM', '2031-07-01 07:05-0500'],
    ...[String(at), String(at / 1000)],
  ])
    expect(parseInstant(text, o), text).toBe(at);
  for (const text of ['2031-07-01 25:00', '2031-07-01 13:05 pm', '2031-07-01 12:00 Nowhere/Never'])
    expect(parseInstant(text, o), text).toBeUndefined();
});

test('any date written with the name of its month is read back, also from within a sentence', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2000, max: 2099 }),
      fc.integer({ min: 0, max: 9 }),
      fc.integer({ min: 1, max: 28 }),
      fc.constantFrom(3, 20),
      (year, month, day, letters) => {
        const name = MONTHS[month].slice(0, letters);
        const wanted = Date.UTC(year, month, day, 16, 30);
        for (const text of [
          `${day} ${name} ${year}`,
          `${name} ${day}, ${year}`,
          `${day}-${name}-${String(year).slice(2)}`,
        ]) {
          expect(parseInstant(text, o)).toBe(wanted);
          expect(parseInstant(findDate(`quotes of ${text}, delayed`) ?? '', o)).toBe(wanted);
        }
      },
    ),
  );
});

test('marks of nothing, signs of currency, percent, thousands and brackets are understood, and nothing else', () => {
  for (const text of ['', ' ', '-', '--', 'n/a', 'N/A', 'NaN', 'null', '—']) expect(isMissing(text), text).toBe(true);
  expect(
    ['$1,081.25', '1.081,25 €', 'EUR 12.5', '12.5 XTS', '(2.50)', '-£3', '\u22124.5'].map((text, i) =>
      parsePrice(text, i === 1 ? ',' : '.'),
    ),
  ).toEqual([1081.25, 1081.25, 12.5, 12.5, -2.5, -3, -4.5]);
  expect(['8.2K', '1.5M', '12', '0.35k'].map((text) => parseCount(text, '.'))).toEqual([8200, 1_500_000, 12, 350]);
  const volatility = (text: string, unit: 'decimal' | 'percent') => parseVolatility(text, { decimal: '.', unit });
  expect([volatility('27.4%', 'decimal'), volatility('27.4', 'percent'), volatility('0.274', 'decimal')]).toEqual([
    0.27399999999999997, 0.27399999999999997, 0.274,
  ]);
  for (const text of ['abc', '1.2.3', '12K4', 'EURO 5', '5 %%', '1e', '0x10'])
    expect(parsePrice(text, '.'), text).toBeNaN();
});
