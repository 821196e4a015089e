import fc from 'fast-check';
import { expect, test } from 'vitest';
import { formatOptionSymbol, type ListedOption, parseOptionSymbol } from '../../src/option-symbol/index.ts';

const option: fc.Arbitrary<ListedOption> = fc.record({
  root: fc.stringMatching(/^[A-Z0-9]{1,6}$/),
  expiry: fc
    .date({ min: new Date('2000-01-01'), max: new Date('2099-12-31'), noInvalidDate: true })
    .map((d) => d.toISOString().slice(0, 10)),
  side: fc.constantFrom('call', 'put'),
  strike: fc.integer({ min: 1, max: 99_999_999 }).map((thousandths) => thousandths / 1000),
});

test('every listed option comes back from its symbol of 21 characters', () => {
  fc.assert(
    fc.property(option, (o) => {
      const symbol = formatOptionSymbol(o);
      expect(symbol).toHaveLength(21);
      expect(parseOptionSymbol(symbol)).toEqual({ ok: true, option: o });
    }),
  );
  expect(formatOptionSymbol({ root: 'KELPA', expiry: '2031-04-18', side: 'call', strike: 82.5 })).toBe(
    'KELPA 310418C00082500',
  );
});

test('what the symbology cannot hold is refused by name, and a wrong symbol says what is wrong with it', () => {
  const good: ListedOption = { root: 'VM50', expiry: '2031-03-21', side: 'put', strike: 4800 };
  expect(() => formatOptionSymbol({ ...good, root: 'LONGROOT' })).toThrow('root');
  expect(() => formatOptionSymbol({ ...good, expiry: '2031-02-30' })).toThrow('expiry');
  expect(() => formatOptionSymbol({ ...good, strike: 0.0005 })).toThrow('strike');
  expect(() => formatOptionSymbol({ ...good, strike: 100_000 })).toThrow('strike');
  const symbol = formatOptionSymbol(good);
  const reasonOf = (text: string) => {
    const result = parseOptionSymbol(text);
    return result.ok ? 'ok' : result.reason;
  };
  expect(reasonOf(symbol)).toBe('ok');
  expect(reasonOf(symbol.slice(1))).toBe('wrong-length');
  expect(reasonOf(`vm50  ${symbol.slice(6)}`)).toBe('bad-root');
  expect(reasonOf(`V M50 ${symbol.slice(6)}`)).toBe('bad-root');
  expect(reasonOf(symbol.replace('310321', '310231'))).toBe('bad-date');
  expect(reasonOf(symbol.replace('P', 'X'))).toBe('bad-side');
  expect(reasonOf(symbol.replace('04800000', '0480.000'))).toBe('bad-strike');
  expect(reasonOf(symbol.replace('04800000', '00000000'))).toBe('bad-strike');
});
