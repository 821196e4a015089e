import { flushSync } from 'svelte';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { z } from 'zod';
import { Fetched } from '../../src/lib/api/client/fetched.svelte.ts';
import { defineRoute } from '../../src/lib/api/contract/route.ts';

/* An answer that follows what is shown: the old one stays until the new one is there, none is fetched twice, trouble is told. */

const tides = defineRoute({
  method: 'get',
  path: '/tides/{harbor}',
  summary: 'Tides',
  parameters: z.object({ harbor: z.string() }),
  answer: z.object({ harbor: z.string() }),
});

/** Requests that wait for the test to answer them. */
let asked: { address: string; signal: AbortSignal; answer: (response: Response) => void }[] = [];
let leave: (() => void) | undefined;
beforeEach(() => {
  asked = [];
  vi.stubGlobal('fetch', (address: string, { signal }: { signal: AbortSignal }) => {
    return new Promise<Response>((resolve, reject) => {
      asked.push({ address, signal, answer: resolve });
      signal.addEventListener('abort', () => reject(signal.reason as Error));
    });
  });
});
afterEach(() => {
  leave?.();
  vi.unstubAllGlobals();
});

/** Follows a harbor that the test changes. */
function follow(first: string | undefined) {
  let harbor = $state(first);
  let visits = $state(0);
  let fetched: Fetched<typeof tides.parameters, typeof tides.query, z.ZodUndefined, typeof tides.answer> | undefined;
  leave = $effect.root(() => {
    fetched = new Fetched(tides, () => {
      void visits;
      return harbor === undefined ? undefined : { parameters: { harbor } };
    });
  });
  flushSync();
  if (!fetched) throw new Error('not made');
  return {
    fetched,
    go(to: string | undefined) {
      harbor = to;
      flushSync();
    },
    visit() {
      visits++;
      flushSync();
    },
  };
}
const settle = () => new Promise((resolve) => setTimeout(resolve));

test('keeps the old answer until the new one is there, and gives up what nobody waits for', async () => {
  const { fetched, go } = follow('north');
  expect(fetched).toMatchObject({ answer: undefined, isLoading: true });
  asked[0].answer(Response.json({ harbor: 'north' }));
  await settle();
  expect(fetched).toMatchObject({ answer: { harbor: 'north' }, isLoading: false, error: undefined });
  go('south');
  expect(fetched).toMatchObject({ answer: { harbor: 'north' }, isLoading: true });
  go('east');
  expect(asked.map((a) => a.address)).toEqual(['north', 'south', 'east'].map((h) => `/api/v1/tides/${h}`));
  expect(asked.map((a) => a.signal.aborted)).toEqual([true, true, false]);
  // What comes late is not shown.
  asked[1].answer(Response.json({ harbor: 'south' }));
  asked[2].answer(Response.json({ harbor: 'east' }));
  await settle();
  expect(fetched.answer).toEqual({ harbor: 'east' });
});

test('asks for nothing while nothing is wanted, and not again for what is the same', async () => {
  const { fetched, go, visit } = follow(undefined);
  expect(asked).toEqual([]);
  go('north');
  asked[0].answer(Response.json({ harbor: 'north' }));
  await settle();
  visit();
  expect(asked).toHaveLength(1);
  go(undefined);
  expect(fetched.answer).toEqual({ harbor: 'north' });
  expect(asked).toHaveLength(1);
});

test('tells trouble in words beside the old answer, and tries again when told to', async () => {
  const { fetched, go } = follow('north');
  asked[0].answer(Response.json({ harbor: 'north' }));
  await settle();
  go('south');
  asked[1].answer(Response.json({ detail: 'the harbor is closed' }, { status: 503 }));
  await settle();
  expect(fetched).toMatchObject({ answer: { harbor: 'north' }, error: 'the harbor is closed', isLoading: false });
  fetched.retry();
  flushSync();
  expect(asked).toHaveLength(3);
  asked[2].answer(Response.json({ harbor: 'south' }));
  await settle();
  expect(fetched).toMatchObject({ answer: { harbor: 'south' }, error: undefined });
});
