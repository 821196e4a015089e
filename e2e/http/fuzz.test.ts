import { beforeAll, expect, test } from 'vitest';
import { AcceptedRequests, type Document, type DrawnRequest } from './accepted-requests.ts';
import { ask } from './ask.ts';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import fc from 'fast-check';

/*
 * Requests that the document allows or nearly allows, drawn from the document itself: none may end in a 500 or without an
 * answer, and every answer is on its schema. Every operation accepts a third of its own. The same seed draws the same requests.
 */

const REQUESTS = process.env.SOAK ? 100_000 : 300;
/** Of the commit in the usual run, drawn in the long one; ./test prints it. */
const SEED = Number(process.env.TEST_SEED ?? 20310314);
const AT_ONCE = 8;

const METHODS = ['get', 'post', 'put', 'patch', 'delete'];

/** Words that parameters are tried with, right and wrong. */
const WORDS = fc.oneof(
  fc.constantFrom(
    'VM50',
    'KELPA',
    'RYE',
    'TERN',
    'MERRO',
    'NOBODY',
    'A/B',
    '^X',
    'a..b',
    '',
    ' ',
    'é',
    '%',
    '\u0000',
    '..',
    '🌾',
  ),
  fc.constantFrom(
    '2031-04-18',
    '2031-02-31',
    '0000-01-01',
    '2031-03-14T14:00:00+01:00',
    '2031-03-12T17:30:00Z',
    'live',
    'soon',
  ),
  fc.constantFrom(
    'bars',
    'chains',
    'events',
    'rates',
    'dividends',
    'csv',
    'json',
    'parquet',
    'ics',
    'xml',
    'smile',
    'typed',
  ),
  fc.constantFrom('0', '-1', '1e400', 'NaN', '30', '0.25', '[]', '{}', '{"zone":1}', 'null', '2031-03-21/125/call'),
  fc.string({ maxLength: 12 }),
  fc.string({ unit: 'binary', maxLength: 6 }),
);
const CONTRACT = fc.record(
  {
    side: fc.constantFrom('call', 'put', 'both'),
    exercise: fc.constantFrom('european', 'american'),
    model: fc.constantFrom('spot', 'futures', 'normal'),
    underlying: fc.oneof(fc.constant(100), fc.double()),
    strike: fc.oneof(fc.constant(95), fc.double()),
    years: fc.oneof(fc.constant(0.5), fc.double({ min: 0, max: 40 })),
    rate: fc.oneof(fc.constant(0.03), fc.double({ min: -1, max: 1 })),
    volatility: fc.oneof(fc.constant(0.2), fc.double({ min: 0, max: 9 })),
    price: fc.oneof(fc.constant(7), fc.double()),
    dividends: fc.array(fc.record({ years: fc.double({ min: 0, max: 1 }), amount: fc.double({ min: 0, max: 9 }) }), {
      maxLength: 2,
    }),
  },
  { requiredKeys: [] },
);
const NUMBERS = fc.array(fc.oneof(fc.constant(null), fc.double({ min: 0, max: 200 })), { maxLength: 5 });
const BODY = fc.oneof(
  fc.record(
    { accuracy: fc.constantFrom('fast', 'default', 'best'), contracts: fc.array(CONTRACT, { maxLength: 3 }) },
    { requiredKeys: [] },
  ),
  fc.record(
    {
      underlying: fc.double(),
      rate: fc.double(),
      slices: fc.array(
        fc.record({
          years: fc.double(),
          strikes: NUMBERS,
          callBid: NUMBERS,
          callAsk: NUMBERS,
          putBid: NUMBERS,
          putAsk: NUMBERS,
        }),
        { maxLength: 2 },
      ),
    },
    { requiredKeys: [] },
  ),
  fc.record(
    { action: fc.constantFrom('start', 'pause', 'step', 'stop'), speed: fc.double(), storeMinutes: fc.integer() },
    { requiredKeys: [] },
  ),
  fc.record(
    {
      donor: WORDS,
      kind: fc.constantFrom('shape', 'total', 'half'),
      shift: fc.oneof(fc.constant(null), fc.double()),
      ratio: fc.double(),
    },
    { requiredKeys: [] },
  ),
  fc.record({ symbol: WORDS }),
  fc.jsonValue(),
);
const FILE = fc.oneof(
  fc.constant('underlying,session,open,high,low,close,volume\nFUZZ,2031-03-13,1,2,1,1,5\n'),
  fc.constant(
    'underlying,as_of,underlying_price,expiry,side,strike,bid,ask\nFUZZ,2031-03-14T13:00:00Z,100,2031-06-20,call,100,1,2\n',
  ),
  fc.constant(
    'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:20310702T090000\r\nSUMMARY:FUZZ: a\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
  ),
  fc.constant('PAR1'),
  fc.jsonValue().map((value) => JSON.stringify(value)),
  fc.string({ unit: 'binary', maxLength: 60 }),
);

let paths: Document['paths'];
let accepted: AcceptedRequests;
let ajv: Ajv2020;
beforeAll(async () => {
  const document = (await (await ask('/api/v1/openapi.json')).json()) as Document;
  ({ paths } = document);
  accepted = new AcceptedRequests(document);
  await accepted.prepare();
  ajv = new Ajv2020({ strict: false });
  addFormats.default(ajv);
  ajv.addSchema(document, 'api');
});

interface Drawn {
  path: string;
  method: string;
  words: string[];
  skips: number;
  body: unknown;
  file: string;
}

/** Answers whose schema the document gives for their status and type. */
function promised(o: Drawn, status: number, type: string): object | undefined {
  const { responses } = paths[o.path][o.method];
  const key = [String(status), `${Math.floor(status / 100)}XX`].find((k) => k in responses);
  return key === undefined ? undefined : (responses[key].content?.[type]?.schema ?? (status === 204 ? {} : undefined));
}

const validators = new Map<string, (body: unknown) => boolean>();
function isOnSchema(o: Drawn, status: number, type: string, body: unknown): boolean {
  const { responses } = paths[o.path][o.method];
  const key = [String(status), `${Math.floor(status / 100)}XX`].find((k) => k in responses) ?? '';
  const place = ['paths', o.path, o.method, 'responses', key, 'content', type, 'schema'];
  const pointer = place.map((part) => part.replaceAll('~', '~0').replaceAll('/', '~1')).join('/');
  const validate = validators.get(pointer) ?? ajv.compile({ $ref: `api#/${encodeURI(pointer)}` });
  validators.set(pointer, validate);
  return validate(body);
}

/** A request of words and bodies, right and wrong. */
function wild(o: Drawn): DrawnRequest {
  const { parameters = [], requestBody } = paths[o.path][o.method];
  let word = 0;
  const next = () => o.words[word++ % o.words.length];
  const path = o.path.replace(/\{(\w+)\}/g, () => encodeURIComponent(segment(next())));
  const query = new URLSearchParams();
  for (const [i, { name, in: place, schema }] of parameters.entries()) {
    if (place !== 'query' || (o.skips >> i) & 1) continue;
    query.append(name, schema?.enum && word % 2 === 0 ? String(schema.enum[word % schema.enum.length]) : next());
  }
  const request = { method: o.method.toUpperCase(), address: `${path}?${query}` };
  const types = Object.keys(requestBody?.content ?? {});
  if (types.length === 0) return request;
  const isJson = types.includes('application/json');
  return { ...request, type: isJson ? 'application/json' : 'text/csv', body: isJson ? JSON.stringify(o.body) : o.file };
}

async function send(o: Drawn, request: DrawnRequest): Promise<{ status: number; wrong: string[] }> {
  const { method, address, type: sent, body } = request;
  const headers: Record<string, string> = sent === undefined ? {} : { 'content-type': sent };
  const answer = await ask(`/api/v1${address}`, {
    method,
    headers,
    body: body === undefined ? undefined : Buffer.from(body),
  });
  const bytes = Buffer.from(await answer.arrayBuffer());
  const status = answer.status;
  const type = (answer.headers.get('content-type') ?? '').split(';')[0];
  const wrong: string[] = [];
  if (status >= 500) wrong.push(`${status} ${bytes.toString().slice(0, 300)}`);
  if (!promised(o, status, type) && type !== 'text/csv') wrong.push(`${status} ${type} is not in the document`);
  else if (
    type.endsWith('json') &&
    type !== 'application/jsonl' &&
    !isOnSchema(o, status, type, JSON.parse(bytes.toString()))
  )
    wrong.push(`${status} is not on its schema: ${bytes.toString().slice(0, 300)}`);
  const what = `${method} ${address} ${body?.slice(0, 300) ?? ''}`;
  if (status >= 400) refused.set(`${o.method} ${o.path}`, `${what}: ${status} ${bytes.toString().slice(0, 300)}`);
  return { status, wrong: wrong.map((each) => `${what}: ${each}`) };
}
/** What was refused last, by operation. */
const refused = new Map<string, string>();

/** Part of a path: an empty one, and dots that whoever sends takes as steps to another path, would ask for something else. */
function segment(value: string): string {
  return /^\.{0,2}$/.test(value) ? 'VM50' : value;
}

test(`${REQUESTS} requests drawn from the document are answered as it says`, async () => {
  const operations = Object.entries(paths).flatMap(([path, methods]) =>
    // The stream does not end.
    METHODS.filter((method) => method in methods && path !== '/stream').map((method) => ({ path, method })),
  );
  expect(operations.length).toBeGreaterThan(25);
  const drawn = fc.sample(
    fc.record({
      words: fc.array(WORDS, { minLength: 1, maxLength: 6 }),
      skips: fc.nat(),
      body: BODY,
      file: FILE,
    }),
    { numRuns: Math.ceil(REQUESTS / operations.length) * operations.length, seed: SEED },
  );
  const wrong: string[] = [];
  const counts = new Map<string, { asked: number; accepted: number }>();
  for (let i = 0; i < drawn.length; i += AT_ONCE) {
    const batch = drawn.slice(i, i + AT_ONCE).map(async (own, k) => {
      const o = { ...operations[(i + k) % operations.length], ...own };
      // One of four is wild.
      const isWild = Math.floor((i + k) / operations.length) % 4 === 3;
      const answered = await send(o, isWild ? wild(o) : await accepted.draw(o.path, o.method, SEED + i + k));
      const name = `${o.method} ${o.path}`;
      const count = counts.get(name) ?? { asked: 0, accepted: 0 };
      counts.set(name, { asked: count.asked + 1, accepted: count.accepted + (answered.status < 400 ? 1 : 0) });
      return answered.wrong;
    });
    wrong.push(...(await Promise.all(batch)).flat());
  }
  expect(wrong.slice(0, 20)).toEqual([]);
  const seldom = [...counts].filter(([, { asked, accepted }]) => accepted < asked / 3);
  expect(seldom.map(([name, count]) => ({ name, ...count, refused: refused.get(name) }))).toEqual([]);
  await ask('/api/v1/feed', { body: { action: 'pause' } });
  expect((await ask('/api/v1/ready')).status).toBe(200);
});
