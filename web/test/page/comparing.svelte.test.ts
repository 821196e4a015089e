import { flushSync } from 'svelte';
import { afterEach, expect, test } from 'vitest';
import type { Comparison } from '../../src/lib/api/comparison.ts';
import type { SurfaceResource } from '../../src/lib/api/surface-resource.ts';
import { Comparing } from '../../src/lib/shell/comparing.svelte.ts';
import { madePicture } from '../made-picture.ts';

/* What is held beside: each asked for once an instant, the old one shown until the new one is there, nothing asked for in vain. */

let leave: (() => void) | undefined;
afterEach(() => leave?.());
const settle = () => new Promise((resolve) => setTimeout(resolve));

function hold(first: Comparison[]) {
  let wanted = $state.raw(first);
  let minute = $state('13:00');
  const asked: { of: string; signal: AbortSignal; give: (p: SurfaceResource) => void; fail: (e: Error) => void }[] = [];
  let comparing: Comparing<SurfaceResource> | undefined;
  leave = $effect.root(() => {
    comparing = new Comparing(
      () => wanted,
      () => minute,
      (symbol, asOf, signal) =>
        new Promise((give, fail) => {
          asked.push({ of: `${symbol} ${asOf}`, signal, give, fail });
          signal.addEventListener('abort', () => fail(signal.reason as Error));
        }),
    );
  });
  flushSync();
  if (!comparing) throw new Error('not made');
  return {
    comparing,
    asked,
    want(next: Comparison[]) {
      wanted = next;
      flushSync();
    },
    wait(until: string) {
      minute = until;
      flushSync();
    },
  };
}

const [kelpa, merro] = [madePicture({ symbol: 'KELPA' }), madePicture({ symbol: 'MERRO', price: 60 })];

test('each is asked for at the shown minute or at its own instant, and stands in the order of the address', async () => {
  const { comparing, asked } = hold([{ symbol: 'KELPA' }, { symbol: 'MERRO', asOf: 'then' }]);
  expect(asked.map((a) => a.of)).toEqual(['KELPA 13:00', 'MERRO then']);
  asked[1].give(merro);
  await settle();
  expect(comparing.list.map((c) => [c.text, c.picture?.price])).toEqual([
    ['KELPA', undefined],
    ['MERRO@then', 60],
  ]);
  asked[0].give(kelpa);
  await settle();
  expect(comparing.pictures.map((p) => p.underlying.symbol)).toEqual(['KELPA', 'MERRO']);
});

test('with the minute only those are asked for again that follow it; the old one stays meanwhile', async () => {
  const { comparing, asked, wait } = hold([{ symbol: 'KELPA' }, { symbol: 'MERRO', asOf: 'then' }]);
  asked[0].give(kelpa);
  asked[1].give(merro);
  await settle();
  wait('13:01');
  expect(asked.slice(2).map((a) => a.of)).toEqual(['KELPA 13:01']);
  expect(comparing.list[0].picture?.price).toBe(100);
  asked[2].give(madePicture({ symbol: 'KELPA', price: 97 }));
  await settle();
  expect(comparing.list[0].picture?.price).toBe(97);
});

test('one that is taken away is waited for no longer, one that is added asks for itself alone', async () => {
  const { comparing, asked, want } = hold([{ symbol: 'KELPA' }]);
  asked[0].give(kelpa);
  await settle();
  want([{ symbol: 'KELPA' }, { symbol: 'MERRO' }]);
  expect(asked.slice(1).map((a) => a.of)).toEqual(['MERRO 13:00']);
  want([{ symbol: 'KELPA' }]);
  await settle();
  expect(asked[1].signal.aborted).toBe(true);
  expect(comparing.list.map((c) => [c.text, c.trouble])).toEqual([['KELPA', undefined]]);
});

test('trouble is told beside what was there, and asked for again at the next minute', async () => {
  const { comparing, asked, wait } = hold([{ symbol: 'KELPA' }]);
  asked[0].give(kelpa);
  await settle();
  wait('13:01');
  asked[1].fail(new Error('the database is away'));
  await settle();
  expect(comparing.list[0]).toMatchObject({ picture: { price: 100 }, trouble: 'the database is away' });
  wait('13:02');
  asked[2].give(kelpa);
  await settle();
  expect(comparing.list[0].trouble).toBeUndefined();
});
