import fc from 'fast-check';
import { expect, test } from 'vitest';
import { LatestAnswer } from '../../src/lib/ui/latest-answer.svelte.ts';

/* Of many requests only the newest is computed after the one that is under way: a dragged slider never queues up work. */

/** Computes when the test lets it. */
function slow() {
  const begun: { request: number; end: (value: number) => void; fail: (error: Error) => void }[] = [];
  const trouble: unknown[] = [];
  const latest = new LatestAnswer<number, number>(
    (request) => new Promise((end, fail) => begun.push({ request, end, fail })),
    (error) => trouble.push(error),
  );
  return { latest, begun, trouble };
}
const settle = () => new Promise((resolve) => setTimeout(resolve));

test('while one is computed only the newest of those that follow is kept; the old answer stays until it is there', async () => {
  const { latest, begun } = slow();
  for (const request of [1, 2, 3]) latest.ask(request);
  expect(begun.map((b) => b.request)).toEqual([1]);
  expect(latest).toMatchObject({ isBusy: true, answer: undefined });
  begun[0].end(10);
  await settle();
  expect(begun.map((b) => b.request)).toEqual([1, 3]);
  expect(latest.answer).toEqual({ request: 1, value: 10 });
  begun[1].end(30);
  await settle();
  expect(latest).toMatchObject({ isBusy: false, answer: { request: 3, value: 30 } });
});

test('what fails is told, the old answer stays, and the next request is computed', async () => {
  const { latest, begun, trouble } = slow();
  latest.ask(1);
  begun[0].end(10);
  await settle();
  latest.ask(2);
  begun[1].fail(new Error('the thread has ended'));
  await settle();
  expect(trouble).toEqual([new Error('the thread has ended')]);
  expect(latest).toMatchObject({ isBusy: false, answer: { request: 1, value: 10 } });
  latest.ask(3);
  begun[2].end(30);
  await settle();
  expect(latest.answer).toEqual({ request: 3, value: 30 });
});

test('however requests and ends fall, the last request is answered in the end and no more is computed than ends', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.boolean(), { minLength: 1, maxLength: 30 }), async (isAsked) => {
      const { latest, begun } = slow();
      let ended = 0;
      let last: number | undefined;
      const end = async () => {
        if (ended < begun.length) begun[ended].end(10 * begun[ended++].request);
        await settle();
      };
      for (const [n, asks] of isAsked.entries()) {
        if (asks) latest.ask((last = n));
        else await end();
        expect(begun.length - ended).toBeLessThanOrEqual(1);
      }
      while (latest.isBusy) await end();
      expect(latest.answer?.request).toBe(last);
    }),
    { numRuns: 40 },
  );
});
