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

/** The quote of one option of an expiry against its theory. */
export function chainRow(
  expiry: ExpiryPicture,
  { side, strike }: ListedOption,
  value: ListedValue | undefined,
): ChainRow {
  const i = expiry.strikes.indexOf(strike);
  const quotes = expiry[side];
  // An option that is not listed has no quote.
  const quoted = <T>(column: readonly (T | null)[]): T | null => (i < 0 ? null : column[i]);
  const [bid, ask, verdict] = [quoted(quotes.bid), quoted(quotes.ask), quoted(quotes.verdict)];
  const theory = value?.price ?? null;
  const isFaulty = verdict === 'crossed' || verdict === 'no-ask' || verdict === 'stale';
  const [bidVolatility, askVolatility] = [quoted(quotes.bidVolatility), quoted(quotes.askVolatility)];
  const isJudged = theory !== null && bid !== null && ask !== null && !isFaulty;
  const gap = !isJudged ? null : bid > theory ? bid - theory : ask < theory ? ask - theory : 0;
  return {
    strike,
    side,
    bid,
    ask,
    mid: bid !== null && ask !== null ? 0.5 * (bid + ask) : null,
    last: quoted(quotes.last),
    volume: quoted(quotes.volume),
    openInterest: quoted(quotes.openInterest),
    verdict,
    bidVolatility,
    midVolatility: quoted(quotes.midVolatility),
    askVolatility,
    fitVolatility: fittedVolatility(expiry, strike),
    theoryVolatility: value?.volatility ?? null,
    contractVolatility: value?.contractVolatility ?? null,
    theory,
    earlyExercise: value?.earlyExercise ?? null,
    method: value?.method ?? null,
    level: value?.level ?? null,
    standing: gap === null ? null : gap > 0 ? 'dear' : gap < 0 ? 'cheap' : 'inside',
    gap,
    gapVolatility: gapInVolatility(gap, value?.volatility ?? null, bidVolatility, askVolatility),
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
