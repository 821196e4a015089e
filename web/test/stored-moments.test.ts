import { civilInZone } from '@umwelt/market/zone';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { momentAmong } from '../src/lib/server/derive/moment.ts';
import { VersionedMemory } from '../src/lib/server/services/versioned-memory.ts';

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

test('what is asked for at one version is asked once, at another anew; failures and the oldest are not remembered', async () => {
  const memory = new VersionedMemory<number>(2);
  let asked = 0;
  const ask = () => Promise.resolve(++asked);
  const first = [memory.recall('a', '1', ask), memory.recall('a', '1', ask), memory.recall('b', '1', ask)];
  expect(await Promise.all(first)).toEqual([1, 1, 2]);
  expect(await memory.recall('a', '2', ask)).toBe(3);
  await expect(memory.recall('c', '1', () => Promise.reject(new Error('away')))).rejects.toThrow('away');
  expect(await memory.recall('c', '1', ask)).toBe(4);
  // Of two that are kept, b has not been asked for the longest.
  expect(await memory.recall('a', '2', ask)).toBe(3);
  expect(await memory.recall('b', '1', ask)).toBe(5);
});
