import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { keepRequest, type KeepRequest, shelfRow } from '../../src/lib/api/kept-structure.ts';
import {
  changeKeptStructure,
  deleteKeptStructure,
  keptStructuresOf,
  saveKeptStructures,
} from '../../src/lib/server/repositories/kept-structures.ts';
import { csvText } from '../../src/lib/server/exports/csv-text.ts';
import { shelfOf } from '../../src/lib/server/derive/shelf-of.ts';
import { dropKept, keepStructures, renameKept, shelfOwned } from '../../src/lib/server/services/shelf.ts';
import { testDatabase, type TestDatabase } from './database.ts';

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());

const ID = '00000000-0000-4000-8000-000000000000';
const side = fc.constantFrom('call' as const, 'put' as const);
const expiry = fc.constantFrom('2031-04-18', '2031-06-20', '2032-12-17');
const strike = fc.double({ min: 0.0005, max: 1e6, noNaN: true });
/** What a spreadsheet would take for a formula, and what divides lists and cells. */
const guarded = fc
  .array(fc.constantFrom('=', '+', '-', '@', "'", ';', '\\', ',', '"', 'a', ' '), { minLength: 1, maxLength: 8 })
  .map((marks) => marks.join(''));
/** Any structure that may be kept, its legs each of an option of their own, some of them at a typed price. */
const kept: fc.Arbitrary<KeepRequest> = fc
  .record({
    name: fc.oneof(fc.string({ minLength: 1, maxLength: 80, unit: 'grapheme' }), guarded),
    tags: fc.array(fc.oneof(fc.string({ minLength: 1, maxLength: 20 }), guarded), { maxLength: 5 }),
    symbol: fc.stringMatching(/^[A-Z][A-Z0-9./]{0,11}$/),
    legs: fc.uniqueArray(
      fc.record({
        side,
        expiry,
        strike,
        ratio: fc.integer({ min: -999, max: 999 }),
        price: fc.option(fc.double({ min: 0, max: 1e6, noNaN: true })),
      }),
      { minLength: 1, maxLength: 12, selector: (l) => `${l.side} ${l.expiry} ${l.strike}` },
    ),
    held: fc.double({ min: -1e6, max: 1e6, noNaN: true }),
    cost: fc.option(fc.double({ noNaN: true, noDefaultInfinity: true })),
    price: fc.double({ min: 0.001, max: 1e6, noNaN: true }),
  })
  .map(({ legs, ...rest }) => ({
    ...rest,
    asOf: '2031-03-14T14:00:00+01:00',
    legs: legs.map(({ price: _price, ...leg }) => leg),
    paid: legs.flatMap(({ price, ratio: _ratio, ...option }) => (price === null ? [] : [{ ...option, price }])),
  }))
  .map((request) => keepRequest.safeParse(request))
  .filter((parsed) => parsed.success)
  .map((parsed) => parsed.data);

/** Of a cost, a price and a held part of minus zero, which no file can tell from zero. */
const signlessZero = keepRequest.parse({
  ...{ name: '!', symbol: 'A', asOf: '2031-03-14T14:00:00+01:00', held: -0, cost: -0, price: -0 },
  legs: [{ expiry: '2031-04-18', side: 'call', strike: 0.0005, ratio: 1 }],
  paid: [{ expiry: '2031-04-18', side: 'call', strike: 0.0005, price: -0 }],
});

test('what is kept leaves as CSV or JSON and comes back the same', () => {
  fc.assert(
    fc.property(fc.array(kept, { minLength: 1, maxLength: 4 }), (requests) => {
      const structures = requests.map((request) => ({ ...request, id: ID }));
      const csv = csvText(structures.map(shelfRow));
      expect(shelfOf(csv)).toEqual({ ok: true, requests });
      expect(shelfOf(JSON.stringify({ structures }))).toEqual({ ok: true, requests });
      expect(shelfOf(`\uFEFF${csv.replaceAll('\n', '\r\n')}`)).toEqual({ ok: true, requests });
    }),
    { examples: [[[signlessZero]]] },
  );
});

test('a file that is none says which row and which part, and nothing of it is kept', () => {
  const head = 'name,tags,symbol,asOf,legs,held,cost,price';
  const good = 'one,,VM50,2031-03-14T14:00:00+01:00,1 2031-04-18 4600 put,0,100,4812';
  const troubles = (text: string) => {
    const read = shelfOf(text);
    return read.ok ? [] : read.troubles.map(({ row, path }) => `${row} ${path}`);
  };
  expect(troubles([head, good].join('\n'))).toEqual([]);
  expect(troubles([head, good, good.replace('1 2031-04-18 4600 put', '1 2031-04-18 put')].join('\n'))).toEqual([
    '2 legs.0',
  ]);
  expect(troubles([head, good.replace('4812', 'much'), good.replace('put', 'putt')].join('\n'))).toEqual([
    '1 price',
    '2 legs.0',
  ]);
  expect(troubles([head, good.replace('one', '')].join('\n'))).toEqual(['1 name']);
  for (const text of ['{}', '{"structures": 3}', '[', '[1]', head, 'a,b\n1,2', '"open', '\0\0'])
    expect(troubles(text).length, JSON.stringify(text)).toBeGreaterThan(0);
});

test('no more than may be kept, whoever asks at once; of changes at once of the same thing one is made', async () => {
  const { database } = store.connection;
  const [request] = fc.sample(kept, { numRuns: 1, seed: 5 });
  const many = Array.from({ length: 300 }, (_, i) => ({ ...request, name: `n${i}` }));
  const asked = await Promise.all(Array.from({ length: 8 }, () => keepStructures(database, 'many', many)));
  expect(asked.filter((outcome) => outcome.ok)).toHaveLength(3);
  const [one] = await shelfOwned(database, 'many');
  const rename = (name: string, etag = one.etag) => {
    const change = { name, tags: [] };
    return renameKept(database, { owner: 'many', id: one.id, change, means: (is) => is === etag });
  };
  const renamed = await Promise.all(Array.from({ length: 20 }, (_, i) => rename(`won by ${i}`)));
  const won = renamed.filter((outcome) => outcome.ok);
  expect(won).toHaveLength(1);
  const now = (await shelfOwned(database, 'many')).find((k) => k.id === one.id);
  expect(won[0]).toEqual({ ok: true, kept: now });
  // Those who came too late are told what it is now, and may say that they mean it all the same.
  for (const outcome of renamed) if (!outcome.ok) expect(outcome.now).toEqual(now);
  expect(await rename('after all', now?.etag)).toMatchObject({ ok: true, kept: { name: 'after all' } });
  const drop = (etag: string) => dropKept(database, { owner: 'many', id: one.id, means: (is) => is === etag });
  expect(await drop(one.etag)).toMatchObject({ ok: false, now: { name: 'after all' } });
  expect(await dropKept(database, { owner: 'many', id: one.id, means: () => true })).toEqual({ ok: true });
  expect(await dropKept(database, { owner: 'many', id: one.id, means: () => true })).toEqual({ ok: false });
});

test('kept by one owner: newest first, renamed and deleted by nobody else, no more than there may be, all or none', async () => {
  const { database } = store.connection;
  const [request] = fc.sample(kept, { numRuns: 1, seed: 5 });
  const [first] = await saveKeptStructures(database, 'one', [{ ...request, name: 'first' }]);
  await saveKeptStructures(database, 'one', [{ ...request, name: 'second' }]);
  const names = async (owner: string) => (await keptStructuresOf(database, owner)).map((k) => k.name);
  expect(await names('one')).toEqual(['second', 'first']);
  expect((await keptStructuresOf(database, 'one'))[1]).toEqual({ ...request, name: 'first', id: first.id });
  expect(await names('two')).toEqual([]);
  const change = { name: 'third', tags: ['a'] };
  expect(await changeKeptStructure(database, { owner: 'two', id: first.id, change })).toBeUndefined();
  expect(await changeKeptStructure(database, { owner: 'one', id: first.id, change })).toMatchObject(change);
  expect(await deleteKeptStructure(database, { owner: 'two', id: first.id })).toBe(false);
  expect(await deleteKeptStructure(database, { owner: 'one', id: first.id })).toBe(true);
  expect(await names('one')).toEqual(['second']);
  const many = Array.from({ length: 1000 }, () => request);
  expect(await keepStructures(database, 'one', many)).toMatchObject({ ok: false });
  expect(await names('one')).toEqual(['second']);
  expect(await keepStructures(database, 'one', many.slice(1))).toMatchObject({ ok: true });
  expect(await names('one')).toHaveLength(1000);
});
