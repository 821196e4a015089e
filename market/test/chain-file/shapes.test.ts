import { gunzipSync } from 'node:zlib';
import { expect, test } from 'vitest';
import {
  type ChainRow,
  detectColumns,
  type DetectResult,
  detectFormat,
  factsOfFileName,
  isProblem,
  readChain,
  typedByFacts,
} from '../../src/chain-file/index.ts';
import { missingFields } from '../../src/chain-format/index.ts';
import { fileFormatOf, fileInMemory, firstRows } from '../../src/table-file/index.ts';
import { allShapes, type Shape } from './shapes.ts';

/** Everything recognised from a file alone. */
async function recognise({ name, bytes }: Shape['files'][number]) {
  const plain = bytes[0] === 0x1f ? gunzipSync(bytes) : bytes;
  const kind = fileFormatOf(plain.subarray(0, 4096));
  const source = fileInMemory(bytes);
  const marks = { encoding: 'utf-8', delimiter: ',' } as const;
  const detected: DetectResult =
    kind === 'csv'
      ? await detectFormat(plain.subarray(0, 1 << 16), { isWhole: plain.length <= 1 << 16 })
      : detectColumns(await firstRows(source, kind, marks), marks);
  if (!detected.ok) throw new Error(detected.reason);
  const typed = typedByFacts(detected.mapping, [...detected.facts, ...factsOfFileName(name)]);
  return { kind, source, detected, typed };
}

const shapes = await allShapes();

test.each(shapes)('$name reads to the quotes that were written', async ({ files, market }) => {
  const rows: ChainRow[] = [];
  for (const file of files) {
    const { kind, source, detected, typed } = await recognise(file);
    expect(missingFields(detected.mapping, typed)).toEqual([]);
    const options = { ...detected, typed, zone: '+01:00', sessionClose: '17:30' };
    for await (const row of readChain(source, kind, options)) {
      if (isProblem(row)) throw new Error(`${row.line} ${row.field} ${row.value} ${row.code}`);
      rows.push(row);
    }
  }
  const key = (q: { expiry: number; strike: number; side: string }) => `${q.expiry} ${q.strike} ${q.side}`;
  const found = rows.map((r) => [key(r), r.underlying, r.asOf, r.underlyingPrice, r.bid, r.ask, r.volume || 0]);
  const wanted = market.quotes.map((q) => [
    ...[key(q), market.symbol, market.asOf, market.price, q.bid, q.ask, q.volume],
  ]);
  expect(found.sort()).toEqual(wanted.sort());
});
