import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import { isQuoted } from '../src/lib/api/picture.ts';
import {
  carryRows,
  clickExpiry,
  focusExpiry,
  forwardVolatilityInto,
  maturityAt,
  nearestInTime,
  shownExpiries,
  surfaceAgain,
  termRows,
} from '../src/lib/market/index.ts';
import { workingsOf } from '../src/lib/measures/index.ts';
import { doorRefusal } from '../src/lib/server/http/door.ts';
import { malformedAddress } from '../src/lib/server/http/malformed-address.ts';
import { besideName } from '../src/lib/shell/beside-name.ts';
import { queryText } from '../src/lib/shell/query-text.ts';
import { judgedSentences } from '../src/lib/shell/reading/judged-sentences.ts';
import { levelSentence } from '../src/lib/shell/reading/level-sentence.ts';
import { missingHistory } from '../src/lib/shell/reading/missing-history.ts';
import type { Sentence } from '../src/lib/shell/reading/sentence.ts';
import { theoryVolatility, theoryVolatilityAtMoney, volatilityInForce } from '../src/lib/theory/index.ts';
import { PALETTES } from '../src/lib/ui/palette.ts';
import { termChart } from '../src/lib/views/term/term-chart.ts';
import { termReading } from '../src/lib/views/term/term-reading.ts';
import { TENOR_DAYS } from '../src/lib/market/index.ts';
import { sessionBars } from '../src/lib/server/derive/session-bars.ts';
import { madePicture, type MadeMarket } from './made-picture.ts';

/* What is seen of a market whose forward, rate and smile are known because the test has made it; no database, no simulator. */

const made = fc.record({
  price: fc.double({ min: 5, max: 5000, noNaN: true }).map((p) => Math.round(p * 100) / 100),
  level: fc.double({ min: 0.12, max: 0.6, noNaN: true }),
  slope: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
  rate: fc.double({ min: -0.01, max: 0.08, noNaN: true }),
});
const context = asOfContext.parse({});
const words = (sentence: Sentence) => sentence.map((part) => (typeof part === 'string' ? part : part.text)).join('');

describe('of a market that was made', () => {
  test('forward, rate and smile come back, and the surface again is read between its expiries', () => {
    fc.assert(
      fc.property(made, (market) => {
        // Quotes are two cents wide whatever the price: of a small one they tell less.
        const p = madePicture(market);
        const width = 0.04 / market.price;
        for (const e of p.expiries) {
          const forward = market.price * Math.exp(market.rate * e.years);
          expect(Math.abs(e.forward / forward - 1)).toBeLessThan(width);
          expect(
            e.keptOut.every((k) => k.reason === 'no-bid' || k.reason === 'too-wide' || k.reason === 'below-intrinsic'),
          ).toBe(true);
          if (e.atm === null) continue;
          expect(Math.abs(e.atm - market.level)).toBeLessThan(0.004 + 4 * width);
        }
        expect(carryRows(p).map((r) => r.forward)).toEqual(p.expiries.map((e) => e.forward));
        const again = surfaceAgain(p);
        const at = maturityAt(p, 40);
        if (!again || !at) return;
        expect(at.atm).toBe(again.constantMaturity(40 / 365).atm);
        expect(Math.abs(at.atm - market.level)).toBeLessThan(0.004 + 4 * width);
      }),
      { numRuns: 25 },
    );
  });

  test('variance adds up over time: what is between expiries makes the whole', () => {
    fc.assert(
      fc.property(made, (market) => {
        const p = madePicture(market);
        const rows = termRows(p);
        let total = 0;
        let before = 0;
        for (const [i, e] of p.expiries.entries()) {
          const between = forwardVolatilityInto(p.expiries, e);
          expect(rows[i].forwardVolatility).toBe(between);
          if (between === null || e.atm === null || e.outlier !== null) return;
          total += between ** 2 * (e.years - before);
          before = e.years;
          expect(Math.abs(total / (e.atm ** 2 * e.years) - 1)).toBeLessThan(1e-9);
        }
      }),
      { numRuns: 25 },
    );
  });

  test('the volatility in force at the money is the same with the quotes and without them', () => {
    const p = madePicture();
    for (const volatilitySource of ['smile', 'own', 'atm', 'index', 'typed', 'realized', 'borrowed'] as const) {
      const inForce = volatilityInForce(p, { volatilitySource, typedVolatility: 0.4 });
      for (const e of p.expiries) {
        const option = { side: 'call', strike: e.atMoney.strike } as const;
        expect(theoryVolatilityAtMoney(e, inForce), volatilitySource).toBe(theoryVolatility(e, option, inForce));
      }
    }
  });

  test('without its quotes no quote is explained, and everything else is', () => {
    const p = madePicture();
    const seen = {
      ...p,
      expiries: p.expiries.map(({ strikes: _s, call: _c, put: _p, ...e }) => e),
    };
    expect([p.expiries.every(isQuoted), seen.expiries.some(isQuoted)]).toEqual([true, false]);
    const option = 'theory~2031-05-16~96~put';
    expect([workingsOf(p, context, option)?.id, workingsOf(seen, context, option)]).toEqual([option, undefined]);
    for (const id of ['atm30', 'atm~2031-05-16', 'forward~2031-05-16', 'atmAt45', 'riskReversal25At45'])
      expect(workingsOf(seen, context, id)?.value, id).toBe(workingsOf(p, context, id)?.value);
    expect(workingsOf(seen, context, 'atmAt45')?.value).toBe(maturityAt(p, 45)?.atm);
    expect(workingsOf(seen, context, 'atmAt4500')?.value).toBeNull();
  });
});

/** Bars of 300 days before the made instant's, by their closes alone. */
function endedAt(closeOf: (n: number) => number): MadeMarket['ended'] {
  const bars = Array.from({ length: 300 }, (_, n) => {
    const close = closeOf(n);
    const session = new Date(Date.UTC(2031, 2, 13) - (299 - n) * 86_400_000).toISOString().slice(0, 10);
    return { session, open: close, high: close, low: close, close };
  });
  return sessionBars({ bars, dividends: [], splits: [] });
}

describe('the past', () => {
  const day = (n: number) => new Date(Date.UTC(2031, 1, 1 + n, 16, 30));
  const past = (levels: readonly number[]): MadeMarket['past'] =>
    levels.map((level, n) => ({
      instant: day(n),
      atmByTenor: Float64Array.from(TENOR_DAYS, () => level),
      index30: level + 0.02,
      riskReversal25: -0.02 - 0.001 * n,
      butterfly25: 0.002,
    }));
  const dates = (count: number) => Array.from({ length: count }, (_, n) => day(n).toISOString().slice(0, 10));

  test('places today among its sessions, and counts those that wait to be derived', () => {
    const levels = [0.2, 0.22, 0.24, 0.26, 0.28];
    const p = madePicture({ past: past(levels), pastStored: dates(8), previousPrice: 98 });
    expect(p.standing).toMatchObject({ percentile: 0.6, low: 0.2, high: 0.28, count: 5 });
    expect(p.standing?.rank).toBeCloseTo(((p.atm30 ?? NaN) - 0.2) / 0.08, 12);
    expect(p.history.map((h) => h.atm30)).toEqual(levels);
    expect([p.waiting, p.previousPrice]).toEqual([3, 98]);
    // Of the expiries each at its own time; the levels are the same at all.
    for (const e of p.expiries) expect(e.standing?.count).toBe(5);
    expect(p.shape?.riskReversal25.standing).toMatchObject({ low: -0.024, rank: 1, percentile: 1 });
  });

  test('is told as far as it is there', () => {
    const none = madePicture();
    expect(words(levelSentence(none))).toMatch(
      /^At the money at 30 days \d+\.\d %; nothing is stored before, so it has no rank/,
    );
    const waiting = madePicture({ pastStored: dates(2) });
    expect(words(levelSentence(waiting))).toMatch(/%; 2 sessions are stored and wait for a worker to derive them\.$/);
    const both = madePicture({ past: past([0.2, 0.3]), pastStored: dates(3) });
    expect(words(levelSentence(both))).toMatch(
      /, the 50th percentile of 2 stored sessions, rank \d+; model-free \d+\.\d %, the \d+th percentile; 1 more session is stored and waits for a worker to derive it\.$/,
    );
  });

  test('that is lacking is named with what it costs; what only waits is not lacking', () => {
    const tables = (o: Partial<MadeMarket>) => missingHistory(madePicture(o)).map((m) => m.table);
    expect(tables({})).toEqual(['bars', 'rates', 'chains']);
    const ended = endedAt((n) => 100 + (n % 2));
    expect(tables({ ended })).toEqual(['rates', 'chains']);
    expect(tables({ ended, pastStored: dates(260) })).toEqual(['rates']);
    expect(missingHistory(madePicture({ pastStored: dates(1) })).at(-1)?.text).toContain('one session before this one');
    expect(missingHistory({ ...madePicture(), underlying: { ...madePicture().underlying, source: 'demo' } })).toEqual(
      [],
    );
  });

  test('realized volatility is that of the closes of sessions that have ended, as long as is left', () => {
    // Up and down by the same share: every return is as large, and their mean hardly anything.
    const step = 0.01;
    const p = madePicture({ ended: endedAt((n) => 100 * Math.exp(n % 2 === 0 ? 0 : step)) });
    expect(p.expiries.map((e) => e.realized?.sessions)).toEqual(
      p.expiries.map((e) => Math.round((e.days * 252) / 365)),
    );
    for (const e of p.expiries) {
      const sessions = e.realized?.sessions ?? NaN;
      // With the mean taken off, and one less to divide by.
      const mean = sessions % 2 === 0 ? 0 : step / sessions;
      const variance = (sessions * step * step - sessions * mean * mean) / (sessions - 1);
      expect(e.realized?.volatility).toBeCloseTo(Math.sqrt(252 * variance), 3);
    }
  });
});

describe('readings', () => {
  test('of Term say what the numbers are, and nothing of what is not there', () => {
    const [rising, sinking] = [0.4, -0.4].map((tilt) => {
      const p = madePicture();
      const expiries = p.expiries.map((e) => ({ ...e, atm: 0.25 + tilt * e.years }));
      return termReading({ ...p, expiries, term: { name: 'contango', slope: 0.02 } }, context).map(words);
    });
    expect(rising[1]).toBe('The term structure is in contango: 90 days is 2.0 points above 30 days.');
    expect(rising[2]).toMatch(/^The front month 28\.\d % is \d\.\d points below the third, 35\.\d %\.$/);
    expect(sinking[2]).toMatch(/points above the third/);
    expect(rising).toHaveLength(3);
  });

  test('count what was kept out of all shown expiries, faulty ones apart', () => {
    const p = madePicture();
    const expiries = p.expiries.slice(0, 2).map((e, i) => ({
      ...e,
      keptOut: [
        { reason: 'stale' as const, count: 2 + i },
        { reason: 'no-bid' as const, count: 1 },
      ],
    }));
    expect(judgedSentences(p, expiries, context).map(words)).toEqual([
      'Over 2 expiries 5 quotes are faulty (5 stale against their neighbors); 2 more are not fitted (2 without a bid). List them.',
    ]);
    expect(judgedSentences(p, [], context)).toEqual([]);
  });
});

test('beside Term stand surfaces alone, each by its name with the day where it is another', () => {
  const p = madePicture();
  const other = madePicture({ symbol: 'KELPA', level: 0.4 });
  const earlier = madePicture({ symbol: 'KELPA', asOf: '2031-03-10T13:00:00Z' });
  const own = madePicture({ asOf: '2031-03-12T13:00:00Z' });
  expect([other, earlier, own].map((b) => besideName(b, p))).toEqual([
    'KELPA',
    expect.stringMatching(/^KELPA, 10 Mar 2031/),
    expect.stringMatching(/^12 Mar 2031/),
  ]);
  const chart = termChart(p, {
    ...{
      shown: p.expiries,
      focus: p.expiries[1],
      lines: [],
      scale: 'level',
      palette: PALETTES.day,
      width: 800,
      height: 400,
    },
    beside: [{ picture: other, name: 'KELPA' }],
  });
  const line = chart.data.find((d) => d.name === 'KELPA') as {
    y: number[];
  };
  for (const [i, e] of other.expiries.entries()) expect(line.y[i]).toBeCloseTo(100 * (e.atm ?? NaN), 9);
});

describe('picking', () => {
  const p = madePicture();
  const dates = p.expiries.map((e) => e.date);
  const picked = fc.option(fc.subarray(dates), { nil: undefined });

  test('an expiry twice leaves what was shown, unless it was hidden and in focus', () => {
    fc.assert(
      fc.property(picked, fc.constantFrom(...dates), (expiries, date) => {
        const start = { expiries, expiry: undefined, tenor: undefined };
        const shown = shownExpiries(p, start).map((e) => e.date);
        const once = { tenor: undefined, ...clickExpiry(p, start, date) };
        const isFocus = focusExpiry(p, start)?.date === date;
        const after = shownExpiries(p, once).map((e) => e.date);
        if (isFocus) expect(after).toEqual(shown.filter((d) => d !== date));
        else {
          expect(focusExpiry(p, once)?.date).toBe(date);
          expect(after).toEqual(dates.filter((d) => d === date || shown.includes(d)));
        }
      }),
    );
  });

  test('readable is monthly beyond ten, with the one asked for; it is absent from the address where it is what opens', () => {
    const many = {
      ...p,
      expiries: Array.from({ length: 12 }, (_, i) => ({ ...p.expiries[i % 4], date: `2031-04-${10 + i}` })),
    };
    for (const [i, e] of many.expiries.entries()) e.isMonthly = i % 3 === 0;
    const shown = (expiries: 'all' | 'monthly' | 'readable', expiry?: string) =>
      shownExpiries(many, { expiries, expiry }).map((e) => Number(e.date.slice(-2)));
    expect(shown('readable')).toEqual([10, 13, 16, 19]);
    expect(shown('readable', '2031-04-11')).toEqual([10, 11, 13, 16, 19]);
    expect(shown('all')).toHaveLength(12);
    const context = { expiries: 'readable', expiry: '2031-04-10', tenor: undefined } as const;
    expect(clickExpiry(many, context, '2031-04-13', 'readable')).toEqual({ expiries: undefined, expiry: '2031-04-13' });
    expect(clickExpiry(many, context, '2031-04-10', 'readable').expiries).toEqual(
      [13, 16, 19].map((d) => `2031-04-${d}`),
    );
    const few = { expiries: many.expiries.slice(0, 10) };
    expect(shownExpiries(few, { expiries: 'readable' })).toHaveLength(10);
  });

  test('what is nearest in time is so by the ratio', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.01, max: 1000, noNaN: true }), { maxLength: 12 }),
        fc.double({ min: 0.01, max: 1000, noNaN: true }),
        (times, time) => {
          const found = nearestInTime(times, time, (t) => t);
          if (found === undefined) {
            expect(times).toEqual([]);
            return;
          }
          const ratio = (t: number) => Math.max(t / time, time / t);
          for (const t of times) expect(ratio(found)).toBeLessThanOrEqual(ratio(t) * (1 + 1e-12));
        },
      ),
    );
  });
});

test('a query stays readable and says the same', () => {
  fc.assert(
    fc.property(fc.dictionary(fc.stringMatching(/^[a-z]{1,8}$/), fc.string()), (said) => {
      const text = queryText(new URLSearchParams(said));
      expect(Object.fromEntries(new URL(`http://localhost/${text}`).searchParams)).toEqual({ ...said });
    }),
    { examples: [[{ compare: 'A,B@2031-03-14T14:00:00+01:00', restored: '2031-03-21/125/call;~' }]] },
  );
});

describe('the door', () => {
  const ask = (
    method: string,
    headers: Record<string, string>,
    path = '/api/v1/underlyings',
    peer: string | undefined = '::ffff:127.0.0.1',
  ) => doorRefusal(new Request(`http://localhost${path}`, { method, headers }), peer)?.status;

  test.each(['localhost:4173', '127.0.0.1', '127.9.8.7:8080', '[::1]:4173', 'umwelt.localhost'])(
    'opens to %s',
    (host) => {
      expect(ask('GET', { host })).toBeUndefined();
      expect(ask('POST', { host, origin: `http://${host}` })).toBeUndefined();
      // Anybody can write it into a header: whose connection it is counts.
      for (const peer of ['192.0.2.7', '::ffff:192.0.2.7', '2001:db8::7', ''])
        expect(ask('GET', { host }, '/data', peer), peer).toBe(403);
    },
  );
  test.each(['umwelt.test', 'localhost.umwelt.test', '128.0.0.1', '127.0.0.1.umwelt.test', ''])(
    'stays shut to “%s”',
    (host) => {
      expect(ask('GET', { host })).toBe(403);
    },
  );
  test('lets no other site change anything, or listen', () => {
    const host = 'localhost:4173';
    for (const [name, value] of [
      ['origin', 'http://umwelt.test'],
      ['origin', 'null'],
      ['sec-fetch-site', 'cross-site'],
    ]) {
      const headers = { host, [name]: value };
      expect(ask('POST', headers)).toBe(403);
      expect(ask('GET', headers, '/api/v1/stream')).toBe(403);
      expect(ask('GET', headers)).toBeUndefined();
    }
  });
  test('takes any address that is text, and says what is wrong with others', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (name) => {
        // eslint-disable-next-line no-control-regex -- these are what is refused
        const isText = !/[\u0000-\u001f\u007f]/.test(name);
        expect(malformedAddress(`/term/${encodeURIComponent(name)}?x=%ff`) === undefined).toBe(isText);
      }),
    );
    for (const path of ['/term/%ff', '/term/%', '/term/%e0%a4', '/term/a%00b'])
      expect(JSON.parse(malformedAddress(path)?.body ?? '{}'), path).toMatchObject({ status: 400 });
  });
});
