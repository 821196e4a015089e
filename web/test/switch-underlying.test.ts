import { describe, expect, test } from 'vitest';
import { parseContext } from '../src/lib/api/as-of-context.ts';
import { focusExpiry } from '../src/lib/market/index.ts';
import { contextNotes } from '../src/lib/shell/context-notes.ts';
import { switchUnderlying } from '../src/lib/shell/switch-underlying.ts';
import { VIEWS } from '../src/lib/views/index.ts';
import { storedPicture } from './demo-pictures.ts';

/* Another underlying is asked the same question; what an address asks for in vain is said. */

const picture = storedPicture('FJRD');

const at = (path: string) => new URL(path, 'http://localhost');
const queryOf = (href: string) => Object.fromEntries(at(href).searchParams);

describe('switching the underlying', () => {
  test('keeps instant, panel, axis, basis and what is compared; the expiry in focus becomes a tenor', () => {
    const far = picture.expiries[picture.expiries.length - 1];
    const { href, leftBehind } = switchUnderlying(
      VIEWS,
      at(
        `/skew/FJRD?asOf=2031-03-07T17:30:00Z&skew=year&axis=delta&basis=contract&expiry=${far.date}&compare=KELPA,MERRO,FJRD@2031-01-03T17:30:00Z`,
      ),
      'KELPA',
      picture,
    );
    expect(at(href).pathname).toBe('/skew/KELPA');
    expect(queryOf(href)).toEqual({
      asOf: '2031-03-07T17:30:00Z',
      skew: 'year',
      axis: 'delta',
      basis: 'contract',
      // Not beside itself.
      compare: 'MERRO,FJRD@2031-01-03T17:30:00Z',
      tenor: String(Math.round(far.days)),
    });
    expect(leftBehind).toEqual([]);
  });

  test('leaves behind what is of the underlying, and says so', () => {
    const { href, leftBehind } = switchUnderlying(
      VIEWS,
      at(
        '/chain/FJRD?restored=2031-03-21/125/call&expiries=2031-03-21&carry=typed&financing=0.03&borrowCost=0.2&volatilitySource=typed&typedVolatility=0.3&workings=price',
      ),
      'A/B',
      picture,
    );
    expect(href).toBe('/chain/A%2FB');
    expect(leftBehind).toEqual(['quotes put back', 'picked expiries', 'the typed volatility', 'the typed carry']);
  });

  test('stays in the Pricer, whose own days are no tenor', () => {
    const { href, leftBehind } = switchUnderlying(
      VIEWS,
      at('/pricer/FJRD?panel=decay&days=12&strike=95&side=put&tenor=60'),
      'KELPA',
      picture,
    );
    expect(href).toBe('/pricer/KELPA?panel=decay&side=put&tenor=60');
    expect(leftBehind).toEqual(['inputs of the Pricer']);
    expect(switchUnderlying(VIEWS, at('/data'), 'KELPA', undefined).href).toBe('/skew/KELPA');
  });
});

describe('a tenor in focus', () => {
  test.each([1, 20, 45, 100, 5000])('of %d days is the shown expiry nearest to it', (tenor) => {
    const focus = focusExpiry(picture, parseContext(new URLSearchParams({ tenor: String(tenor) })));
    const off = picture.expiries.filter((e) => e.outlier === null).map((e) => Math.abs(e.days - tenor));
    expect(Math.abs((focus?.days ?? NaN) - tenor)).toBe(Math.min(...off));
  });

  test('gives way to an expiry that is chosen', () => {
    const [first] = picture.expiries;
    expect(focusExpiry(picture, parseContext(new URLSearchParams({ tenor: '5000', expiry: first.date })))).toBe(first);
  });
});

describe('what an address asks for in vain is said', () => {
  const notes = (query: string) => contextNotes(picture, new URLSearchParams(query));
  const later = (days: number) => new Date(Date.parse(picture.asOf) + days * 86_400_000).toISOString();

  test('nothing of what is there', () => {
    const shown = `asOf=${encodeURIComponent(picture.asOf)}&expiry=${picture.expiries[1].date}&tenor=${Math.round(picture.expiries[1].days)}`;
    for (const query of ['', 'axis=delta', shown]) expect(notes(query), query).toEqual([]);
  });

  test.each([
    ['asOf=yesterday', 'asOf', /“yesterday” is no instant/],
    ['asOf=2031-02-30T10:00:00Z', 'asOf', /“2031-02-30T10:00:00Z” is no instant/],
    ['asOf=live', 'asOf', /The feed does not quote FJRD; shown is the latest stored instant/],
    ['asOf=1999-01-04T10:00:00Z', 'asOf', /Nothing of FJRD is stored at or before 4 Jan 1999.*shown is the first/],
    ['expiry=18-04-2031', 'expiry', /“18-04-2031” is no date.*in focus is/],
    ['expiry=2099-01-01', 'expiry', /FJRD has no expiry on 1 Jan 99; in focus is/],
    ['expiries=never', 'expiries', /“never” are no dates/],
    ['expiries=2099-01-01', 'expiries', /none of the expiries that were picked/],
    ['tenor=9000', 'tenor', /no expiry near 9000 days; in focus is/],
  ])('%s', (query, parameter, words) => {
    const [note, ...more] = notes(query);
    expect(more).toEqual([]);
    expect(note.parameter).toBe(parameter);
    expect(note.text).toMatch(words);
  });

  test('an instant a weekend later is what is stored before it, one a fortnight later is far', () => {
    expect(notes(`asOf=${encodeURIComponent(later(3))}`)).toEqual([]);
    expect(notes(`asOf=${encodeURIComponent(later(14))}`)[0].text).toMatch(/^The last that is stored of FJRD before/);
  });
});
