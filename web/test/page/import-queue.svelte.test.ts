import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { FileImport } from '../../src/lib/api/client/file-import.svelte.ts';
import { ImportQueue } from '../../src/lib/api/client/import-queue.svelte.ts';
import type { FilePreview } from '../../src/lib/api/table-export.ts';

/* Files that were dropped together: looked at in turn, calls and puts that came apart joined, stored one after the other. */

type Side = 'call' | 'put';
/** As much of a chain's preview as the queue looks at. */
const chain = (sides: Side[], o: { symbol?: string; headers?: string[]; rows?: number } = {}) =>
  ({
    table: 'chains',
    headers: o.headers ?? ['strike', 'bid', 'ask'],
    missing: [],
    whole: {
      ...{ rows: o.rows ?? 5, sides, instants: { count: 1, first: 'a', last: 'a' } },
      underlyings: [{ symbol: o.symbol ?? 'KELPA' }],
    },
  }) as unknown as FilePreview;

let previews: Record<string, FilePreview>;
let did: string[];
beforeEach(() => {
  previews = {};
  did = [];
  vi.spyOn(FileImport.prototype, 'look').mockImplementation(function (this: FileImport) {
    did.push(`look ${this.name}`);
    this.preview = previews[this.file.name];
    if (!this.preview) this.trouble = { message: 'The file is empty.', problems: [] };
    return Promise.resolve();
  });
  vi.spyOn(FileImport.prototype, 'join').mockImplementation(function (this: FileImport, other) {
    did.push(`join ${this.file.name} ${other.file.name}`);
    this.beside = other;
    return Promise.resolve();
  });
  vi.spyOn(FileImport.prototype, 'store').mockImplementation(function (this: FileImport) {
    did.push(`store ${this.name}`);
    if (this.file.name.startsWith('refused')) this.trouble = { message: 'Refused.', problems: [] };
    else
      this.outcome = { table: 'chains', result: { underlyings: [] } } as unknown as NonNullable<FileImport['outcome']>;
    return Promise.resolve();
  });
});
afterEach(() => vi.restoreAllMocks());

const files = (...names: string[]) => names.map((name) => new File(['x'], name));

test('files are looked at in turn, and calls and puts of one chain are joined whatever their order', async () => {
  previews = { 'puts.csv': chain(['put']), 'other.csv': chain(['call', 'put']), 'calls.csv': chain(['call']) };
  const queue = new ImportQueue();
  await queue.add(files('puts.csv', 'other.csv', 'calls.csv'));
  expect(did).toEqual(['look puts.csv', 'look other.csv', 'look calls.csv', 'join calls.csv puts.csv']);
  expect(queue.items.map((i) => i.name)).toEqual(['other.csv', 'calls.csv and puts.csv']);
  // What was selected went into the other.
  expect(queue.selected?.file.name).toBe('calls.csv');
  expect(queue.working).toBe(0);
});

test('sides of different underlyings or with different columns stay apart', async () => {
  previews = {
    'calls.csv': chain(['call']),
    'merro.csv': chain(['put'], { symbol: 'MERRO' }),
    'wide.csv': chain(['put'], { headers: ['strike', 'last'] }),
  };
  const queue = new ImportQueue();
  await queue.add(files('calls.csv', 'merro.csv', 'wide.csv'));
  expect(queue.items).toHaveLength(3);
  expect(did.filter((d) => d.startsWith('join'))).toEqual([]);
});

test('what is ready is stored in order, what is refused stays with its reason, what was stored makes room for what comes', async () => {
  previews = {
    'a.csv': chain(['call', 'put']),
    'refused.csv': chain(['call', 'put']),
    'none.csv': chain(['call', 'put'], { rows: 0 }),
  };
  const queue = new ImportQueue();
  await queue.add(files('a.csv', 'refused.csv', 'none.csv', 'empty.csv'));
  expect(queue.ready.map((i) => i.name)).toEqual(['a.csv', 'refused.csv']);
  const storing = queue.storeAll();
  // A second press while it works does nothing.
  await queue.storeAll();
  await storing;
  expect(did.filter((d) => d.startsWith('store'))).toEqual(['store a.csv', 'store refused.csv']);
  expect(queue.items.map((i) => [i.name, i.trouble?.message])).toEqual([
    ['a.csv', undefined],
    ['refused.csv', 'Refused.'],
    ['none.csv', undefined],
    ['empty.csv', 'The file is empty.'],
  ]);
  previews['b.csv'] = chain(['call', 'put']);
  did = [];
  await queue.add(files('b.csv'));
  expect(queue.items.map((i) => i.name)).toEqual(['refused.csv', 'none.csv', 'empty.csv', 'b.csv']);
  // One with trouble is not looked at again by itself.
  expect(did).toEqual(['look b.csv']);
  queue.remove(queue.items[0]);
  expect(queue.items).toHaveLength(3);
});
