import { constantOdds, evenness, type Odds, priceLaw, smileOdds } from '@umwelt/core/probability';
import { deriveSurface } from '@umwelt/core/surface';
import { expect, test } from 'vitest';
import { exactChain, type LaboratoryMarket, laboratoryQuotes, surfaceInput } from '../../src/laboratory/index.ts';
import { mertonJumps } from '../../src/laboratory/laws/index.ts';
import { mixSeed, randomSource } from '../../src/random/index.ts';

const WINDOWS = process.env.SOAK ? 1600 : 800;
const DAYS = 28;
const SPOT = 80;
/** Below this an even fall over ten bins is not believed. */
const LEAST_CHANCE = 1e-4;

/**
 * Windows that have nothing to do with each other: in each the price diffuses at a volatility of its own and jumps (Merton 1976),
 * options are quoted by that very law with spreads and noise, and the month that follows is drawn from it.
 */
function* windows(seed: number): Generator<{ market: LaboratoryMarket; seed: number; outcome: number }> {
  const random = randomSource(mixSeed(seed, 0xca1));
  for (let n = 0; n < WINDOWS; n++) {
    const jumps = { volatility: 0.12 + 0.25 * random.uniform(), perYear: 2, meanLog: -0.05, deviationLog: 0.06 };
    const market: LaboratoryMarket = {
      ...{ name: 'calibrated', law: mertonJumps(jumps), spot: SPOT, exercise: 'european', rate: 0.03, curve: 0.03 },
      ...{ dividendYield: 0, dividends: [], days: [DAYS], strikes: { most: 40, below: 3.2, above: 2.6 } },
    };
    const years = DAYS / 365;
    // What jumps add to the expected price is taken off the diffusion's drift.
    const compensation = jumps.perYear * (Math.exp(jumps.meanLog + 0.5 * jumps.deviationLog ** 2) - 1);
    let x =
      (0.03 - compensation - 0.5 * jumps.volatility ** 2) * years +
      jumps.volatility * Math.sqrt(years) * random.normal();
    for (
      let at = -Math.log(1 - random.uniform()) / jumps.perYear;
      at < years;
      at -= Math.log(1 - random.uniform()) / jumps.perYear
    )
      x += jumps.meanLog + jumps.deviationLog * random.normal();
    yield { market, seed: mixSeed(seed, n), outcome: SPOT * Math.exp(x) };
  }
}

test('from quotes to odds: the smile is calibrated where the pricing law is the real one, and a fifth too much volatility is found out', () => {
  const places = { smile: [] as number[], tooHigh: [] as number[] };
  for (const { market, seed, outcome } of windows(7)) {
    const { slices } = laboratoryQuotes(market, exactChain(market), seed);
    const [expiry] = deriveSurface(surfaceInput(market, slices)).expiries;
    const fitted = expiry.smile;
    if (!fitted) throw new Error('no smile was fitted');
    const forward = expiry.forward.forward;
    const law = priceLaw({ smile: fitted.smile, forward, range: fitted.range });
    places.smile.push(smileOdds(law, market.spot).below(outcome));
    const atm = Math.sqrt(fitted.smile.totalVariance(0) / fitted.smile.timeToExpiry);
    const { timeToExpiry } = fitted.smile;
    const drift = Math.log(forward / market.spot) / timeToExpiry;
    const high: Odds = constantOdds({ spot: market.spot, timeToExpiry, volatility: 1.2 * atm, drift });
    places.tooHigh.push(high.below(outcome));
  }
  expect(places.smile).toHaveLength(WINDOWS);
  const smile = evenness(places.smile);
  expect(smile.chance, smile.counts.join(' ')).toBeGreaterThan(LEAST_CHANCE);
  const tooHigh = evenness(places.tooHigh);
  expect(tooHigh.chance, tooHigh.counts.join(' ')).toBeLessThan(LEAST_CHANCE);
});
