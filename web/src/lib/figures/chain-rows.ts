import { blackScholesMertonGreeks, forwardDelta, type Greeks } from '@umwelt/core/pricing';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ExpiryPicture, QuoteReasonText, Side } from '../schema/picture.ts';
import { fittedVolatility } from './expiry-smile.ts';
import { theoryVolatility, type VolatilityInForce } from './volatility-in-force.ts';

/** One quote against theory. Greeks per unit of underlying: theta per calendar day, vega per volatility point. */
export interface ChainRow {
  strike: number;
  side: Side;
  bid: number | null;
  ask: number | null;
  mid: number | null;
  last: number | null;
  volume: number | null;
  openInterest: number | null;
  verdict: QuoteReasonText | null;
  bidVolatility: number | null;
  midVolatility: number | null;
  askVolatility: number | null;
  fitVolatility: number | null;
  /** Volatility that theory uses, by the source in force */
  theoryVolatility: number | null;
  theory: number | null;
  /** Part of theory that early exercise is worth */
  earlyExercise: number;
  /** Market outside theory: bid above it (dear) or offer below it (cheap); null inside or without both */
  standing: 'dear' | 'cheap' | 'inside' | null;
  /** Distance from theory to the nearest of bid and offer, 0 inside */
  gap: number | null;
  /** The same in volatility: bid or offer volatility less theory's; null where either is missing */
  gapVolatility: number | null;
  delta: number | null;
  gamma: number | null;
  theta: number | null;
  vega: number | null;
  rho: number | null;
  forwardDelta: number | null;
  probabilityItm: number | null;
}

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

/** What early exercise adds to the price at a strike, linear between the listed ones. */
export function earlyExerciseAt(expiry: ExpiryPicture, side: Side, strike: number): number {
  const { strikes } = expiry;
  const column = expiry[side].earlyExercise;
  const next = strikes.findIndex((s) => s >= strike);
  if (next <= 0) return column[next === 0 ? 0 : column.length - 1] ?? 0;
  const share = (strike - strikes[next - 1]) / (strikes[next] - strikes[next - 1]);
  return column[next - 1] + share * (column[next] - column[next - 1]);
}

/** Theoretical price at any strike, early exercise included. */
export function theoryPrice(expiry: ExpiryPicture, o: { side: Side; strike: number; volatility: number }): number {
  return theoryGreeks(expiry, o).price + earlyExerciseAt(expiry, o.side, o.strike);
}

/** Quotes of one expiry against theory, by descending strike; `out` keeps the out-of-the-money side of each. */
export function chainRows(
  expiry: ExpiryPicture,
  o: { inForce: VolatilityInForce; sides: AsOfContext['sides'] },
): ChainRow[] {
  const rows: ChainRow[] = [];
  for (let i = expiry.strikes.length - 1; i >= 0; i--) {
    const isCallOut = expiry.strikes[i] >= expiry.forward;
    const sides: Side[] = o.sides === 'both' ? ['call', 'put'] : [isCallOut ? 'call' : 'put'];
    for (const side of sides) rows.push(chainRow(expiry, side, i, o.inForce));
  }
  return rows;
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

function chainRow(expiry: ExpiryPicture, side: Side, i: number, inForce: VolatilityInForce): ChainRow {
  const strike = expiry.strikes[i];
  const quotes = expiry[side];
  const { bid, ask } = { bid: quotes.bid[i], ask: quotes.ask[i] };
  const volatility = theoryVolatility(expiry, { side, strike }, inForce);
  const greeks = volatility === null ? undefined : theoryGreeks(expiry, { side, strike, volatility });
  const earlyExercise = quotes.earlyExercise[i];
  const theory = greeks ? greeks.price + earlyExercise : null;
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
    earlyExercise,
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
    probabilityItm: greeks?.probabilityItm ?? null,
  };
}
