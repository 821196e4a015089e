import { readFileSync } from 'node:fs';
import { normalCdf } from '@umwelt/core/math';
import { black76Price } from '@umwelt/core/pricing';
import { durrleman, type Smile, smileVolatility, sviRawSmile } from '@umwelt/core/surface';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { borrowedSmileOf, expirySmile } from '../../src/lib/theory/index.ts';
import { replayFrames } from '../../src/lib/views/skew/replay-frames.ts';
import { tableExport } from '../../src/lib/api/table-export.ts';
import { importOptions, type ImportOptionsInput } from '../../src/lib/api/chain-import.ts';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { borrowOf, keepLink } from '../../src/lib/server/services/borrow.ts';
import { exportTable } from '../../src/lib/server/exports/export-table.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { skewHistoryOf } from '../../src/lib/server/services/skew-history.ts';
import { previewImport } from '../../src/lib/server/imports/preview-import.ts';
import { listImports } from '../../src/lib/server/repositories/imports.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { deriveMissing } from './derive-missing.ts';
import { spooled } from './spooled.ts';

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());
beforeEach(async () => {
  await store.connection.sql`truncate underlyings, imports, import_mappings cascade`;
});

const file = (name: string) => readFileSync(new URL(`../../../e2e/files/${name}`, import.meta.url));
async function* chunks(bytes: Uint8Array, size = 1 << 14) {
  for (let i = 0; i < bytes.length; i += size) yield bytes.subarray(i, i + size);
}
const run = async (source: AsyncIterable<Uint8Array>, o: ImportOptionsInput = {}) =>
  importChain(store.connection, 'local', { files: [await spooled(source)], options: importOptions.parse(o) });
const runText = (text: string, o: ImportOptionsInput = {}) => run(chunks(Buffer.from(text)), o);
const previewOf = async (bytes: Uint8Array, fileName = 'chain.csv') =>
  previewImport(store.connection, 'local', { files: [await spooled(bytes)], fileName });

async function counts() {
  const [row] = await store.connection.sql<
    { slices: number; underlyings: number; imports: number; measures: number }[]
  >`
    select (select count(*)::int from slices) as slices, (select count(*)::int from underlyings) as underlyings,
      (select count(*)::int from imports where refusal is null) as imports, (select count(*)::int from derived_measures) as measures`;
  return row;
}
const NOTHING = { slices: 0, underlyings: 0, imports: 0, measures: 0 };
const HEADER = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask';
const ROW = 'KELPA,2031-03-14T17:30:00+01:00,81.2,2031-04-18,call,80,2.1,2.3';

test('an imported Heston chain gives the forward, smile and faults that stand behind the file, free of arbitrage', async () => {
  interface Expected {
    slices: {
      expiry: string;
      years: number;
      forward: number;
      discountFactor: number;
      quotes: { strike: number; volatility: number | null }[];
    }[];
    faults: { expiry: string; side: 'call' | 'put'; strike: number; kind: string }[];
  }
  for (const name of ['plain', 'localised']) {
    await store.connection.sql`truncate underlyings, imports, import_mappings cascade`;
    const outcome = await run(chunks(file(`heston-${name}.csv`)), { fileName: `heston-${name}.csv` });
    expect(outcome).toMatchObject({ ok: true, result: { status: 'imported', slices: 8, newSlices: 8 } });
    const loaded = await loadPicture(store.connection.database, 'FJRD', asOfContext.parse({}));
    if (!loaded.ok) throw new Error(loaded.reason);
    const expected = JSON.parse(file(`heston-${name}.expected.json`).toString()) as Expected;
    const faults: string[] = [];
    for (const [i, truth] of expected.slices.entries()) {
      const e = loaded.picture.expiries[i];
      expect(e.date).toBe(truth.expiry);
      expect(Math.abs(e.forward / truth.forward - 1)).toBeLessThan(2e-4);
      expect(Math.abs(e.discountFactor / truth.discountFactor - 1)).toBeLessThan(1e-3);
      const nearest = truth.quotes.reduce((a, b) =>
        Math.abs(b.strike - truth.forward) < Math.abs(a.strike - truth.forward) ? b : a,
      );
      expect(Math.abs((e.atm ?? NaN) - (nearest.volatility ?? NaN))).toBeLessThan(0.0015);
      for (const side of ['call', 'put'] as const) {
        e[side].verdict.forEach((v, n) => {
          if (v === 'crossed' || v === 'stale' || v === 'no-ask') faults.push(`${e.date} ${side} ${e.strikes[n]} ${v}`);
        });
      }
    }
    expect(faults.sort()).toEqual(expected.faults.map((f) => `${f.expiry} ${f.side} ${f.strike} ${f.kind}`).sort());

    // The whole smile between the 10-delta strikes, free of arbitrage within each expiry and from one to the next.
    let strikes = 0;
    let near: SliceSmileOf | undefined;
    for (const [i, truth] of expected.slices.entries()) {
      const e = loaded.picture.expiries[i];
      if (e.smile?.model !== 'svi-raw') throw new Error(`no smile of ${e.date}`);
      const smile = sviRawSmile(e.smile.parameters, e.years);
      for (const { strike, volatility } of truth.quotes) {
        if (volatility === null) continue;
        const k = Math.log(strike / truth.forward);
        const deviation = volatility * Math.sqrt(truth.years);
        const delta = normalCdf(-k / deviation + 0.5 * deviation);
        if (delta < 0.1 || delta > 0.9) continue;
        strikes++;
        const fitted = smileVolatility(smile, Math.log(strike / e.forward));
        expect(Math.abs(fitted - volatility), `${e.date} ${strike}`).toBeLessThanOrEqual(0.0015);
      }
      const [low, high] = e.smile.range;
      expect(e.isArbitrageFree).toBe(true);
      expect(Math.min(...grid(low, high).map((k) => durrleman(smile, k)))).toBeGreaterThanOrEqual(-1e-9);
      if (near) {
        const { smile: before, range } = near;
        const both = grid(Math.max(low, range[0]), Math.min(high, range[1]));
        expect(both.every((k) => smile.totalVariance(k) >= before.totalVariance(k) * (1 - 1e-9))).toBe(true);
      }
      near = { smile, range: e.smile.range };
    }
    expect(strikes).toBeGreaterThan(100);
  }
});

interface SliceSmileOf {
  smile: Smile;
  range: [number, number];
}
const grid = (low: number, high: number) => Array.from({ length: 201 }, (_, i) => low + ((high - low) * i) / 200);

test('a smile that no raw SVI holds is kept for the year, and can be lent', async () => {
  // The split one ends near one of two levels: a mixture of lognormals; the other is a plain one of the same level.
  const years = 7 / 365;
  const price = (forwards: readonly number[], side: 'call' | 'put', strike: number) => {
    const prices = forwards.map((forward) =>
      black76Price({ side, forward, strike, timeToExpiry: years, volatility: 0.3, discountFactor: 1 }),
    );
    return prices.reduce((sum, p) => sum + p, 0) / prices.length;
  };
  const rows = Object.entries({ SPLIT: [91, 109], PLAIN: [100] }).flatMap(([symbol, forwards]) =>
    Array.from({ length: 45 }, (_, i) => 78 + i).flatMap((strike) =>
      (['call', 'put'] as const).map((side) => {
        const mid = price(forwards, side, strike);
        const quotes = [Math.max(0, mid - 0.02), mid + 0.02];
        return [symbol, '2031-03-14T17:30:00+01:00', 100, '2031-03-21T17:30:00+01:00', side, strike, ...quotes].join();
      }),
    ),
  );
  expect(await runText([HEADER, ...rows].join('\n'))).toMatchObject({ ok: true, result: { newSlices: 2 } });
  const { database } = store.connection;
  const pictures = [];
  for (const symbol of ['SPLIT', 'PLAIN']) {
    const loaded = await loadPicture(database, symbol, asOfContext.parse({}));
    if (!loaded.ok) throw new Error(loaded.reason);
    pictures.push(loaded.picture);
  }
  const [split, plain] = pictures;
  const [expiry] = split.expiries;
  expect(expiry.smile?.model).toBe('spline');
  const own = expirySmile(expiry);
  if (!own) throw new Error('no smile');

  const stored = await findUnderlying(database, 'SPLIT');
  if (!stored) throw new Error('SPLIT is not stored');
  await deriveMissing(store.connection);
  const { sessions } = await skewHistoryOf(database, stored, new Date(split.asOf), 7);
  const { frames, logMoneyness } = replayFrames(sessions);
  expect(frames).toHaveLength(1);
  logMoneyness.forEach((k, i) => expect(frames[0].volatility[i]).toBeCloseTo(smileVolatility(own, k), 12));

  await keepLink(database, 'local', 'PLAIN', { donor: 'SPLIT', kind: 'total', shift: 0, ratio: 1 });
  const { expiries } = await borrowOf(database, 'local', plain);
  const lent = borrowedSmileOf({ ...plain.expiries[0], borrowed: expiries[expiry.date] });
  if (!lent) throw new Error('nothing borrowed');
  for (const k of [-0.1, 0, 0.1]) expect(smileVolatility(lent, k)).toBeCloseTo(smileVolatility(own, k), 12);
});

test('the same file a second time changes nothing and says so', async () => {
  const first = await run(chunks(file('heston-plain.csv')));
  const before = await counts();
  const second = await run(chunks(file('heston-plain.csv'), 999));
  expect(first.ok && second.ok && second.result).toMatchObject({
    status: 'unchanged',
    slices: 8,
    newSlices: 0,
    // Nothing was stored, so that there is nothing to take back.
    id: null,
  });
  expect(await counts()).toEqual(before);
  expect(await listImports(store.connection.database, 'somebody else')).toEqual([]);
});

test.each([
  ['a binary file', 'PX\u0003\u0004\u0000\u0000', { reason: 'binary' }],
  ['half a workbook', 'PK\u0003\u0004\u0000\u0000', { reason: 'unreadable' }],
  ['an empty file', '', { reason: 'empty' }],
  ['a header alone', HEADER, { reason: 'no-rows' }],
  [
    'a missing column',
    `${HEADER.replace(',strike', '')}\n${ROW.replace(',80,', ',')}`,
    { reason: 'missing-columns', columns: ['strike'] },
  ],
  [
    'text in a number',
    `${HEADER}\n${ROW}\n${ROW.replace('2.1', 'abc')}`,
    { reason: 'bad-rows', problems: [{ line: 3, field: 'bid', value: 'abc', code: 'not-a-number' }] },
  ],
  [
    'a negative strike',
    `${HEADER}\n${ROW.replace(',80,', ',-80,')}`,
    { reason: 'bad-rows', problems: [{ line: 2, field: 'strike', value: '-80', code: 'not-positive' }] },
  ],
  [
    'an expiry before the snapshot',
    `${HEADER}\n${ROW.replace('2031-04-18', '2031-03-07')}`,
    { reason: 'bad-rows', problems: [{ line: 2, field: 'expiry', value: '2031-03-07', code: 'expired' }] },
  ],
  [
    'duplicate rows',
    `${HEADER}\n${ROW}\n${ROW.replace('2.1', '2.0')}`,
    { reason: 'bad-rows', problems: [{ line: 3, code: 'duplicate' }] },
  ],
])(
  '%s is refused with its reason, where the whole file is to be refused, and leaves the database untouched',
  async (_name, text, failure) => {
    const outcome = await runText(text, { badRows: 'refuse' });
    expect(outcome).toMatchObject({ ok: false, failure });
    expect(await counts()).toEqual(NOTHING);
  },
);

test('200 MB of rubbish is refused by its beginning, without reading it, and leaves the database untouched', async () => {
  async function* rubbish(line: string) {
    yield Buffer.from(`${HEADER}\n`);
    const junk = Buffer.from(line.repeat(Math.floor((1 << 20) / line.length)));
    for (let read = 0; read < 200; read++) yield await Promise.resolve(junk);
  }
  const options = importOptions.parse({ badRows: 'refuse' });
  const binary = await spooled(Buffer.alloc(200 << 20, 0));
  expect(await importChain(store.connection, 'local', { files: [binary], options })).toMatchObject({
    failure: { reason: 'binary' },
  });
  // With a good header in front, reading stops after the first thousand bad rows.
  const lines = await spooled(rubbish('KELPA,2031-03-14T17:30:00+01:00,x,2031-04-18,call,80,2,3\n'));
  const outcome = await importChain(store.connection, 'local', { files: [lines], options });
  expect(outcome).toMatchObject({ ok: false, failure: { reason: 'bad-rows', isTruncated: true } });
  expect(lines.progress.share).toBeLessThan(0.1);
  expect(await counts()).toEqual(NOTHING);
});

test('an upload that breaks off in the middle leaves nothing behind', async () => {
  async function* broken() {
    yield* chunks(file('heston-plain.csv').subarray(0, 20000));
    throw new Error('connection lost');
  }
  await expect(run(broken())).rejects.toThrow('connection lost');
  expect(await counts()).toEqual(NOTHING);
});

test('twenty thousand rows over many instants become slices', async () => {
  const instants = 10;
  async function* large() {
    yield Buffer.from(`${HEADER}\n`);
    for (let day = 0; day < instants; day++) {
      const asOf = new Date(Date.UTC(2030, 0, 1 + day, 16, 30)).toISOString();
      const lines: string[] = [];
      for (let expiry = 1; expiry <= 20; expiry++) {
        const date = new Date(Date.UTC(2030, 6, 1 + 7 * expiry)).toISOString().slice(0, 10);
        for (let strike = 1; strike <= 100; strike++) {
          lines.push(
            `BIG,${asOf},50,${date},call,${strike},${Math.max(0.01, 50 - strike)},${Math.max(0.02, 50 - strike + 0.1)}`,
          );
        }
      }
      yield Buffer.from(`${lines.join('\n')}\n`);
    }
  }
  const outcome = await run(large());
  expect(outcome).toMatchObject({ ok: true, result: { rows: 20_000, slices: 200 } });
});

test('a corrected mapping and typed values are used, and the mapping is remembered for such files', async () => {
  const text = 'contract,when,style,level,b,a\n80,2031-04-18,C,81,2.1,2.3\n80,2031-04-18,P,81,1.1,1.2';
  const sample = Buffer.from(text);
  const look = await previewOf(sample);
  expect(look.ok && look.preview.missing).toContain('strike');
  const options: ImportOptionsInput = {
    mapping: { strike: 0, expiry: 1, side: 2, underlyingPrice: 3, bid: 4, ask: 5 },
    typed: { underlying: 'ORVEN', asOf: '2031-03-14T17:30:00+01:00' },
    terms: { kind: 'share', multiplier: 50 },
  };
  expect(await run(chunks(sample), options)).toMatchObject({ ok: true, result: { rows: 2, slices: 1 } });
  const again = await previewOf(sample);
  expect(again).toMatchObject({ ok: true, preview: { memory: 'used', mapping: { strike: 0, ask: 5 } } });
  expect(await loadPicture(store.connection.database, 'ORVEN', asOfContext.parse({}))).toMatchObject({
    ok: true,
    picture: { price: 81, underlying: { kind: 'share', multiplier: 50 } },
  });
});

test('what is exported imports again to the same thing, and every instant can be exported at once', async () => {
  await run(chunks(file('heston-plain.csv')));
  const later =
    'FJRD,2031-03-17T17:30:00+01:00,142,2031-04-18,call,140,5.1,5.3\nFJRD,2031-03-17T17:30:00+01:00,142,2031-04-18,put,140,2.9,';
  await runText(`${HEADER}\n${later}`);
  const { database, sql } = store.connection;
  const stored = () => sql`select * from slices order by instant, expiry`;
  const before = await stored();
  const exported = async (query: object) => {
    const result = await exportTable(database, 'chains', 'FJRD', tableExport.parse(query));
    if (!result.ok) throw new Error(result.reason);
    const pieces: Uint8Array[] = [];
    for await (const piece of result.bytes) pieces.push(piece);
    const bytes = Buffer.concat(pieces);
    return { ...result, bytes, text: bytes.toString() };
  };
  const latest = await exported({});
  expect(latest.fileName).toBe('FJRD-2031-03-17T1630.csv');
  expect(latest.text.trim().split('\n')).toHaveLength(3);
  const all = await exported({ scope: 'all' });
  // Into an empty store, and over what is there already.
  const again = await runText(all.text);
  expect(again).toMatchObject({ ok: true, result: { status: 'unchanged', slices: 9, newSlices: 0, changedSlices: 0 } });
  await sql`truncate underlyings, imports, import_mappings cascade`;
  expect(await runText(all.text)).toMatchObject({ ok: true, result: { newSlices: 9 } });
  const after = await stored();
  const withoutId = (rows: Iterable<Record<string, unknown>>) =>
    [...rows].map((row) => ({ ...row, underlying_id: 0, import_id: 0 }));
  expect(withoutId(after)).toEqual(withoutId(before));
  // The same from JSON lines and from Parquet.
  for (const format of ['jsonl', 'parquet']) {
    await sql`truncate underlyings, imports, import_mappings cascade`;
    await runText(all.text);
    const { bytes } = await exported({ scope: 'all', format });
    await sql`truncate underlyings, imports, import_mappings cascade`;
    expect(await run(chunks(bytes)), format).toMatchObject({ ok: true, result: { newSlices: 9 } });
    expect(withoutId(await stored()), format).toEqual(withoutId(before));
  }
  const old = await exported({ asOf: '2031-03-15T00:00:00Z', format: 'jsonl' });
  expect(old.fileName).toBe('FJRD-2031-03-14T1630.jsonl');
  expect(JSON.parse(old.text.slice(0, old.text.indexOf('\n')))).toMatchObject({ underlying: 'FJRD', side: 'call' });
  expect(await exportTable(database, 'chains', 'NOBODY', tableExport.parse({}))).toEqual({
    ok: false,
    reason: 'no-underlying',
  });
});
