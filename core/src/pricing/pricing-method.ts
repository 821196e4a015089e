import { logRatio } from '../math/index.ts';
import { exerciseKindOfPut } from './american-spectral.ts';
import { carryYield, hasCashDividends, type Option } from './option.ts';

export type PricingMethod = 'certain' | 'closed-form' | 'spectral-collocation' | 'finite-difference';

/** Below this deviation the outcome is taken as certain when early exercise matters. */
export const LEAST_DEVIATION = 1e-6;

/** Beyond it no exercise boundary is solved; 20 is 400 % over 25 years. */
export const LARGEST_DEVIATION = 20;
/** Distance of the strike in deviations at which reaching it has a chance of 1e-350. */
const FAR = 40;

interface Row {
  method: PricingMethod;
  /** When the row applies; the first that does is taken */
  applies: (o: Option) => boolean;
  why: string;
}

/** Which method serves which contract, and why: the one place that decides. */
export const PRICING_METHODS: readonly Row[] = [
  {
    method: 'certain',
    applies: (o) =>
      (o.exercise === 'american' || hasCashDividends(o)) &&
      !(
        deviationOf(o) >
        LEAST_DEVIATION * (o.model === 'normal' ? Math.max(Math.abs(o.strike), Math.abs(o.underlying), 1e-300) : 1)
      ),
    why: 'With no time or volatility left the path is known: the best of its discounted payoffs.',
  },
  {
    method: 'certain',
    applies: (o) => o.exercise === 'american' && !hasCashDividends(o) && isFar(o),
    why: 'The strike lies beyond all that the underlying can reach: the best of the discounted payoffs on its way.',
  },
  {
    method: 'finite-difference',
    applies: hasCashDividends,
    why: 'The underlying falls by known amounts, which no closed form holds; the grid carries the value over each fall.',
  },
  {
    method: 'closed-form',
    applies: (o) => o.exercise === 'european',
    why: 'Exact: Merton (1973), Black (1976) or Bachelier (1900).',
  },
  {
    method: 'finite-difference',
    applies: (o) => o.model === 'normal',
    why: 'The boundary equation holds for a lognormal underlying.',
  },
  {
    method: 'closed-form',
    applies: (o) => exerciseKind(o) === 'never',
    why: 'Holding never costs more than exercise brings at these rates, so the European price is the price.',
  },
  {
    method: 'spectral-collocation',
    applies: (o) => exerciseKind(o) === 'below-one-boundary',
    why: 'One smooth exercise boundary: Andersen, Lake & Offengenden (2016).',
  },
  {
    method: 'finite-difference',
    applies: () => true,
    why: 'At these negative rates exercise pays between two boundaries; the boundary equation is for one.',
  },
];

/**
 * Method and reason for one option.
 * @throws RangeError where the deviation is beyond what the method can solve
 */
export function pricingMethod(o: Option): { method: PricingMethod; why: string } {
  const row = PRICING_METHODS.find((r) => r.applies(o)) as Row;
  const isSearched = row.method === 'spectral-collocation' || row.method === 'finite-difference';
  if (isSearched && o.model !== 'normal' && deviationOf(o) > LARGEST_DEVIATION) {
    throw new RangeError(
      `volatility x root of time must be at most ${LARGEST_DEVIATION} where early exercise or cash dividends matter: ${deviationOf(o)}`,
    );
  }
  return { method: row.method, why: row.why };
}

function deviationOf(o: Option): number {
  return o.volatility * Math.sqrt(o.timeToExpiry);
}

/** Whether no path that matters crosses the strike before expiry. */
function isFar(o: Option): boolean {
  const s = deviationOf(o);
  if (o.model === 'normal') return Math.abs(o.underlying - o.strike) > FAR * s;
  return isFarLognormal(o.underlying, o.strike, s, (o.rate - carryYield(o)) * o.timeToExpiry);
}

/** Method for a lognormal underlying, from its deviation and its drift to expiry. */
export function isFarLognormal(spot: number, strike: number, deviation: number, drift: number): boolean {
  return Math.abs(logRatio(spot, strike)) > FAR * deviation + Math.abs(drift) + 0.5 * deviation * deviation;
}

/** A call is a put with rate and yield exchanged. */
function exerciseKind(o: Option) {
  const carry = carryYield(o);
  return o.side === 'put' ? exerciseKindOfPut(o.rate, carry) : exerciseKindOfPut(carry, o.rate);
}
