import {
  black76Price,
  blackScholesMertonGreeks,
  blackScholesMertonPrice,
  impliedVolatility,
  type Side,
} from '@umwelt/core/pricing';
import { deriveSurface, type Slice } from '@umwelt/core/surface';

/*
 * Speed of the core, printed and not asserted. Inputs come from one small generator, so that every run does the same
 * work; a checksum shows that it did.
 */

let state = 12345;
/** Uniform on (0, 1): a linear congruential generator, enough for inputs. */
function draw(): number {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return (state + 0.5) / 2 ** 32;
}

const COUNT = 100_000;
const ROUNDS = 9;

function measure(name: string, operations: number, work: () => number): void {
  let checksum = work();
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const start = process.hrtime.bigint();
    checksum = work();
    times.push(Number(process.hrtime.bigint() - start) / operations);
  }
  times.sort((a, b) => a - b);
  const [fastest, median] = [times[0], times[times.length >> 1]];
  console.log(
    `${name.padEnd(44)} ${fastest.toFixed(0).padStart(12)} ns  ${median.toFixed(0).padStart(12)} ns   ${checksum.toPrecision(14)}`,
  );
}

const contracts = Array.from({ length: COUNT }, () => {
  const spot = 50 + 100 * draw();
  const strike = spot * (0.6 + 0.8 * draw());
  const timeToExpiry = 0.02 + 2.98 * draw();
  const rate = 0.08 * draw() - 0.01;
  const dividendYield = 0.05 * draw();
  const volatility = 0.05 + 0.75 * draw();
  const side: Side = draw() < 0.5 ? 'call' : 'put';
  return { side, spot, strike, timeToExpiry, rate, dividendYield, volatility };
});
const quotes = contracts.slice(0, 20_000).map((c) => {
  const forward = c.spot * Math.exp((c.rate - c.dividendYield) * c.timeToExpiry);
  const option = {
    side: c.side,
    forward,
    strike: c.strike,
    timeToExpiry: c.timeToExpiry,
    discountFactor: Math.exp(-c.rate * c.timeToExpiry),
  };
  return { ...option, price: black76Price({ ...option, volatility: c.volatility }) };
});

function surfaceSlices(): Slice[] {
  return Array.from({ length: 12 }, (_, e) => {
    const timeToExpiry = (7 + 30 * e) / 365;
    const strikes = Float64Array.from({ length: 60 }, (_v, k) => 60 + (4 * k) / 3);
    const quote = (side: Side, factor: number) =>
      strikes.map((strike) => {
        const m = strike / 100 - 1;
        const volatility = 0.2 + 0.1 * m * m - 0.05 * m;
        const price = black76Price({
          side,
          forward: 100,
          strike,
          timeToExpiry,
          volatility,
          discountFactor: Math.exp(-0.03 * timeToExpiry),
        });
        return Math.max(0, Math.round(price * factor * 100) / 100);
      });
    return {
      timeToExpiry,
      strikes,
      callBid: quote('call', 0.985),
      callAsk: quote('call', 1.015),
      putBid: quote('put', 0.985),
      putAsk: quote('put', 1.015),
    };
  });
}
const slices = surfaceSlices();

console.log(`${'per operation'.padEnd(44)} ${'fastest'.padStart(15)}  ${'median'.padStart(15)}   checksum`);
measure('European price (object in, number out)', COUNT, () =>
  contracts.reduce((sum, c) => sum + blackScholesMertonPrice(c), 0),
);
measure('European price and all Greeks', COUNT, () =>
  contracts.reduce((sum, c) => sum + blackScholesMertonGreeks(c).vega, 0),
);
measure('implied volatility', quotes.length, () =>
  quotes.reduce((sum, q) => {
    const result = impliedVolatility(q);
    return sum + (result.ok ? result.volatility : 0);
  }, 0),
);
measure('surface, 12 expiries x 60 strikes x 2 sides', 1, () => deriveSurface({ slices, spot: 100 }).atm30);
