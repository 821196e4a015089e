import fc from 'fast-check';
import { expect, test } from 'vitest';
import { FairTurns, TooBusy } from '../src/lib/server/derive/fair-turns.ts';

/** Work that ends when it is told to. */
function stoppable() {
  let end: () => void = () => undefined;
  const done = new Promise<void>((resolve) => (end = resolve));
  return { done, end: () => end() };
}
const settle = () => new Promise((resolve) => setImmediate(resolve));

test('a lane with many pieces keeps another waiting for no more than one of them', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 1, maxLength: 60 }),
      fc.integer({ min: 1, max: 3 }),
      async (lanes, places) => {
        const turns = new FairTurns({ places, mostWaiting: 1000 });
        const order: number[] = [];
        await Promise.all(
          lanes.map((lane) =>
            turns.run(
              async () => {
                order.push(lane);
                await settle();
              },
              { lane: String(lane), isLong: false },
            ),
          ),
        );
        expect(order.toSorted()).toEqual(lanes.toSorted());
        // Between two turns of a lane that still waits, every other lane comes at most once more than fairness needs.
        const left = new Map<number, number>();
        for (const lane of lanes) left.set(lane, (left.get(lane) ?? 0) + 1);
        for (const [i, lane] of order.entries()) {
          left.set(lane, (left.get(lane) ?? 0) - 1);
          if ((left.get(lane) ?? 0) === 0 || i < places) continue;
          const next = order.indexOf(lane, i + 1);
          const between = order.slice(i + 1, next);
          for (const other of new Set(between))
            expect(between.filter((o) => o === other).length).toBeLessThanOrEqual(2);
        }
      },
    ),
    { numRuns: 40 },
  );
});

test('long work never has all places, so that short work begins at once', async () => {
  const turns = new FairTurns({ places: 2, mostWaiting: 10 });
  const [first, second] = [stoppable(), stoppable()];
  const begun: string[] = [];
  const run = (name: string, work: Promise<void>, isLong: boolean) =>
    turns.run(
      () => {
        begun.push(name);
        return work;
      },
      { lane: name, isLong },
    );
  const all = [
    run('long one', first.done, true),
    run('long two', second.done, true),
    run('short', Promise.resolve(), false),
  ];
  await all[2];
  expect(begun).toEqual(['long one', 'short']);
  first.end();
  await settle();
  expect(begun).toEqual(['long one', 'short', 'long two']);
  second.end();
  await Promise.all(all);
});

test('who leaves while waiting takes no turn; who comes when too many wait is told so', async () => {
  const turns = new FairTurns({ places: 1, mostWaiting: 1 });
  const first = stoppable();
  const running = turns.run(() => first.done, { lane: 'a', isLong: false });
  const leave = new AbortController();
  let hasRun = false;
  const waiting = turns.run(() => Promise.resolve((hasRun = true)), { lane: 'b', isLong: false, signal: leave.signal });
  await expect(turns.run(() => Promise.resolve(), { lane: 'c', isLong: false })).rejects.toThrow(TooBusy);
  leave.abort(new Error('left'));
  await expect(waiting).rejects.toThrow('left');
  first.end();
  await running;
  await turns.run(() => Promise.resolve(), { lane: 'c', isLong: false });
  expect(hasRun).toBe(false);
});
