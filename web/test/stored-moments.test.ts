import { civilInZone } from '@umwelt/market/zone';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { ShortMemory } from '../src/lib/server/services/short-memory.ts';
import { momentAmong } from '../src/lib/server/derive/moment.ts';

test('an instant and its neighbors are those that a look through all of them finds', () => {
  const start = Date.UTC(2031, 2, 28);
  const instants = fc
    .uniqueArray(fc.integer({ min: 0, max: 120 }), { minLength: 1, maxLength: 30 })
    .map((hours) => hours.sort((a, b) => a - b).map((h) => new Date(start + h * 3_600_000)));
  // A zone with a change to summer time within the range, and one ahead of the date line.
  const zone = fc.constantFrom('+01:00', 'Europe/Paris', 'Pacific/Auckland');
  const at = fc.option(
    fc.integer({ min: -5, max: 130 }).map((h) => new Date(start + h * 3_600_000)),
    { nil: undefined },
  );
  fc.assert(
    fc.property(instants, zone, at, (all, place, asked) => {
      const day = (d: Date) => {
        const { year, month, day: date } = civilInZone(d.getTime(), place);
        return Date.UTC(year, month - 1, date);
      };
      const found = momentAmong(all, place, asked);
      const instant = asked === undefined ? all.at(-1) : (all.findLast((d) => d <= asked) ?? all[0]);
      const nextDay = Math.min(...all.map(day).filter((d) => d > day(instant as Date)));
      expect(found).toEqual({
        instant,
        previous: all.findLast((d) => d < (instant as Date)),
        next: all.find((d) => d > (instant as Date)),
        previousSession: all.findLast((d) => day(d) < day(instant as Date)),
        nextSession: all.findLast((d) => day(d) === nextDay),
        first: all[0],
        latest: all.at(-1),
      });
    }),
  );
  expect(momentAmong([], '+01:00', undefined)).toBeUndefined();
});

test('what is asked for within a moment is asked once, a failure is not remembered, and it can be forgotten', async () => {
  const memory = new ShortMemory<number>(60_000);
  let asked = 0;
  const ask = () => Promise.resolve(++asked);
  expect(await Promise.all([memory.recall('a', ask), memory.recall('a', ask), memory.recall('b', ask)])).toEqual([
    1, 1, 2,
  ]);
  await expect(memory.recall('c', () => Promise.reject(new Error('away')))).rejects.toThrow('away');
  expect(await memory.recall('c', ask)).toBe(3);
  memory.forget();
  expect(await memory.recall('a', ask)).toBe(4);
});
