import type { Side } from '@umwelt/core/pricing';
import type { Slice } from '@umwelt/core/surface';
import { mixSeed, type RandomSource, randomSource } from '../random/index.ts';
import type { ExactExpiry } from './exact-chain.ts';
import type { LaboratoryMarket } from './laboratory-market.ts';

/** Half widths of a plain quote: at least a cent, else so much of the time value and of the price. */
const WIDTH = { least: 0.01, ofTimeValue: 0.015, ofPrice: 0.0008 };
/** Deviation of a mid from its value in half widths, cut so that the value stays inside. */
const NOISE = { deviation: 0.4, most: 0.9 };
const ROUNDING = 1e-9;

/** A quote that was spoilt on purpose. */
export interface PlantedFault {
  expiry: number;
  side: Side;
  index: number;
  kind: 'stale' | 'crossed' | 'no-bid';
}

/** Quotes of every expiry around the true values, drawn from a seed, with the faults that were planted. */
export function laboratoryQuotes(
  market: LaboratoryMarket,
  exact: readonly ExactExpiry[],
  seed: number,
): { slices: Slice[]; faults: PlantedFault[] } {
  const random = randomSource(mixSeed(seed, 0x1ab));
  const slices = exact.map((e): Slice => {
    const call = sideQuotes(market, e, 'call', random);
    const put = sideQuotes(market, e, 'put', random);
    const { timeToExpiry, strikes } = e;
    return { timeToExpiry, strikes, callBid: call.bid, callAsk: call.ask, putBid: put.bid, putAsk: put.ask };
  });
  return { slices, faults: plantFaults(market, slices, random) };
}

function sideQuotes(market: LaboratoryMarket, e: ExactExpiry, side: Side, random: RandomSource) {
  const { tick = 0.01, width = 1, spot } = market;
  const value = e.value[side];
  const bid = new Float64Array(value.length);
  const ask = new Float64Array(value.length);
  value.forEach((v, i) => {
    const sign = side === 'call' ? 1 : -1;
    const strike = e.strikes[i];
    const inner =
      market.exercise === 'american' ? sign * (spot - strike) : sign * e.discountFactor * (e.forward - strike);
    const timeValue = Math.max(0, v - Math.max(0, inner));
    const half = Math.max(WIDTH.least, width * (WIDTH.ofTimeValue * timeValue + WIDTH.ofPrice * v));
    const off = Math.max(-NOISE.most, Math.min(NOISE.most, NOISE.deviation * random.normal()));
    const mid = v + half * off;
    bid[i] = Math.max(0, tick * Math.floor((mid - half) / tick + ROUNDING));
    ask[i] = tick * Math.ceil((mid + half) / tick - ROUNDING);
  });
  return { bid, ask };
}

function plantFaults(market: LaboratoryMarket, slices: Slice[], random: RandomSource): PlantedFault[] {
  const kinds = ['stale', 'crossed', 'no-bid'] as const;
  return Array.from({ length: market.faults ?? 0 }, (_, n): PlantedFault => {
    const expiry = Math.floor(random.uniform() * slices.length);
    const slice = slices[expiry];
    const side = random.uniform() < 0.5 ? 'call' : 'put';
    const index = Math.floor(random.uniform() * slice.strikes.length);
    const kind = kinds[n % kinds.length];
    const bid = slice[`${side}Bid`];
    const ask = slice[`${side}Ask`];
    if (kind === 'no-bid') bid[index] = 0;
    else if (kind === 'crossed') [bid[index], ask[index]] = [ask[index] + 0.05, Math.max(0.01, bid[index])];
    else {
      // Of a while ago, when the option was worth a fifth more.
      bid[index] *= 1.2;
      ask[index] *= 1.2;
    }
    return { expiry, side, index, kind };
  });
}
