import { expect, test } from 'vitest';
import { optionPrice } from '@umwelt/core/pricing';
import { exerciseByQuotes, guessTerms, implyPrice } from '../../src/terms/index.ts';
import { allShapes, type Market } from '../chain-file/shapes.ts';

const YEAR = 365 * 86_400_000;

/** Slices of a market as parallel columns. */
function slicesOf(market: Pick<Market, 'quotes' | 'asOf' | 'price'>) {
  return [...new Set(market.quotes.map((q) => q.expiry))].map((expiry) => {
    const column = (side: string, field: 'strike' | 'bid' | 'ask') =>
      Float64Array.from(
        market.quotes.filter((q) => q.expiry === expiry && q.side === side),
        (q) => q[field],
      );
    return {
      timeToExpiry: (expiry - market.asOf) / YEAR,
      underlyingPrice: market.price,
      strikes: column('call', 'strike'),
      callBid: column('call', 'bid'),
      callAsk: column('call', 'ask'),
      putBid: column('put', 'bid'),
      putAsk: column('put', 'ask'),
    };
  });
}

const shapes = await allShapes();
const markets = [...new Map(shapes.map((s) => [s.market.symbol, s.market])).values()];

test.each(markets)('quotes of $symbol do not contradict its exercise, and tell it for index and share', (market) => {
  const told = exerciseByQuotes(slicesOf(market))?.value;
  if (market.kind === 'index' || market.kind === 'share') expect(told).toBe(market.exercise);
  else expect([undefined, market.exercise]).toContain(told);
});

/** Other laws: rates from none to high, yields, cash dividends, wide and narrow markets. */
const LAWS = [
  { rate: 0.0, yield: 0, exercise: 'european' },
  { rate: 0.0, yield: 0, exercise: 'american' },
  { rate: 0.02, yield: 0.03, exercise: 'european' },
  { rate: 0.02, yield: 0.03, exercise: 'american' },
  { rate: 0.08, yield: 0, exercise: 'european' },
  { rate: 0.08, yield: 0, exercise: 'american' },
  { rate: 0.04, yield: 0, dividend: 1.5, exercise: 'european' },
  { rate: 0.04, yield: 0, dividend: 1.5, exercise: 'american' },
] as const;

test.each(LAWS)('under $rate, yield $yield, $exercise the guess is right or left open', (law) => {
  const quotes = [0.08, 0.25, 0.5, 1].flatMap((years) =>
    Array.from({ length: 15 }, (_, i) => 65 + 5 * i).flatMap((strike) =>
      (['call', 'put'] as const).map((side) => {
        const dividends = 'dividend' in law && years > 0.2 ? [{ time: 0.2, amount: law.dividend }] : [];
        const price = optionPrice({
          ...{
            side,
            exercise: law.exercise,
            model: 'spot',
            underlying: 100,
            strike,
            timeToExpiry: years,
            rate: law.rate,
          },
          ...{ dividendYield: law.yield, volatility: 0.25, dividends },
        });
        return { expiry: years * YEAR, side, strike, bid: Math.max(0, price - 0.05), ask: price + 0.05, volume: 0 };
      }),
    ),
  );
  const told = exerciseByQuotes(slicesOf({ quotes, asOf: 0, price: 100 }))?.value;
  expect([undefined, law.exercise]).toContain(told);
  // Where money costs 8 % it shows.
  if (law.rate === 0.08) expect(told).toBe(law.exercise);
});

test('a price that the file lacks is implied by parity: an index to 0.1 %, each delivery of a future', () => {
  for (const market of markets.filter((m) => m.exercise === 'european')) {
    const prices = implyPrice(slicesOf(market), { isFuture: false });
    expect(Math.abs((prices?.[0] ?? 0) / market.price - 1)).toBeLessThan(1e-3);
  }
  const future = markets.find((m) => m.kind === 'future');
  if (!future) throw new Error('no future');
  for (const price of implyPrice(slicesOf(future), { isFuture: true }) ?? [0])
    expect(Math.abs(price / future.price - 1)).toBeLessThan(1e-3);
  expect(implyPrice([], { isFuture: false })).toBeUndefined();
});

test('what is said outside the quotes goes before what they betray, and every guess has its reason', () => {
  const share = markets.find((m) => m.kind === 'share');
  if (!share) throw new Error('no share');
  const facts = [
    { field: 'exercise', value: 'european', from: 'line 1' },
    { field: 'multiplier', value: '50', from: 'header' },
    { field: 'currency', value: 'EUR', from: 'prices' },
  ];
  const said = guessTerms({ symbol: 'HEMLA', slices: slicesOf(share), facts });
  expect(said.exercise).toEqual({ value: 'european', reason: 'line 1 says so' });
  expect([said.multiplier.value, said.currency.value]).toEqual([50, 'EUR']);
  const bare = guessTerms({ symbol: 'HEMLA', slices: [], facts: [], root: 'HEMLA7' });
  expect(bare).toMatchObject({ kind: { value: 'share' }, multiplier: { value: 10 }, currency: { value: 'XXX' } });
  for (const guess of Object.values({ ...said, ...bare })) expect(guess.reason).not.toBe('');
  expect(guessTerms({ symbol: 'GBPJPY', slices: [], facts: [] })).toMatchObject({
    kind: { value: 'currency' },
    exercise: { value: 'european' },
    currency: { value: 'JPY' },
  });
});
