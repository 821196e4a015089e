import fc from 'fast-check';
import { expect, test } from 'vitest';
import { black76Price, type Option, optionPrice, type Side } from '../../src/pricing/index.ts';
import { deriveSurface, type Slice, sviRawSmile, smileVolatility } from '../../src/surface/index.ts';

/*
 * American quotes made by the pricer's finest method from a known forward and smile, each option with its strike's
 * constant volatility, must give that forward and that smile back.
 */

const SMILE = (timeToExpiry: number) =>
  sviRawSmile({ a: 0.012 * timeToExpiry, b: 0.05, rho: -0.4, m: 0.02, sigma: 0.15 }, timeToExpiry);

const HALF_WIDTH = 0.01;

interface Market {
  spot: number;
  rate: number;
  dividendYield?: number;
  dividends?: { time: number; amount: number }[];
  isFuture?: boolean;
}

function quotesOf(
  market: Market,
  timeToExpiry: number,
): { slice: Slice; forward: number; european: (side: Side, strike: number) => number } {
  const { spot, rate, dividendYield = 0, dividends, isFuture } = market;
  const paid = (dividends ?? []).reduce((sum, d) => sum + d.amount * Math.exp((dividendYield - rate) * d.time), 0);
  const forward = isFuture ? spot : (spot - paid) * Math.exp((rate - dividendYield) * timeToExpiry);
  const smile = SMILE(timeToExpiry);
  const strikes = Float64Array.from({ length: 25 }, (_, i) => 70 + 2.5 * i);
  const optionAt = (side: Side, exercise: 'american' | 'european', strike: number): Option => {
    const volatility = smileVolatility(smile, Math.log(strike / forward));
    const common = { side, exercise, strike, timeToExpiry, rate, volatility } as const;
    return isFuture
      ? { ...common, model: 'futures', underlying: spot }
      : { ...common, model: 'spot', underlying: spot, dividendYield, dividends };
  };
  const price = (side: Side) => strikes.map((strike) => optionPrice(optionAt(side, 'american', strike), 'fine'));
  const call = price('call');
  const put = price('put');
  return {
    forward,
    european: (side, strike) => optionPrice(optionAt(side, 'european', strike), 'fine'),
    slice: {
      timeToExpiry,
      strikes,
      callBid: call.map((c) => c - HALF_WIDTH),
      callAsk: call.map((c) => c + HALF_WIDTH),
      putBid: put.map((p) => p - HALF_WIDTH),
      putAsk: put.map((p) => p + HALF_WIDTH),
    },
  };
}

test.each<[string, Market]>([
  ['a share with a yield', { spot: 100, rate: 0.05, dividendYield: 0.03 }],
  ['a share that pays nothing', { spot: 100, rate: 0.06 }],
  ['a future', { spot: 100, rate: 0.05, isFuture: true }],
  ['a share with a cash dividend', { spot: 100, rate: 0.05, dividends: [{ time: 0.31, amount: 1.5 }] }],
  [
    'a share with two cash dividends and a cost to borrow',
    {
      spot: 100,
      rate: 0.04,
      dividendYield: 0.02,
      dividends: [
        { time: 0.1, amount: 2 },
        { time: 0.55, amount: 2 },
      ],
    },
  ],
])('American quotes on %s give back their forward and smile', (_, market) => {
  for (const time of [0.2, 0.75]) {
    const dividends = (market.dividends ?? []).filter((d) => d.time < time);
    const { slice, forward, european } = quotesOf(
      { ...market, dividends: dividends.length > 0 ? dividends : undefined },
      time,
    );
    const { expiries } = deriveSurface({
      spot: market.spot,
      slices: [slice],
      carries: [
        {
          spot: market.spot,
          rate: market.rate,
          exercise: 'american',
          isFuture: market.isFuture,
          dividends,
        },
      ],
    });
    const [e] = expiries;
    expect(e.forward.source).toBe('parity');
    // A quote's half width; its whole one with cash dividends, whose premiums are mixed from a few strikes'.
    expect(Math.abs(e.forward.forward - forward)).toBeLessThan(market.dividends ? 2 * HALF_WIDTH : HALF_WIDTH);
    for (const k of [-0.25, -0.1, 0, 0.1, 0.2]) {
      const side = k < 0 ? 'put' : 'call';
      const strike = forward * Math.exp(k);
      // In money: Black's price of the fitted volatility against the European value of the same option.
      const fitted = black76Price({
        side,
        forward,
        strike,
        timeToExpiry: time,
        volatility: e.smile ? smileVolatility(e.smile.smile, k) : NaN,
        discountFactor: Math.exp(-market.rate * time),
      });
      expect(Math.abs(fitted - european(side, strike)), `${time} ${k}`).toBeLessThan(0.5 * HALF_WIDTH);
    }
    // Taken as European, the same pairs tell another discount factor.
    const naive = deriveSurface({ spot: market.spot, slices: [slice], rates: [market.rate] }).expiries[0];
    const alone = naive.forward.parityAlone?.discountFactor ?? NaN;
    expect(Math.abs(alone - Math.exp(-market.rate * time))).toBeGreaterThan(0.0005);
  }
});

test('whatever few and wild American quotes come, there is a surface and no exception', () => {
  const price = fc.double({ min: 0.01, max: 60, noNaN: true });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(price, price, price, price), { minLength: 1, maxLength: 9 }),
      fc.double({ min: 0.002, max: 2, noNaN: true }),
      fc.double({ min: -0.02, max: 0.12, noNaN: true }),
      fc.boolean(),
      (quotes, timeToExpiry, rate, isPaying) => {
        const dividends = isPaying ? [{ time: 0.5 * timeToExpiry, amount: 1 }] : [];
        const { expiries } = deriveSurface({
          spot: 100,
          slices: [
            {
              timeToExpiry,
              strikes: Float64Array.from(quotes, (_, i) => 80 + 5 * i),
              callBid: Float64Array.from(quotes, ([a]) => a),
              callAsk: Float64Array.from(quotes, ([, b]) => b),
              putBid: Float64Array.from(quotes, ([, , c]) => c),
              putAsk: Float64Array.from(quotes, ([, , , d]) => d),
            },
          ],
          carries: [{ rate, exercise: 'american', dividends }],
        });
        expect(expiries[0].forward.forward).toBeGreaterThan(0);
        for (const side of ['call', 'put'] as const) {
          expect(expiries[0].premium?.[side].every((e) => e >= 0 && e < 1000)).toBe(true);
        }
      },
    ),
    { numRuns: 300 },
  );
});
