import { FILE_LIMITS } from '@umwelt/market/file-limits';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { allShapes } from '../../../market/test/chain-file/shapes.ts';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { importOptions, type ImportOptionsInput } from '../../src/lib/api/chain-import.ts';
import { tableExport, tableImport } from '../../src/lib/api/table-export.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { importTable } from '../../src/lib/server/imports/import-table.ts';
import { previewFile } from '../../src/lib/server/imports/preview-file.ts';
import { previewImport } from '../../src/lib/server/imports/preview-import.ts';
import { underlyingChange } from '../../src/lib/api/underlying.ts';
import { findJob } from '../../src/lib/server/repositories/jobs.ts';
import { changeUnderlying, removeInstants, removeUnderlying } from '../../src/lib/server/services/change-underlying.ts';
import { openQueue } from '../../src/lib/server/jobs/queue.ts';
import { planChain } from '../../src/lib/server/imports/plan-chain.ts';
import { ReaderProcess } from '../../src/lib/server/imports/read-apart.ts';
import { undoImport } from '../../src/lib/server/imports/undo-import.ts';
import { exportTable } from '../../src/lib/server/exports/export-table.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { deriveMissing } from './derive-missing.ts';
import { spooled } from './spooled.ts';

/* Files of other programs, as they come: to the same slices, with the right terms, and taken back without a trace. */

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());
beforeEach(async () => {
  await store.connection.sql`truncate underlyings, imports, import_mappings, rate_curves cascade`;
});

const shapes = await allShapes();
const run = async (files: readonly (Uint8Array | string)[], o: ImportOptionsInput = {}) =>
  importChain(store.connection, 'local', {
    files: await Promise.all(files.map((bytes) => spooled(bytes))),
    options: importOptions.parse(o),
  });
const quotes = () => store.connection.sql<
  {
    symbol: string;
    instant: Date;
    price: number;
    expiry: Date;
    side: string;
    strike: number;
    bid: number;
    ask: number;
  }[]
>`
  select u.symbol, s.instant, s.underlying_price as price, s.expiry, side, strike, bid, ask from slices s
  join underlyings u on u.id = s.underlying_id cross join lateral (
    select 'call' as side, * from unnest(s.strikes, s.call_bid, s.call_ask) c(strike, bid, ask)
    union all select 'put', * from unnest(s.strikes, s.put_bid, s.put_ask) p(strike, bid, ask)
  ) q order by 1, 2, 4, 6, 5`;
const ROW = 'HEMLA,2031-03-14T14:00:00+01:00,81.2,2031-04-18,call,80,2.1,2.3';
const HEADER = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask';

test.each(shapes)(
  '$name: imported without a word it gives its slices, kind and exercise',
  async ({ files, market }) => {
    const outcome = await run(
      files.map((f) => f.bytes),
      { fileName: files[0].name },
    );
    expect(outcome).toMatchObject({ ok: true, result: { status: 'imported', leftOut: 0, newSlices: 4 } });
    const found = (await quotes()).map((q) => ({ ...q, instant: +new Date(q.instant), expiry: +new Date(q.expiry) }));
    const wanted = market.quotes
      .map(({ volume: _, ...q }) => ({ symbol: market.symbol, instant: market.asOf, price: market.price, ...q }))
      .sort((a, b) => a.expiry - b.expiry || a.strike - b.strike || a.side.localeCompare(b.side));
    expect(found).toEqual(wanted);
    const [terms] = await store.connection.sql`
    select t.kind, t.exercise, t.model from contract_terms t join underlyings u on u.id = t.underlying_id`;
    const model = market.kind === 'future' ? 'futures' : 'spot';
    expect(terms).toEqual({ kind: market.kind, exercise: market.exercise, model });
    // And taken back without a trace.
    const id = outcome.ok ? outcome.result.id : null;
    expect(await undoImport(store.connection, 'local', id ?? '')).toMatchObject({ ok: true, restored: 4, kept: 0 });
    expect([...(await store.connection.sql`select symbol from underlyings`)]).toEqual([]);
  },
);

test('a preview says what is new, reads every row, guesses terms with reasons and draws the smile; nothing is stored', async () => {
  const [shape] = shapes;
  const [file] = shape.files;
  const bad = Buffer.concat([
    file.bytes,
    Buffer.from('\r\nHEMLA,2031-03-14T14:00:00+01:00,81.2,2031-04-18,C,x,1,2,3,XTS'),
  ]);
  const look = await previewImport(store.connection, 'local', { files: [await spooled(bad)], fileName: file.name });
  if (!look.ok) throw new Error(look.failure.reason);
  const { whole } = look.preview;
  expect(whole).toMatchObject({
    rows: 136,
    leftOut: 1,
    problems: [{ code: 'not-a-number', field: 'strike', rows: 1, lines: [138] }],
    slices: { new: 4, changed: 0, same: 0, demo: 0 },
    expiries: 4,
    underlyings: [
      { symbol: 'HEMLA', isNew: true, terms: { exercise: { value: 'american' }, currency: { value: 'XTS' } } },
    ],
  });
  expect(whole?.smile?.curve.length).toBeGreaterThan(10);
  expect(Math.abs((whole?.smile?.atm ?? 0) - 0.22)).toBeLessThan(0.01);
  expect([...(await store.connection.sql`select symbol from underlyings`)]).toEqual([]);
  // Imported in part, what is there is told from what is not.
  await run([file.bytes.subarray(0, 4000)]);
  const again = await previewImport(store.connection, 'local', {
    files: [await spooled(file.bytes)],
    fileName: file.name,
  });
  const { slices } = (again.ok && again.preview.whole) || { slices: { new: 0, changed: 0, same: 0 } };
  expect(slices.new + slices.changed + slices.same).toBe(4);
  expect(Math.min(slices.new, slices.same)).toBeGreaterThan(0);
});

test('a remembered order of dates gives way to dates that contradict it', async () => {
  const text = (expiry: string) => `${HEADER}\nHEMLA,2031-03-01,81.2,${expiry},call,80,2.1,2.3`;
  await run([text('04/05/2031')], { format: { dateOrder: 'mdy' } });
  const look = async (expiry: string) => {
    const shown = await previewImport(store.connection, 'local', {
      files: [await spooled(text(expiry))],
      fileName: 'a.csv',
    });
    return shown.ok ? [shown.preview.memory, shown.preview.format.dateOrder] : shown.failure;
  };
  expect(await look('06/07/2031')).toEqual(['used', 'mdy']);
  expect(await look('21/06/2031')).toEqual(['none', 'dmy']);
});

test('quoted in volatility a chain comes in at those volatilities, marked, with the width that was chosen', async () => {
  const rows = ['call', 'put'].flatMap((side) =>
    [70, 75, 80, 85, 90].map(
      (strike) => `HEMLA,2031-03-14T14:00:00+01:00,80,98,${side},${strike},${30 - (strike - 80) / 4}%`,
    ),
  );
  const text = ['Symbol,Date,Spot,DTE,Type,Strike,IV', ...rows].join('\n');
  const terms = { exercise: 'american', kind: 'share' } as const;
  expect(await run([text], { volatilityWidth: 0.02, terms })).toMatchObject({ ok: true, result: { newSlices: 1 } });
  const loaded = await loadPicture(store.connection.database, 'HEMLA', asOfContext.parse({}));
  if (!loaded.ok) throw new Error(loaded.reason);
  const [expiry] = loaded.picture.expiries;
  expect(expiry.quotedIn).toBe('volatility');
  expiry.strikes.forEach((strike, i) => {
    const side = strike < expiry.forward ? expiry.put : expiry.call;
    const middle = 0.3 - (strike - 80) / 400;
    expect(Math.abs((side.bidVolatility[i] ?? 0) - (middle - 0.01)), `bid ${strike}`).toBeLessThan(2e-4);
    expect(Math.abs((side.askVolatility[i] ?? 0) - (middle + 0.01)), `ask ${strike}`).toBeLessThan(2e-4);
  });
  // The mark leaves and comes in with the file.
  const exported = await exportTable(store.connection.database, 'chains', 'HEMLA', tableExport.parse({}));
  if (!exported.ok) throw new Error(exported.reason);
  const pieces: Uint8Array[] = [];
  for await (const piece of exported.bytes) pieces.push(piece);
  await store.connection.sql`truncate underlyings cascade`;
  await run([Buffer.concat(pieces)], { terms });
  expect([...(await store.connection.sql`select quoted_in from slices`)]).toEqual([{ quoted_in: 'volatility' }]);
});

test('a missing price is implied by parity and says so; where nothing implies it the file is refused with what to do', async () => {
  const index = shapes.find((s) => s.market.kind === 'index')?.market;
  if (!index) throw new Error('no index');
  const lines = index.quotes.map((q) =>
    ['NORD5', '2031-03-14T14:00:00+01:00', new Date(q.expiry).toISOString(), q.side, q.strike, q.bid, q.ask].join(),
  );
  const header = 'underlying,as_of,expiry,side,strike,bid,ask';
  expect(await run([[header, ...lines].join('\n')])).toMatchObject({ ok: true });
  const loaded = await loadPicture(store.connection.database, 'NORD5', asOfContext.parse({}));
  if (!loaded.ok) throw new Error(loaded.reason);
  expect(loaded.picture.priceSource).toBe('parity');
  expect(Math.abs(loaded.picture.price / index.price - 1)).toBeLessThan(1e-3);
  const calls = lines.filter((line) => line.includes(',call,')).map((line) => line.replace('NORD5', 'NOPRICE'));
  expect(await run([[header, ...calls].join('\n')])).toMatchObject({
    failure: { reason: 'no-price', symbol: 'NOPRICE' },
  });
});

describe('taking back', () => {
  const stored = () => store.connection.sql`
    select s.instant, s.expiry, s.strikes, s.call_bid, s.put_bid, s.source, s.import_id from slices s order by 1, 2`;
  const idOf = (outcome: Awaited<ReturnType<typeof run>>) => {
    if (!outcome.ok || outcome.result.id === null) throw new Error('nothing was imported');
    return outcome.result.id;
  };

  test('an overwriting import gives back what it overwrote, a demo row as the demo’s; the file can then come in again', async () => {
    const first = idOf(await run([`${HEADER}\n${ROW}\n${ROW.replace('04-18', '05-16')}`]));
    await store.connection.sql`update slices set source = 'demo', import_id = null`;
    const before = [...(await stored())];
    const over = `${HEADER}\n${ROW.replace('2.1', '2.0')}\n${ROW.replace('04-18', '06-20')}`;
    const second = idOf(await run([over]));
    expect(second).not.toBe(first);
    expect(await undoImport(store.connection, 'local', second)).toMatchObject({ ok: true, restored: 2, kept: 0 });
    expect([...(await stored())]).toEqual(before);
    expect(await undoImport(store.connection, 'local', second)).toMatchObject({
      reason: 'not-possible',
      undo: 'undone',
    });
    expect(await run([over])).toMatchObject({ result: { status: 'imported', newSlices: 1, changedSlices: 1 } });
  });

  test('rows that a later import changed stay and are counted, and do not come up again when that is taken back', async () => {
    const first = idOf(await run([`${HEADER}\n${ROW}\n${ROW.replace('04-18', '05-16')}`]));
    const second = idOf(await run([`${HEADER}\n${ROW.replace('2.1', '2.0')}`]));
    expect(await undoImport(store.connection, 'local', first)).toMatchObject({ ok: true, restored: 1, kept: 1 });
    expect((await stored()).map((s) => [(s.call_bid as number[])[0], s.import_id as string])).toEqual([[2, second]]);
    expect(await undoImport(store.connection, 'local', second)).toMatchObject({ ok: true, restored: 1, kept: 0 });
    expect([...(await stored())]).toEqual([]);
    expect([...(await store.connection.sql`select 1 from derived_measures`)]).toEqual([]);
  });

  test('calls and then puts make one slice, and the puts alone can be taken back', async () => {
    const calls = idOf(await run([`${HEADER}\n${ROW}`]));
    const puts = idOf(await run([`${HEADER}\n${ROW.replace(',call,', ',put,').replace('2.1', '1.1')}`]));
    const sides = async () => (await stored()).map((s) => [...(s.call_bid as number[]), ...(s.put_bid as number[])]);
    expect(await sides()).toEqual([[2.1, 1.1]]);
    expect(await undoImport(store.connection, 'local', puts)).toMatchObject({ ok: true, restored: 1 });
    expect(await sides()).toEqual([[2.1, NaN]]);
    expect(await undoImport(store.connection, 'local', calls)).toMatchObject({ ok: true, removed: ['HEMLA'] });
  });

  test.each([
    [
      'bars',
      'underlying,session,open,high,low,close,volume\nHEMLA,2031-03-13,1,2,1,2,5',
      ',2,5',
      ',1.5,5',
      'daily_bars',
    ],
    ['rates', 'currency,session,days,rate\nEUR,2031-03-13,30,0.04', '0.04', '0.05', 'rate_curves'],
    [
      'dividends',
      'underlying,ex_date,instant,amount\nHEMLA,2031-04-01,2031-04-01T09:00:00Z,0.5',
      '0.5',
      '0.6',
      'dividends',
    ],
  ] as const)('%s come back as they were', async (table, body, old, next, target) => {
    const bring = async (text: string) => {
      const outcome = await importTable(store.connection, 'local', {
        ...{ table, file: await spooled(text), options: tableImport.parse({}) },
      });
      return outcome.ok ? outcome.id : null;
    };
    const rows = async () => [...(await store.connection.sql.text(`select * from ${target}`))];
    await bring(body);
    const before = await rows();
    expect(await bring(body)).toBeNull();
    const id = await bring(body.replace(old, next));
    expect(await rows()).not.toEqual(before);
    expect(await undoImport(store.connection, 'local', id ?? '')).toMatchObject({ ok: true, restored: 1 });
    expect(await rows()).toEqual(before);
  });

  test('imports from before this was kept, of others, and unknown ones say that they cannot be', async () => {
    const id = idOf(await run([`${HEADER}\n${ROW}`]));
    expect(await undoImport(store.connection, 'somebody else', id)).toEqual({ ok: false, reason: 'unknown' });
    await store.connection.sql`update imports set undo = 'never'`;
    expect(await undoImport(store.connection, 'local', id)).toMatchObject({ reason: 'not-possible', undo: 'never' });
  });
});

test('any file is recognised by its columns, and whose rows they are by its name', async () => {
  const look = async (text: string, fileName: string) => {
    const files = [await spooled(text)];
    const outcome = await previewFile(store.connection, 'local', { files, fileName });
    if (!outcome.ok) return outcome.failure;
    const { preview } = outcome;
    return preview.table === 'chains'
      ? ['chains']
      : [preview.table, preview.of, preview.slices.new, preview.problems.length];
  };
  expect(await look('Date,Open,High,Low,Close\n14 Mar 2031,1,2,1,2', 'hemla-daily.csv')).toEqual([
    'bars',
    'HEMLA',
    1,
    0,
  ]);
  expect(await look('Ccy,Date,Days,Rate\nEUR,2031-03-14,30,4.1%', 'curve.csv')).toEqual(['rates', null, 1, 0]);
  expect(await look('Ex-Date,Amount\n2031-04-01,0.4', 'HEMLA dividends.csv')).toEqual(['dividends', 'HEMLA', 1, 0]);
  expect(await look('Symbol,Date,Type,Title\nHEMLA,2031-04-01 08:00,report,Q1', 'x.csv')).toEqual([
    'events',
    null,
    1,
    0,
  ]);
  expect(await look(`${HEADER}\n${ROW}`, 'x.csv')).toEqual(['chains']);
  const calendar = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//x//y',
    'BEGIN:VEVENT',
    'UID:1',
    'DTSTART:20310401T070000Z',
  ];
  const event = [...calendar, 'SUMMARY:HEMLA report', 'CATEGORIES:report', 'END:VEVENT', 'END:VCALENDAR'].join('\r\n');
  expect((await look(event, 'x.ics')) as unknown[]).toMatchObject({ 0: 'events' });
});

test('a share with American exercise and a future leave in every format and come in again the same, terms and all', async () => {
  for (const kind of ['share', 'future'] as const) {
    const shape = shapes.find((s) => s.market.kind === kind);
    if (!shape) throw new Error(kind);
    const state = async () => [
      ...(await quotes()),
      ...(await store.connection.sql`
        select kind, exercise, model, settlement, multiplier, currency, zone, session_close from contract_terms`),
    ];
    for (const format of ['csv', 'jsonl', 'parquet'] as const) {
      await store.connection.sql`truncate underlyings, imports cascade`;
      await run(
        shape.files.map((f) => f.bytes),
        { fileName: shape.files[0].name, terms: { multiplier: 7 } },
      );
      const before = await state();
      const { symbol } = shape.market;
      const exported = await exportTable(store.connection.database, 'chains', symbol, tableExport.parse({ format }));
      if (!exported.ok) throw new Error(exported.reason);
      const pieces: Uint8Array[] = [];
      for await (const piece of exported.bytes) pieces.push(piece);
      await store.connection.sql`truncate underlyings, imports cascade`;
      expect(await run([Buffer.concat(pieces)], { fileName: `out.${format}` })).toMatchObject({ ok: true });
      expect(await state(), `${kind} ${format}`).toEqual(before);
    }
  }
});

test('terms changed later move expiries that are dates, and a job derives anew what depends on them', async () => {
  await run([`${HEADER}\n${ROW}`], { terms: { exercise: 'american', kind: 'share' } });
  await deriveMissing(store.connection);
  const boss = await openQueue(store.url);
  const change = (body: object) =>
    changeUnderlying(store.connection, 'local', {
      ...{ symbol: 'HEMLA', change: underlyingChange.parse(body), queue: () => Promise.resolve(boss) },
    });
  const changed = await change({ exercise: 'european', kind: 'index', sessionClose: '16:00', zone: '-05:00' });
  expect(changed).toMatchObject({
    ok: true,
    underlying: { exercise: 'european', kind: 'index', settlement: 'cash', model: 'spot' },
  });
  const [slice] = await store.connection.sql<{ expiry: string }[]>`select expiry from slices`;
  expect(new Date(slice.expiry).toISOString()).toBe('2031-04-18T21:00:00.000Z');
  const job = changed.ok ? await findJob(store.connection.database, 'local', changed.job ?? '') : undefined;
  expect(job).toMatchObject({ state: 'waiting', payload: { kind: 'derive-measures' } });
  expect([...(await store.connection.sql`select version from derived_measures`)]).toEqual([{ version: 0 }]);
  // Deleted, its work ends with it.
  expect(await removeUnderlying(store.connection, 'HEMLA')).toBe(true);
  expect(await findJob(store.connection.database, 'local', job?.id ?? '')).toMatchObject({ state: 'cancelled' });
  expect(await change({ multiplier: 10 })).toEqual({ ok: false, reason: 'unknown' });
  await boss.stop({ graceful: false });
  expect(underlyingChange.safeParse({}).success).toBe(false);
  expect(underlyingChange.safeParse({ zone: 'Nowhere/Never' }).success).toBe(false);
});

test('single instants can be taken out, with what was derived of them, and nothing of the demo', async () => {
  await run([`${HEADER}\n${ROW}\n${ROW.replace('03-14', '03-13')}`]);
  await deriveMissing(store.connection);
  const { database, sql } = store.connection;
  const at = new Date('2031-03-13T13:00:00Z');
  expect(await removeInstants(database, 'HEMLA', [at])).toBe(1);
  expect(await removeInstants(database, 'HEMLA', [at])).toBe(0);
  expect([...(await sql`select instant from derived_measures`)]).toHaveLength(1);
  await sql`update slices set source = 'demo'`;
  expect(await removeInstants(database, 'HEMLA', [new Date('2031-03-14T13:00:00Z')])).toBe(0);
});

test('rows wait for whoever reads them, even when the process that read the file has ended long before', async () => {
  const file = await spooled(`${HEADER}\n${ROW}\n${ROW.replace('04-18', '05-16')}`);
  const reader = new ReaderProcess();
  const look = await reader.look(file.path, {});
  if (look.type !== 'look' || !look.detected.ok) throw new Error('not recognised');
  const plan = planChain({ detected: look.detected, fileName: 'a.csv', options: undefined });
  const { rows, outcome } = reader.read({
    ...{ kind: 'chain', path: file.path, limits: FILE_LIMITS, format: look.format, read: plan.read },
    ...{ mostProblems: 10, badRows: 'leave-out' },
  });
  // Nobody listens to the rows until the process is gone.
  expect(await outcome).toMatchObject({ type: 'chain', rows: 2 });
  let text = '';
  for await (const piece of rows as AsyncIterable<Buffer>) text += piece.toString();
  expect(text.trim().split('\n')).toHaveLength(2);
});
