import type { ChainRow } from '../api/chain-row.ts';
import type { ExpiryPicture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import { fittedVolatility } from './expiry-smile.ts';
import type { ListedOption } from './listed-contract.ts';
import type { ListedValue } from './listed-values.ts';

/** Which options of an expiry are listed: those out of the money, or all. */
export const CHAIN_SIDES = ['out', 'both'] as const;
export type ChainSides = (typeof CHAIN_SIDES)[number];

/** Options of an expiry as Chain lists them, by descending strike; `out` keeps the out-of-the-money side of each. */
export function chainOptions(expiry: ExpiryPicture, sides: ChainSides): ListedOption[] {
  const options: ListedOption[] = [];
  for (let i = expiry.strikes.length - 1; i >= 0; i--) {
    const strike = expiry.strikes[i];
    const shown: Side[] = sides === 'both' ? ['call', 'put'] : [strike >= expiry.forward ? 'call' : 'put'];
    for (const side of shown) options.push({ side, strike });
  }
  return options;
}

/** Quotes of one expiry against theory. @param values of the options, in their order */
export function chainRows(
  expiry: ExpiryPicture,
  options: readonly ListedOption[],
  values: readonly (ListedValue | undefined)[],
): ChainRow[] {
  return options.map((option, i) => chainRow(expiry, option, values[i]));
}

function gapInVolatility(
  gap: number | null,
  theory: number | null,
  bid: number | null,
  ask: number | null,
): number | null {
  if (gap === null || theory === null) return null;
  if (gap === 0) return 0;
  const nearer = gap > 0 ? bid : ask;
  return nearer === null ? null : nearer - theory;
}

/** The quote of one listed option against its theory. */
export function chainRow(
  expiry: ExpiryPicture,
  { side, strike }: ListedOption,
  value: ListedValue | undefined,
): ChainRow {
  const i = expiry.strikes.indexOf(strike);
  const quotes = expiry[side];
  const { bid, ask } = { bid: quotes.bid[i], ask: quotes.ask[i] };
  const theory = value?.price ?? null;
  const isFaulty = quotes.verdict[i] === 'crossed' || quotes.verdict[i] === 'no-ask' || quotes.verdict[i] === 'stale';
  const isJudged = theory !== null && bid !== null && ask !== null && !isFaulty;
  const gap = !isJudged ? null : bid > theory ? bid - theory : ask < theory ? ask - theory : 0;
  return {
    strike,
    side,
    bid,
    ask,
    mid: bid !== null && ask !== null ? 0.5 * (bid + ask) : null,
    last: quotes.last[i],
    volume: quotes.volume[i],
    openInterest: quotes.openInterest[i],
    verdict: quotes.verdict[i],
    bidVolatility: quotes.bidVolatility[i],
    midVolatility: quotes.midVolatility[i],
    askVolatility: quotes.askVolatility[i],
    fitVolatility: fittedVolatility(expiry, strike),
    theoryVolatility: value?.volatility ?? null,
    contractVolatility: value?.contractVolatility ?? null,
    theory,
    earlyExercise: value?.earlyExercise ?? null,
    method: value?.method ?? null,
    level: value?.level ?? null,
    standing: gap === null ? null : gap > 0 ? 'dear' : gap < 0 ? 'cheap' : 'inside',
    gap,
    gapVolatility: gapInVolatility(gap, value?.volatility ?? null, quotes.bidVolatility[i], quotes.askVolatility[i]),
    delta: value?.delta ?? null,
    gamma: value?.gamma ?? null,
    theta: value?.theta ?? null,
    vega: value?.vega ?? null,
    rho: value?.rho ?? null,
    forwardDelta: value?.forwardDelta ?? null,
    probabilityItm: value?.probabilityItm ?? null,
    probabilityItmConstantVolatility: value?.probabilityItmConstantVolatility ?? null,
  };
}
