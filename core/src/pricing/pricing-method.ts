import { exerciseKindOfPut } from './american-spectral.ts';
import { carryYield, hasCashDividends, type Option } from './option.ts';

export type PricingMethod = 'certain' | 'closed-form' | 'spectral-collocation' | 'finite-difference';

/** Below this deviation the outcome is taken as certain when early exercise matters. */
export const LEAST_DEVIATION = 1e-6;

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
      !(deviationOf(o) > LEAST_DEVIATION * (o.model === 'normal' ? Math.max(Math.abs(o.strike), 1e-300) : 1)),
    why: 'With no time or volatility left the path is known: the best of its discounted payoffs.',
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

/** Method and reason for one option. */
export function pricingMethod(o: Option): { method: PricingMethod; why: string } {
  const row = PRICING_METHODS.find((r) => r.applies(o)) as Row;
  return { method: row.method, why: row.why };
}

function deviationOf(o: Option): number {
  return o.volatility * Math.sqrt(o.timeToExpiry);
}

/** A call is a put with rate and yield exchanged. */
function exerciseKind(o: Option) {
  const carry = carryYield(o);
  return o.side === 'put' ? exerciseKindOfPut(o.rate, carry) : exerciseKindOfPut(carry, o.rate);
}
