import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { FileImport, problemsCsv, viewLinks } from '../../src/lib/api/client/file-import.svelte.ts';

/* A file on its way in: sent once, looked at, corrected, stored; sent again where the server has lost it; trouble told with its rows. */

const ID = '00000000-0000-4000-8000-000000000001';
const OTHER = '00000000-0000-4000-8000-000000000002';
const PREVIEW = {
  ...{ table: 'dividends', of: 'KELPA', isOfNeeded: true, rows: 3, problems: [], columns: ['ex_date', 'amount'] },
  ...{ slices: { new: 0, changed: 0, same: 0 }, first: [], underlyings: [] },
};
const RESULT = { table: 'dividends', id: 'x', rows: 3, changed: 3, underlyings: ['KELPA'] };

/** What the server was asked, uploads aside, and what it answers in turn. */
let asked: { method: string; path: string; query: Record<string, string> }[];
let answers: (() => Response | Promise<Response>)[];
/** Answers to files that are sent, in turn. */
let sent: { status: number; body: unknown }[];

class Sending {
  upload: { onprogress?: (event: { loaded: number }) => void } = {};
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  responseText = '';
  open(): void {}
  setRequestHeader(): void {}
  send(): void {
    const next = sent.shift();
    this.upload.onprogress?.({ loaded: 4 });
    setTimeout(() => {
      if (!next) this.onerror?.();
      else {
        this.responseText = JSON.stringify(next.body);
        this.onload?.();
      }
    });
  }
  abort(): void {
    this.onabort?.();
  }
}

const received = (id = ID) => ({ status: 201, body: { id, bytes: 8, stage: 'received', share: 0, rows: 0 } });
const ok = (body: unknown) => () => Response.json(body);
const refuse = (status: number, body: object) => () => Response.json(body, { status });

beforeEach(() => {
  [asked, answers, sent] = [[], [], [received()]];
  vi.stubGlobal('XMLHttpRequest', Sending);
  vi.stubGlobal('fetch', (address: string, o: { method: string; signal?: AbortSignal }) => {
    const url = new URL(address, 'http://localhost');
    const path = url.pathname.replace('/api/v1', '');
    if (path.startsWith('/uploads/') && o.method === 'GET') return Promise.resolve(Response.json(received().body));
    asked.push({ method: o.method, path, query: Object.fromEntries(url.searchParams) });
    if (o.method === 'DELETE') return Promise.resolve(new Response(null, { status: 204 }));
    const answer = answers.shift();
    return new Promise<Response>((resolve, reject) => {
      o.signal?.addEventListener('abort', () => reject(o.signal?.reason as Error));
      if (answer) void Promise.resolve(answer()).then(resolve, reject);
    });
  });
});
afterEach(() => vi.unstubAllGlobals());

const dividends = () => new FileImport(new File(['ex_date,amount'], 'kelpa dividends.csv'));

test('is sent once, looked at, and stored by what the server calls it; then the server may forget it', async () => {
  const file = dividends();
  answers = [ok(PREVIEW), ok(RESULT)];
  await file.look();
  expect(file).toMatchObject({ isReady: true, trouble: undefined, doing: undefined });
  expect(asked[0]).toEqual({
    method: 'POST',
    path: '/imports/preview',
    query: { fileName: 'kelpa dividends.csv', upload: ID },
  });
  await file.store();
  expect(asked[1]).toEqual({
    method: 'POST',
    path: '/imports/tables/dividends',
    query: { fileName: 'kelpa dividends.csv', terms: '{}', of: 'KELPA', upload: ID },
  });
  expect(asked[2]).toEqual({ method: 'DELETE', path: `/uploads/${ID}`, query: {} });
  expect(file.outcome).toEqual({ table: 'dividends', result: RESULT });
  expect([sent.length, file.isReady]).toEqual([0, false]);
  expect(viewLinks(file.outcome ?? ({} as never)).map((l) => [l.symbol, l.href('term')])).toEqual([
    ['KELPA', '/term/KELPA'],
  ]);
});

test('a correction asks again of the file that was sent', async () => {
  const file = dividends();
  answers = [ok(PREVIEW), ok({ ...PREVIEW, of: 'MERRO' })];
  await file.look();
  file.of = 'MERRO';
  await file.correct({});
  expect(asked[1]).toMatchObject({ path: '/imports/tables/dividends/preview', query: { of: 'MERRO', upload: ID } });
  expect(file.tableRows?.of).toBe('MERRO');
});

test('a server that has lost the file is sent it once more, and not for ever', async () => {
  const file = dividends();
  sent = [received(), received(OTHER)];
  const gone = refuse(410, { title: 'It is here no more', detail: 'send the file again' });
  answers = [gone, ok(PREVIEW)];
  await file.look();
  expect(asked.map((a) => a.query.upload)).toEqual([ID, OTHER]);
  expect(file.tableRows?.rows).toBe(3);
  sent = [received()];
  answers = [gone, gone];
  await file.correct({});
  expect(file.trouble?.message).toBe('It is here no more. send the file again');
  expect([asked.length, answers.length]).toEqual([4, 0]);
});

describe('trouble', () => {
  test('with rows names each with what mends it, of chains and of tables alike', async () => {
    const file = dividends();
    const row = { row: 3, column: 'amount', value: '-1', remedy: 'has to be more than 0' };
    const line = { line: 4, field: 'bid', value: 'x', code: 'not-a-number', remedy: 'is no number' };
    answers = [refuse(422, { title: 'The file was not imported', detail: '2 wrong.', problems: [row, line] })];
    await file.look();
    expect(file.trouble).toEqual({
      message: 'The file was not imported. 2 wrong.',
      problems: [{ line: 3, field: 'amount', value: '-1', code: 'bad-cell', remedy: 'has to be more than 0' }, line],
    });
    const csv = await problemsCsv(file.trouble?.problems ?? []).text();
    expect(csv.split('\r\n')).toEqual([
      'line,field,value,problem,remedy',
      '"3","amount","-1","bad-cell","has to be more than 0"',
      '"4","bid","x","not-a-number","is no number"',
    ]);
  });

  test('is told where the server is away, refuses the file, or answers nonsense', async () => {
    const file = dividends();
    sent = [];
    await file.look();
    expect(file.trouble?.message).toContain('could not be reached');
    sent = [{ status: 503, body: { title: 'There is too much to do', detail: 'try again' } }];
    await file.look();
    expect(file.trouble?.message).toBe('There is too much to do. try again');
    sent = [received()];
    answers = [() => Promise.reject(new TypeError('failed'))];
    await file.look();
    expect(file.trouble?.message).toContain('could not be reached');
    answers = [ok({ table: 'tides' })];
    await file.look();
    expect(file.trouble?.message).toContain('makes no sense');
    expect(file).toMatchObject({ isReady: false, isBusy: false });
  });

  test('is none where it was cancelled: nothing was stored', async () => {
    const file = dividends();
    answers = [ok(PREVIEW)];
    await file.look();
    const storing = file.store();
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(file.isBusy).toBe(true);
    file.cancel();
    await storing;
    expect(file.trouble?.message).toBe('Cancelled; nothing was stored.');
    expect([file.outcome, file.isReady]).toEqual([undefined, true]);
  });
});
