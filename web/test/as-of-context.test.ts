import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { asOfContext, pictureQuery, VOLATILITY_SOURCES } from '../src/lib/api/as-of-context.ts';
import { comparisonText, MOST_COMPARED } from '../src/lib/api/comparison.ts';
import { SKEW_AXES, SKEW_PANELS, skewParameters } from '../src/lib/views/skew/parameters.ts';

/* The state of a view as its URL carries it: nothing that is typed there may break a page, nothing right may be lost. */

/** A view's address: the shared context, and what is Skew's own. */
const skewAddress = asOfContext.extend(skewParameters.shape);
type SkewAddress = ReturnType<typeof parseSkew>;
const parseSkew = (parameters: URLSearchParams) => skewAddress.parse(Object.fromEntries(parameters));
const DEFAULTS = skewAddress.parse({});
const day = fc
  .date({ min: new Date('2029-01-01T00:00:00Z'), max: new Date('2033-12-31T00:00:00Z'), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));
const instant = day.map((d) => `${d}T14:00:00+01:00`);
const symbol = fc.stringMatching(/^[A-Z][A-Z0-9]{0,7}$/);
const restored = fc.record({
  expiry: day,
  strike: fc.double({ min: 0.01, max: 9e5, noNaN: true }).map((k) => Math.round(k * 100) / 100),
  side: fc.constantFrom('call' as const, 'put' as const),
});

/** Everything that a URL may say, and how it says it. */
const states = fc.record({
  asOf: fc.option(fc.oneof(instant, fc.constant('live')), { nil: undefined }),
  expiries: fc.option(fc.uniqueArray(day, { maxLength: 6 }), { nil: undefined }),
  expiry: fc.option(day, { nil: undefined }),
  volatilitySource: fc.constantFrom(...VOLATILITY_SOURCES),
  typedVolatility: fc.option(fc.double({ min: 0.001, max: 5, noNaN: true }), { nil: undefined }),
  restored: fc.array(restored, { maxLength: 5 }),
  skew: fc.constantFrom(...SKEW_PANELS),
  axis: fc.constantFrom(...SKEW_AXES),
  compare: fc.array(fc.record({ symbol, asOf: fc.option(instant, { nil: undefined }) }), { maxLength: MOST_COMPARED }),
  workings: fc.option(fc.constantFrom('atm30', 'theory~2031-04-18~4650~put'), { nil: undefined }),
});

function query(state: Partial<SkewAddress>): URLSearchParams {
  const { restored: back, compare, ...plain } = state;
  const parameters = new URLSearchParams();
  for (const [name, value] of Object.entries(plain)) {
    if (value !== undefined) parameters.set(name, String(value));
  }
  if (back) parameters.set('restored', back.map((r) => `${r.expiry}/${r.strike}/${r.side}`).join(','));
  if (compare) parameters.set('compare', compare.map(comparisonText).join(','));
  return parameters;
}

test('what a URL says comes back as it was, whatever else stands in it', () => {
  fc.assert(
    fc.property(states, fc.dictionary(fc.stringMatching(/^x[a-z]{1,6}$/), fc.string()), (state, others) => {
      const parameters = query(state);
      for (const [name, value] of Object.entries(others)) parameters.set(name, value);
      const parsed = parseSkew(parameters);
      const { compare, ...rest } = state;
      expect(parsed).toMatchObject(JSON.parse(JSON.stringify(rest)) as object);
      expect(parsed.compare.map(comparisonText)).toEqual(compare.map(comparisonText));
      expect(Object.keys(parsed).filter((name) => name in others)).toEqual([]);
    }),
  );
});

describe('of a malformed URL', () => {
  const names = Object.keys(skewAddress.shape);
  const junk = fc.dictionary(fc.constantFrom(...names), fc.string({ maxLength: 60 }));

  test('a page takes what is right and the defaults for the rest, and never fails', () => {
    fc.assert(
      fc.property(junk, states, (wrong, right) => {
        const parameters = query(right);
        for (const [name, value] of Object.entries(wrong)) parameters.set(name, value);
        const parsed = parseSkew(parameters);
        const expected = parseSkew(query(right));
        for (const name of names as (keyof SkewAddress)[]) {
          if (!(name in wrong)) expect(parsed[name], name).toEqual(expected[name]);
          // One by one, so that a wrong parameter cannot spoil another.
          else expect(parsed[name], name).toEqual(skewAddress.parse({ [name]: wrong[name] })[name]);
        }
      }),
    );
  });

  test('the API refuses exactly what a page would replace by a default, and names it', () => {
    fc.assert(
      fc.property(junk, (wrong) => {
        const parsed = parseSkew(new URLSearchParams(wrong));
        const asked = pictureQuery.safeParse(wrong);
        if (asked.success) {
          for (const name of Object.keys(pictureQuery.shape) as (keyof typeof asked.data)[]) {
            expect(parsed[name], name).toEqual(asked.data[name]);
          }
        } else {
          for (const { path } of asked.error.issues) {
            const name = path[0] as keyof SkewAddress;
            expect(wrong).toHaveProperty(name);
            expect(parsed[name], name).toEqual(DEFAULTS[name]);
          }
        }
      }),
      {
        examples: [[{ volatilitySource: 'best' }], [{ restored: '2031-03-21/125/both' }], [{ typedVolatility: '-1' }]],
      },
    );
  });

  test.each([
    ['asOf', 'yesterday'],
    ['asOf', '2031-02-30T14:00:00+01:00'],
    ['expiry', '2031-13-01'],
    ['expiries', '2031-04-18,soon'],
    ['volatilitySource', 'SMILE'],
    ['typedVolatility', '0'],
    ['typedVolatility', '5.01'],
    ['restored', '2031-03-21/125'],
    ['compare', 'KEL..PA'],
    ['compare', 'KELPA@yesterday'],
    ['axis', 'log'],
    ['workings', 'a'.repeat(121)],
  ] as const)('%s=%s stands for nothing', (name, value) => {
    expect(parseSkew(new URLSearchParams({ [name]: value }))).toEqual(DEFAULTS);
  });
});

test('no more pictures are held beside than the page can bear, the first ones', () => {
  const many = Array.from({ length: 9 }, (_, i) => `S${i}`);
  const { compare } = parseSkew(new URLSearchParams({ compare: many.join(',') }));
  expect(compare.map((c) => c.symbol)).toEqual(many.slice(0, MOST_COMPARED));
});
