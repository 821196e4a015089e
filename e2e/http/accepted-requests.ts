import fc from 'fast-check';
import { ask } from './ask.ts';
import { type Known, type Schema, valuesOf } from './schema-values.ts';

/*
 * Requests that are to be accepted: drawn from the document's schemas and from what is stored. What is changed or deleted was made
 * for it just before.
 */

export interface Parameter {
  name: string;
  in: string;
  required?: boolean;
  schema?: Schema;
}
export interface Operation {
  parameters?: Parameter[];
  requestBody?: { content: Record<string, { schema: Schema }> };
  responses: Record<string, { content?: Record<string, { schema: object }> }>;
}
export interface Document {
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, Schema> };
}
export interface DrawnRequest {
  method: string;
  /** Below /api/v1 */
  address: string;
  type?: string;
  body?: string;
}

/** An underlying and what is stored of it. */
interface Subject {
  symbol: string;
  instants: string[];
  expiries: string[];
  strikes: number[];
}

const GREEKS = ['delta', 'gamma', 'theta', 'vega', 'vanna', 'volga'];
const READ = ['RYE', 'VM50', 'KELPA'];
/** A copy of another underlying, as long a name as its own: its terms, links and past may be changed. */
const WRITABLE = 'FUZZY';
const TABLES = ['bars', 'intraday-bars', 'splits', 'rates', 'dividends', 'events'];
/** Left out: they need something that was sent before, or belong to one choice of another parameter. */
const LEFT_OUT = new Set(['upload', 'beside', 'options', 'terms', 'restored', 'financing', 'borrowCost']);

export class AcceptedRequests {
  readonly #document: Document;
  #subjects: Subject[] = [];
  #writable: Subject | undefined;
  readonly #tables = new Map<string, string>();
  #kept = '';
  #made = 0;

  constructor(document: Document) {
    this.#document = document;
  }

  /** Stores what requests can be about, and looks what there is. */
  async prepare(): Promise<void> {
    const chain = await textOf(ask('/api/v1/exports/chains/KELPA'));
    const copy = chain.replace(/^KELPA(?=,)/gm, WRITABLE).replaceAll('KELPA ', `${WRITABLE} `);
    await textOf(ask('/api/v1/imports/chains', { body: copy, headers: { 'content-type': 'text/csv' } }));
    for (const table of TABLES) {
      const stored = await textOf(ask(`/api/v1/exports/${table}/${table === 'rates' ? 'XTS' : 'KELPA'}`), true);
      // Of some nothing is stored: those are not sent.
      if (!stored.startsWith('{')) this.#tables.set(table, stored.replace(/^KELPA(?=,)/gm, WRITABLE));
    }
    this.#subjects = await Promise.all(READ.map(subject));
    this.#writable = await subject(WRITABLE);
    await this.#keep();
    this.#kept = await textOf(ask('/api/v1/structures/kept?format=json'));
  }

  /** A request for an operation; the same seed draws the same, but for names of what is made for it. */
  async draw(path: string, method: string, seed: number): Promise<DrawnRequest> {
    const operation = this.#document.paths[path][method];
    const one = <T>(values: fc.Arbitrary<T>, salt = 0) => fc.sample(values, { numRuns: 1, seed: seed + salt })[0];
    const isWrite = method !== 'get' && path.startsWith('/underlyings/');
    const about = isWrite ? this.#writable : one(fc.constantFrom(...this.#subjects));
    if (!about) throw new Error('prepare comes first');
    const known: Known = { ...knownOf(about), ...(method === 'patch' ? { symbol: fc.constant(this.#name()) } : {}) };
    const table = one(fc.constantFrom(...this.#tables.keys()));
    const own = await this.#partsOf(path, method, table, about.symbol);
    const isCalendar = own.table === 'events' && one(fc.boolean());
    const address = path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(own[name] ?? ''));
    const query = new URLSearchParams();
    for (const [i, { name, in: place, required, schema = {} }] of (operation.parameters ?? []).entries()) {
      if (place !== 'query' || LEFT_OUT.has(name) || (!required && one(fc.nat(2), i) > 0)) continue;
      const value = one(
        own[name] === undefined ? (known[name] ?? this.#valuesOf(schema, known)) : fc.constant(own[name]),
        i,
      );
      if (value === 'ics' && !isCalendar) continue;
      // What is typed comes with its choice, and two levels with the kind that takes two.
      if (value === 'typed') query.set('typedVolatility', '0.25');
      for (const each of Array.isArray(value) ? value : [value])
        if (name !== 'typedVolatility') query.append(name, String(each));
    }
    if (path.endsWith('/probability')) {
      query.set('kind', one(fc.constantFrom('above', 'below', 'touch')));
      query.set('level', String(one(fc.constantFrom(...about.strikes))));
    }
    const types = Object.keys(operation.requestBody?.content ?? {});
    const drawn = { method: method.toUpperCase(), address: `${address}?${query}` };
    if (types.length === 0) return drawn;
    if (!types.includes('application/json') || types.includes('text/csv')) {
      const text = path.includes('/tables/') ? (this.#tables.get(own.table) ?? '') : oneQuote(this.#name());
      return { ...drawn, type: types.includes('text/csv') ? 'text/csv' : types[0], body: text };
    }
    const schema = operation.requestBody?.content['application/json'].schema ?? {};
    const body = one(this.#bodyOf(path) ?? this.#valuesOf(schema, known));
    return { ...drawn, type: 'application/json', body: JSON.stringify(body) };
  }

  readonly #valuesOf = (schema: Schema, known: Known) => valuesOf(schema, this.#document.components.schemas, known);

  /** What stands in a path; made anew where the operation changes or ends it. */
  async #partsOf(path: string, method: string, table: string, symbol: string): Promise<Record<string, string>> {
    const parts: Record<string, string> = { symbol, table, group: `Measures of ${WRITABLE}` };
    if (table === 'rates' && path.startsWith('/exports')) parts.symbol = 'XTS';
    else if (path.startsWith('/exports')) parts.symbol = 'KELPA';
    if (path.startsWith('/structures/kept/{')) parts.id = await this.#keep();
    if (path.includes('/frozen-levels/{')) parts.id = await this.#freeze();
    // Deleted ones can be put back.
    if (path.includes('/frozen-levels/{') && method === 'put') {
      await textOf(ask(`/api/v1/underlyings/${WRITABLE}/frozen-levels/${parts.id}`, { method: 'DELETE' }));
    }
    if (method === 'delete' && path.includes('/carry')) await this.#takeCarry();
    if (path.startsWith('/uploads/{')) parts.id = await this.#upload();
    // Other terms than its own would refuse what is asked beside it.
    if (method === 'patch') await importQuote((parts.symbol = this.#name()));
    if (method !== 'delete' || path.includes('/borrow') || path.includes('/carry')) return parts;
    if (path.startsWith('/underlyings/{symbol}') && !path.includes('/frozen-levels')) {
      parts.symbol = this.#name();
      await importQuote(parts.symbol);
      parts.instant = INSTANT;
    }
    if (path === '/imports/{id}') parts.id = await importQuote(this.#name());
    return parts;
  }

  #bodyOf(path: string): fc.Arbitrary<unknown> | undefined {
    const price = fc.double({ min: 1, max: 500, noNaN: true });
    switch (path) {
      case '/realized-volatility':
        return fc.record({
          bars: fc.array(
            fc.oneof(
              fc.constant(null),
              price.map((p) => ({ open: p, high: 1.02 * p, low: 0.97 * p, close: 1.01 * p })),
            ),
            { maxLength: 40 },
          ),
          estimator: fc.constantFrom('parkinson', 'yang-zhang', 'ewma', 'close-to-close'),
          window: fc.integer({ min: 2, max: 30 }),
        });
      case '/surface/fit':
        return fc.record({
          underlying: price,
          rate: fc.constantFrom(0, 0.03),
          slices: fc.array(slice, { minLength: 1, maxLength: 3 }),
        });
      case '/tables/xlsx':
        return fc.integer({ min: 1, max: 5 }).chain((columns) => {
          const row = fc.array(
            fc.oneof(fc.string(), fc.double({ noNaN: true, noDefaultInfinity: true }), fc.constant(null)),
            {
              minLength: columns,
              maxLength: columns,
            },
          );
          const header = fc.array(fc.string({ maxLength: 20 }), { minLength: columns, maxLength: columns });
          return fc.record({
            name: fc.string({ minLength: 1, maxLength: 30 }),
            header,
            rows: fc.array(row, { maxLength: 6 }),
          });
        });
      case '/hedges/solve': {
        const greeks = fc.record(Object.fromEntries(GREEKS.map((name) => [name, fc.integer({ min: -900, max: 900 })])));
        // As many instruments as sums to bring to nothing.
        return fc.uniqueArray(fc.constantFrom(...GREEKS), { minLength: 1, maxLength: 6 }).chain((neutralize) =>
          fc.record({
            position: greeks,
            instruments: fc.tuple(
              ...neutralize.map((name) =>
                fc.tuple(greeks, fc.nat(20)).map(([each, cost]) => ({ name, ...each, cost })),
              ),
            ),
            neutralize: fc.constant(neutralize),
            wholeContracts: fc.boolean(),
          }),
        );
      }
      case '/structures/kept/import':
        return fc.constant({ text: this.#kept });
      default:
        return undefined;
    }
  }

  #name(): string {
    return `GONE${process.pid}N${this.#made++}`;
  }

  async #keep(): Promise<string> {
    const { symbol, instants, expiries, strikes } = this.#subjects[0];
    const leg = { expiry: expiries.at(-1), side: 'call', strike: strikes[0], ratio: 1 };
    const body = { name: this.#name(), symbol, asOf: instants[0], legs: [leg], price: strikes[0] };
    return idOf(await textOf(ask('/api/v1/structures/kept', { body })));
  }

  async #freeze(): Promise<string> {
    return idOf(await textOf(ask(`/api/v1/underlyings/${WRITABLE}/frozen-levels`, { body: { name: this.#name() } })));
  }

  async #takeCarry(): Promise<void> {
    const body = { from: INSTANT, financing: 0.001, borrow: 0, dividends: [] };
    await textOf(ask(`/api/v1/underlyings/${WRITABLE}/carry`, { method: 'PUT', body }));
  }

  async #upload(): Promise<string> {
    const headers = { 'content-type': 'application/octet-stream' };
    return idOf(await textOf(ask('/api/v1/uploads', { body: oneQuote(this.#name()), headers })));
  }
}

const INSTANT = '2031-03-14T13:00:00Z';
const oneQuote = (symbol: string) =>
  `underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n${symbol},${INSTANT},100,2031-06-20,call,100,4,4.5\n`;

async function importQuote(symbol: string): Promise<string> {
  const headers = { 'content-type': 'text/csv' };
  return idOf(await textOf(ask('/api/v1/imports/chains', { body: oneQuote(symbol), headers })));
}

const slice = fc.integer({ min: 1, max: 6 }).chain((count) => {
  const side = fc.array(fc.oneof(fc.constant(null), fc.double({ min: 0, max: 60, noNaN: true })), {
    minLength: count,
    maxLength: count,
  });
  return fc.record({
    years: fc.double({ min: 0.01, max: 3, noNaN: true }),
    strikes: fc
      .uniqueArray(fc.integer({ min: 20, max: 400 }), { minLength: count, maxLength: count })
      .map((own) => own.sort((a, b) => a - b)),
    callBid: side,
    callAsk: side,
    putBid: side,
    putAsk: side,
  });
});

function knownOf({ symbol, instants, expiries, strikes }: Subject): Known {
  const expiry = fc.constantFrom(...expiries);
  const instant = fc.constantFrom(...instants);
  return {
    symbol: fc.constant(symbol),
    donor: fc.constantFrom(...READ.filter((each) => each !== symbol)),
    expiry,
    expiries: fc.uniqueArray(expiry, { minLength: 1, maxLength: 3 }),
    ended: fc.uniqueArray(expiry, { maxLength: 3 }).map((dates) => dates.join(',')),
    unitsOf: instant,
    asOf: instant,
    from: instant,
    strike: fc.constantFrom(...strikes),
    days: fc.constantFrom(7, 14, 30, 60, 90),
    of: fc.constant(WRITABLE),
    zone: fc.constantFrom('+01:00', 'UTC'),
    sessionClose: fc.constantFrom('17:30', '00:00'),
    currency: fc.constantFrom('XTS', 'XXX'),
  };
}

async function subject(symbol: string): Promise<Subject> {
  const { instants } = JSON.parse(await textOf(ask(`/api/v1/underlyings/${symbol}/instants`))) as {
    instants: string[];
  };
  const picture = JSON.parse(await textOf(ask(`/api/v1/underlyings/${symbol}/picture`))) as {
    price: number;
    expiries: { date: string }[];
  };
  const chain = (await textOf(ask(`/api/v1/exports/chains/${symbol}`))).trim().split('\n');
  const [strikeAt, expiryAt] = ['strike', 'expiry'].map((name) => chain[0].split(',').indexOf(name));
  const dates = new Map<number, Set<string>>();
  for (const line of chain.slice(1)) {
    const cells = line.split(',');
    const strike = Number(cells[strikeAt]);
    dates.set(strike, (dates.get(strike) ?? new Set()).add(cells[expiryAt].slice(0, 10)));
  }
  // A strike is asked for at any of the expiries: all of them list it.
  const near = [...dates.keys()].sort((a, b) => Math.abs(a - picture.price) - Math.abs(b - picture.price));
  const listed = [...(dates.get(near[0]) ?? [])];
  const strikes = near.filter((strike) => listed.every((date) => dates.get(strike)?.has(date))).slice(0, 12);
  const expiries = picture.expiries.map((e) => e.date).filter((date) => listed.includes(date));
  return { symbol, instants: instants.slice(0, 4), expiries, strikes };
}

async function textOf(answer: Promise<Response>, isOptional = false): Promise<string> {
  const given = await answer;
  const text = await given.text();
  if (!given.ok && !isOptional) throw new Error(`${given.url}: ${given.status} ${text.slice(0, 300)}`);
  return text;
}

function idOf(text: string): string {
  const { id, importId } = JSON.parse(text) as { id?: string | number; importId?: string | number };
  const found = id ?? importId;
  if (found === undefined) throw new Error(`no id: ${text.slice(0, 200)}`);
  return String(found);
}
