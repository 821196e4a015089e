import { black76Price } from '@umwelt/core/pricing';
import { priceLaw } from '@umwelt/core/probability';
import { type MarketDay, STRUCTURE_MEASURES, structureGrid, type ValuedLeg } from '@umwelt/core/structure';
import { smileVolatility, sviRawSmile, VolatilitySurface } from '@umwelt/core/surface';

export const GRID = { legs: 4, prices: 400, days: 60 } as const;
const PRICES = GRID.prices;
const DAYS = GRID.days;
const RUNS = 25;

/**
 * Times of a structure's grid, milliseconds, the first of a thread before anything is compiled: four European legs of two smiles, profit and
 * all Greeks, with what is worked out of the surface for each day.
 */
export function gridTimes(): number[] {
  const spot = 4800;
  const smiles = [
    sviRawSmile({ a: 0.0012, b: 0.02, rho: -0.6, m: 0.01, sigma: 0.06 }, 60 / 365),
    sviRawSmile({ a: 0.004, b: 0.04, rho: -0.55, m: 0.01, sigma: 0.1 }, 150 / 365),
  ];
  const range: readonly [number, number] = [-0.25, 0.15];
  const expiries = smiles.map((smile) => ({
    ...{ years: smile.timeToExpiry, forward: spot, discountFactor: 0.99, american: undefined },
    law: priceLaw({ smile, forward: spot, range }),
  }));
  const legs = [4500, 4700, 4900, 5100].map((strike, i): ValuedLeg => {
    const side = i < 2 ? 'put' : 'call';
    const { years, forward, discountFactor } = expiries[i % 2];
    const volatility = smileVolatility(smiles[i % 2], Math.log(strike / forward));
    const value = black76Price({ side, forward, strike, timeToExpiry: years, volatility, discountFactor });
    return { kind: 'option', side, strike, years, quantity: i % 2 === 0 ? 1 : -1, price: value, value };
  });
  const prices = Float64Array.from({ length: PRICES }, (_, i) => spot * (0.8 + (0.35 * i) / (PRICES - 1)));
  const times: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    const start = performance.now();
    const surface = new VolatilitySurface(
      smiles.map((smile) => ({ smile, forward: spot })),
      { spot },
    );
    const days = Array.from({ length: DAYS }, (_, i): MarketDay | undefined => {
      const years = (i / (DAYS - 1)) * expiries[0].years;
      if (i === DAYS - 1) return undefined;
      if (i === 0) return { years, forward: spot, discountFactor: 1, law: undefined };
      const scale = Math.sqrt(years / expiries[0].years);
      const law = priceLaw({
        smile: surface.smileAt(years),
        forward: spot,
        range: [range[0] * scale, range[1] * scale],
      });
      return { years, forward: spot, discountFactor: 0.99 ** (years / expiries[0].years), law };
    });
    const found = structureGrid(legs, { expiries, days, prices, measures: STRUCTURE_MEASURES });
    if (!found.ok) throw new Error(found.reason);
    times.push(performance.now() - start);
  }
  return times;
}
