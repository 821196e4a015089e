import { probabilityAbove } from '@umwelt/core/surface';
import { blackScholesMertonGreeks, forwardDelta, type Greeks } from '@umwelt/core/pricing';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ChainRow } from '../schema/chain-row.ts';
import type { ExpiryPicture, Side } from '../schema/picture.ts';
import { type EarlyExercise, earlyExercise, earlyExerciseAt } from './early-exercise.ts';
import { borrowedSmileOf, expirySmile, fittedVolatility } from './expiry-smile.ts';
import { theoryVolatility, type VolatilityInForce } from './volatility-in-force.ts';

const DAYS = 365;

/** Price and Greeks of the European equivalent of a quote on the expiry's own forward and discount factor, plain partial derivatives. */
function theoryGreeks(expiry: ExpiryPicture, o: { side: Side; strike: number; volatility: number }): Greeks {
  return blackScholesMertonGreeks({
    side: o.side,
    // What the expiry is on: the price of the picture, or the future that its options deliver.
    spot: expiry.forward * Math.exp((expiry.impliedYield - expiry.impliedRate) * expiry.years),
    strike: o.strike,
    timeToExpiry: expiry.years,
    rate: expiry.impliedRate,
    dividendYield: expiry.impliedYield,
    volatility: o.volatility,
  });
}

/** Theoretical price at any strike, early exercise included. */
export function theoryPrice(
  expiry: ExpiryPicture,
  o: { side: Side; strike: number; volatility: number },
  listed: EarlyExercise,
): number {
  return theoryGreeks(expiry, o).price + earlyExerciseAt(expiry, o.side, o.strike, listed);
}

/** Quotes of one expiry against theory, by descending strike; `out` keeps the out-of-the-money side of each. */
export function chainRows(
  expiry: ExpiryPicture,
  o: { inForce: VolatilityInForce; sides: AsOfContext['sides'] },
): ChainRow[] {
  const rows: ChainRow[] = [];
  const listed = earlyExercise(expiry, o.inForce);
  for (let i = expiry.strikes.length - 1; i >= 0; i--) {
    const isCallOut = expiry.strikes[i] >= expiry.forward;
    const sides: Side[] = o.sides === 'both' ? ['call', 'put'] : [isCallOut ? 'call' : 'put'];
    for (const side of sides) rows.push(chainRow(expiry, side, i, { inForce: o.inForce, listed }));
  }
  return rows;
}

/** Probability to end in the money: the smile in force carries its slope, any other source is one volatility for all strikes. */
function probabilityItm(
  expiry: ExpiryPicture,
  { side, strike }: { side: Side; strike: number },
  { source }: VolatilityInForce,
  constant: number,
): number {
  const smile = source === 'smile' ? expirySmile(expiry) : source === 'borrowed' ? borrowedSmileOf(expiry) : undefined;
  if (!smile) return constant;
  const above = probabilityAbove(smile, Math.log(strike / expiry.forward));
  return side === 'call' ? above : 1 - above;
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

function chainRow(
  expiry: ExpiryPicture,
  side: Side,
  i: number,
  { inForce, listed }: { inForce: VolatilityInForce; listed: EarlyExercise },
): ChainRow {
  const strike = expiry.strikes[i];
  const quotes = expiry[side];
  const { bid, ask } = { bid: quotes.bid[i], ask: quotes.ask[i] };
  const volatility = theoryVolatility(expiry, { side, strike }, inForce);
  const greeks = volatility === null ? undefined : theoryGreeks(expiry, { side, strike, volatility });
  const premium = listed[side][i];
  const theory = greeks ? greeks.price + premium : null;
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
    theoryVolatility: volatility,
    theory,
    earlyExercise: premium,
    standing: gap === null ? null : gap > 0 ? 'dear' : gap < 0 ? 'cheap' : 'inside',
    gap,
    gapVolatility: gapInVolatility(gap, volatility, quotes.bidVolatility[i], quotes.askVolatility[i]),
    delta: greeks?.delta ?? null,
    gamma: greeks?.gamma ?? null,
    theta: greeks ? greeks.theta / DAYS : null,
    vega: greeks ? greeks.vega * 0.01 : null,
    rho: greeks ? greeks.rho * 0.01 : null,
    forwardDelta:
      volatility === null
        ? null
        : forwardDelta({ side, forward: expiry.forward, strike, timeToExpiry: expiry.years, volatility }),
    probabilityItm: greeks ? probabilityItm(expiry, { side, strike }, inForce, greeks.probabilityItm) : null,
    probabilityItmConstantVolatility: greeks?.probabilityItm ?? null,
  };
}
