import type { ExpiryEstimate, OwnEstimate } from './estimate-carry.ts';
import { factorPrior, carriedForward, type CarryInput, type SliceForward } from './slice-forward.ts';

/** The forward of an expiry as the estimate over all of them has it. */
export function jointForward(
  e: ExpiryEstimate & { own: OwnEstimate },
  carry: CarryInput,
  timeToExpiry: number,
): SliceForward {
  const discountFactor = Math.exp(-e.rate.value * timeToExpiry);
  const prior = factorPrior(carry, timeToExpiry);
  const discountFactorError = discountFactor * timeToExpiry * e.rate.error;
  const known = prior ? Math.min(1, (discountFactorError / prior.error) ** 2) : 0;
  return {
    forward: e.own.forward.value,
    discountFactor,
    source: 'parity',
    strikesUsed: e.own.strikesUsed,
    strikesLeftOut: e.own.strikesLeftOut,
    forwardError: e.own.forward.error,
    discountFactorSource: 'parity',
    discountFactorError,
    parityShare: 1 - known,
    ...(prior ? { prior } : {}),
    carryForward: carriedForward(timeToExpiry, { carry }).carryForward,
  };
}
