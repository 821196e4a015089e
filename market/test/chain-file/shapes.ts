import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { DuckDBInstance } from '@duckdb/node-api';
import ExcelJs from 'exceljs';
import { optionPrice } from '@umwelt/core/pricing';

/*
 * The same invented markets as other programs would write them down: each shape with the quotes that must come of it. What
 * stands in the files is written here by hand and by other libraries, never by the code that reads it.
 */

/** One contract with its two quotes. */
export interface Quote {
  expiry: number;
  side: 'call' | 'put';
  strike: number;
  bid: number;
  ask: number;
  volume: number;
}

export interface Market {
  symbol: string;
  kind: 'index' | 'fund' | 'share' | 'future' | 'currency';
  exercise: 'european' | 'american';
  currency: string;
  multiplier: number;
  asOf: number;
  price: number;
  quotes: Quote[];
}

export interface Shape {
  name: string;
  files: { name: string; bytes: Uint8Array }[];
  market: Market;
  /** What only a person can tell, because the file does not say it */
  typed?: { underlying?: string; asOf?: string };
}

const DAY = 86_400_000;
/** Friday 14 March 2031, 14:00 in the zone +01:00. */
const AS_OF = Date.UTC(2031, 2, 14, 13);
const CLOSE_HOUR = 16.5;
const close = (date: string) => Date.parse(`${date}T00:00:00Z`) + CLOSE_HOUR * 3_600_000;
const EXPIRIES = ['2031-03-21', '2031-04-18', '2031-06-20', '2031-09-19'];

interface MarketInput extends Omit<Market, 'asOf' | 'quotes'> {
  rate: number;
  yield: number;
  volatility: number;
  step: number;
  tick: number;
}

function market(o: MarketInput): Market {
  const { rate, yield: dividendYield, volatility, step, tick, ...market } = o;
  const at = Math.round(o.price / step) * step;
  const strikes = Array.from({ length: 17 }, (_, i) => Number((at + (i - 8) * step).toFixed(6)));
  const quotes = EXPIRIES.flatMap((date, e) =>
    strikes.flatMap((strike, i) =>
      (['call', 'put'] as const).map((side): Quote => {
        const expiry = close(date);
        const timeToExpiry = (expiry - AS_OF) / (365 * DAY);
        const price = optionPrice(
          {
            side,
            exercise: o.exercise,
            model: o.kind === 'future' ? 'futures' : 'spot',
            underlying: o.price,
            strike,
            timeToExpiry,
            rate,
            ...(o.kind === 'future' ? {} : { dividendYield }),
            // A downside skew, as indices and shares have.
            volatility: volatility * (1 - 0.35 * Math.log(strike / o.price)),
          },
          'fast',
        );
        const down = Math.floor((price - 0.25 * tick) / tick);
        const up = Math.ceil((price + 0.25 * tick) / tick);
        const ticks = (n: number) => Number((n * tick).toFixed(6));
        return { expiry, side, strike, bid: Math.max(0, ticks(down)), ask: ticks(up), volume: 7 * i * (e + 1) };
      }),
    ),
  );
  return { ...market, asOf: AS_OF, quotes };
}

const INDEX = market({
  ...{ symbol: 'NORD5', kind: 'index', exercise: 'european', currency: 'XTS', multiplier: 10, price: 4812.6 },
  ...{ rate: 0.045, yield: 0.01, volatility: 0.18, step: 150, tick: 0.1 },
});
const SHARE = market({
  ...{ symbol: 'HEMLA', kind: 'share', exercise: 'american', currency: 'XTS', multiplier: 100, price: 81.2 },
  ...{ rate: 0.045, yield: 0, volatility: 0.22, step: 2.5, tick: 0.01 },
});
const FUTURE = market({
  ...{ symbol: 'BARLI', kind: 'future', exercise: 'american', currency: 'XTS', multiplier: 50, price: 612.25 },
  ...{ rate: 0.045, yield: 0, volatility: 0.28, step: 20, tick: 0.05 },
});
const PAIR = market({
  ...{ symbol: 'EUR/XTS', kind: 'currency', exercise: 'european', currency: 'XTS', multiplier: 1000, price: 7.412 },
  ...{ rate: 0.045, yield: 0.02, volatility: 0.09, step: 0.1, tick: 0.0005 },
});

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const iso = (at: number) => new Date(at + 3_600_000).toISOString().slice(0, 10);
const parts = (at: number) => {
  const [year, month, day] = iso(at).split('-');
  return { year, month, day, name: MONTHS[Number(month) - 1] };
};
const text = (lines: string[]) => Buffer.from(lines.join('\r\n'));
const expiriesOf = (m: Market) => [...new Set(m.quotes.map((q) => q.expiry))];
const strikesOf = (m: Market) => [...new Set(m.quotes.map((q) => q.strike))];
const quoteOf = (m: Market, expiry: number, strike: number, side: string) => {
  const quote = m.quotes.find((q) => q.expiry === expiry && q.strike === strike && q.side === side);
  if (!quote) throw new Error(`no quote ${expiry} ${strike} ${side}`);
  return quote;
};
const listed = (m: Market, q: Quote) => {
  const { year, month, day } = parts(q.expiry);
  return `${m.symbol.padEnd(6)}${year.slice(2)}${month}${day}${q.side === 'call' ? 'C' : 'P'}${String(Math.round(q.strike * 1000)).padStart(8, '0')}`;
};
/** Rows of a wide table: expiry and strike with the quotes of both sides. */
function wide<T>(m: Market, row: (expiry: number, strike: number, call: Quote, put: Quote) => T): T[] {
  return expiriesOf(m).flatMap((expiry) =>
    strikesOf(m).map((strike) =>
      row(expiry, strike, quoteOf(m, expiry, strike, 'call'), quoteOf(m, expiry, strike, 'put')),
    ),
  );
}

const comma = (value: number) => String(value).replace('.', ',');
const grouped = (value: number) => value.toLocaleString('en-US', { maximumFractionDigits: 6 });

async function workbook(m: Market): Promise<Uint8Array> {
  const book = new ExcelJs.Workbook();
  book
    .addWorksheet('Chain')
    .addRows([
      [`${m.symbol} futures options`],
      ['As of', new Date(AS_OF + 3_600_000)],
      ['Contract size', m.multiplier],
      [],
      ['', 'CALLS', '', '', '', 'PUTS', '', ''],
      ['Expiration', 'Bid', 'Ask', 'Volume', 'Strike', 'Bid', 'Ask', 'Volume', 'Underlying price'],
      ...wide(m, (expiry, strike, call, put) => [
        new Date(`${iso(expiry)}T00:00:00Z`),
        ...[call.bid, call.ask, call.volume, strike, put.bid, put.ask, put.volume, m.price],
      ]),
    ]);
  book.addWorksheet('Notes').addRow(['Delayed by fifteen minutes']);
  return new Uint8Array(await book.xlsx.writeBuffer());
}

async function parquet(m: Market): Promise<Uint8Array> {
  const path = join(mkdtempSync(join(tmpdir(), 'shape-')), 'chain.parquet');
  const connection = await (await DuckDBInstance.create(':memory:')).connect();
  const values = m.quotes.map(
    (q) =>
      `('${m.symbol}', TIMESTAMPTZ '2031-03-14 13:00:00+00', ${m.price}, DATE '${iso(q.expiry)}', '${q.side[0].toUpperCase()}', ${q.strike}, ${q.bid}, ${q.ask}, ${q.volume})`,
  );
  await connection.run(
    `copy (select * from (values ${values.join(',')}) t(root, quote_time, underlying_price, expiration, option_type, strike, bid, ask, volume)) to '${path}' (format parquet, compression zstd)`,
  );
  return readFileSync(path);
}

/** Every shape, each with another way to write dates, numbers and what is missing. */
export async function allShapes(): Promise<Shape[]> {
  return [
    {
      name: 'one row a quote, ISO dates',
      market: SHARE,
      files: [
        {
          name: 'export.csv',
          bytes: text([
            'Symbol,Quote Time,Spot,Expiry,Type,Strike,Bid,Ask,Volume,Ccy',
            ...SHARE.quotes.map((q) =>
              [
                SHARE.symbol,
                '2031-03-14T14:00:00+01:00',
                SHARE.price,
                iso(q.expiry),
                q.side,
                q.strike,
                q.bid,
                q.ask,
                q.volume,
                'XTS',
              ].join(),
            ),
          ]),
        },
      ],
    },
    {
      name: 'wide under a line that groups, with a title, dates with month names',
      market: INDEX,
      files: [
        {
          name: 'quotes.csv',
          bytes: text([
            '"NORD5 index options, European, multiplier 10"',
            '"Quotes as of 14 March 2031 14:00 +01:00"',
            'Spot,"4,812.60",Currency,XTS',
            '',
            ',,Calls,,,,Puts,,',
            'Expiry,Days,Bid,Ask,Volume,Strike,Bid,Ask,Volume',
            ...wide(INDEX, (expiry, strike, c, p) => {
              const { day, name, year } = parts(expiry);
              return `${day} ${name} ${year},${Math.round((expiry - AS_OF) / DAY)},${c.bid},${c.ask},${c.volume},"${grouped(strike)}",${p.bid},${p.ask},${p.volume}`;
            }),
          ]),
        },
      ],
    },
    {
      name: 'wide by headers of their own, semicolons, decimal commas, dates in one word',
      market: SHARE,
      files: [
        {
          name: 'HEMLA_2031-03-14_1400.csv',
          bytes: text([
            'Strike;Expiration;Call Bid;Call Ask;Put Bid;Put Ask;Call Volume;Put Volume;Underlying',
            ...wide(SHARE, (expiry, strike, c, p) => {
              const { day, name, year } = parts(expiry);
              const date = `${day}${name.toUpperCase()}${year.slice(2)}`;
              return [
                comma(strike),
                date,
                comma(c.bid),
                comma(c.ask),
                comma(p.bid),
                comma(p.ask),
                c.volume,
                p.volume,
                comma(SHARE.price),
              ].join(';');
            }),
          ]),
        },
      ],
      typed: {},
    },
    {
      name: 'dashes, signs of currency, thousands in K, month first with names',
      market: { ...SHARE, currency: 'EUR' },
      files: [
        {
          name: 'table.txt',
          bytes: text([
            'Underlying|Snapshot|Spot|Exp|C/P|Strike|Bid|Offer|Last|Vol',
            ...SHARE.quotes.map((q) => {
              const { day, name, year } = parts(q.expiry);
              const volume = q.volume === 0 ? '--' : `${q.volume / 1000}K`;
              return `HEMLA|Fri 14 Mar 2031 2:00 pm +0100|€81.20|${name} ${Number(day)}, ${year}|${q.side[0].toUpperCase()}|€${q.strike.toFixed(2)}|€${q.bid}|€${q.ask}|n/a|${volume}`;
            }),
          ]),
        },
      ],
    },
    {
      name: 'the contract as a listed symbol alone, tabs, a zone by its name',
      market: SHARE,
      files: [
        {
          name: 'listed.tsv',
          bytes: text([
            'Symbol\tTimestamp\tBid\tAsk\tVolume\tUnderlying Price',
            ...SHARE.quotes.map((q) =>
              [listed(SHARE, q), '2031-03-14 14:00:00 Etc/GMT-1', q.bid, q.ask, q.volume, SHARE.price].join('\t'),
            ),
          ]),
        },
      ],
    },
    {
      name: 'a workbook of two sheets, wide, titles above',
      market: FUTURE,
      files: [{ name: 'BARLI.xlsx', bytes: await workbook(FUTURE) }],
    },
    {
      name: 'JSON with the quotes in an array beside what they share',
      market: PAIR,
      files: [
        {
          name: 'pair.json',
          bytes: Buffer.from(
            JSON.stringify(
              {
                symbol: PAIR.symbol,
                timestamp: AS_OF,
                spot: PAIR.price,
                multiplier: 1000,
                options: PAIR.quotes.map((q) => ({
                  expirationDate: iso(q.expiry),
                  optionType: q.side,
                  strikePrice: q.strike,
                  quote: { bid: q.bid, ask: q.ask },
                  volume: q.volume,
                })),
              },
              undefined,
              1,
            ),
          ),
        },
      ],
    },
    {
      name: 'Parquet of another program, Zstandard',
      market: INDEX,
      files: [{ name: 'index.parquet', bytes: await parquet(INDEX) }],
    },
    {
      name: 'gzip, sides by the order of columns, brackets and mirrored halves',
      market: INDEX,
      files: [
        {
          name: 'NORD5-20310314-1400.csv.gz',
          bytes: gzipSync(
            text([
              'Vol,Bid,Ask,Strike,Bid,Ask,Vol,Expiry,Index,Multiplier',
              ...wide(INDEX, (expiry, strike, c, p) => {
                const { day, month, year } = parts(expiry);
                return `${c.volume},${c.bid},${c.ask},${strike},${p.bid},${p.ask},${p.volume},${day}.${month}.${year},4812.6,10`;
              }),
            ]),
          ),
        },
      ],
    },
    {
      name: 'calls and puts in two files',
      market: SHARE,
      files: (['call', 'put'] as const).map((side) => ({
        name: `HEMLA ${side}s 14-Mar-2031 14.00.csv`,
        bytes: text([
          `HEMLA ${side}s, 14-Mar-2031 14:00`,
          'Expiry,Strike,Bid,Ask,Volume,Underlying price',
          ...SHARE.quotes
            .filter((q) => q.side === side)
            .map((q) => [iso(q.expiry), q.strike, q.bid, q.ask, q.volume, SHARE.price].join()),
        ]),
      })),
    },
    {
      name: 'an expiry above its rows, the header once more under each',
      market: SHARE,
      files: [
        {
          name: 'sections.csv',
          bytes: text([
            'Symbol: HEMLA   Last: 81.20   Date: 2031-03-14 14:00',
            ...expiriesOf(SHARE).flatMap((expiry) => {
              const { day, name, year } = parts(expiry);
              return [
                `"Expiry: ${name} ${day}, ${year} (${Math.round((expiry - AS_OF) / DAY)} days)"`,
                'Strike,C.Bid,C.Ask,C.Vol,P.Bid,P.Ask,P.Vol',
                ...strikesOf(SHARE).map((strike) => {
                  const [c, p] = ['call', 'put'].map((side) => quoteOf(SHARE, expiry, strike, side));
                  return [strike, c.bid, c.ask, c.volume, p.bid, p.ask, p.volume].join();
                }),
              ];
            }),
          ]),
        },
      ],
    },
  ];
}
