import {
  type CarryExpiry,
  type ExpiryCarry,
  forwardOf,
  gapUnder,
  pairErrors,
  premiumUnder,
  smileOf,
} from './carry-expiry.ts';
import type { KnownPremium } from './free-quotes.ts';
import { robustMean } from './robust-mean.ts';

/** Floors of a forward's deviation from the known carry: so much of itself, and of the premiums at the money. */
const FLOOR = { ofForward: 1e-4, ofPremium: 0.03 };
/** The known carry serves while no forward is off by more deviations than the first, and all by less than the second rms. */
const MOST_OFF = 3.5;
const MOST_RMS = 1.8;

/**
 * Whether call less put of every expiry is what the known rate, yield and dividends make it, early exercise included; then
 * nothing has to be inferred.
 * @param expiries American options on a spot
 * @returns the premiums of each expiry under that carry, undefined of one whose pairs tell nothing; undefined where it does not serve
 */
export function premiumsOfKnownCarry(expiries: readonly CarryExpiry[]): (KnownPremium | undefined)[] | undefined {
  const premiums: (KnownPremium | undefined)[] = [];
  let squares = 0;
  let count = 0;
  for (const e of expiries) {
    const held = heldAgainst(e);
    premiums.push(held?.premium);
    if (held === undefined) continue;
    if (!(Math.abs(held.off) < MOST_OFF)) return undefined;
    squares += held.off * held.off;
    count++;
  }
  return Math.sqrt(squares / Math.max(1, count)) < MOST_RMS ? premiums : undefined;
}

/** By how many deviations parity puts the forward beside the known one, NaN without known rate; undefined without pairs. */
function heldAgainst(e: CarryExpiry): { off: number; premium?: KnownPremium } | undefined {
  const { rate, dividendYield = 0, dividends = [] } = e.carry;
  if (e.pairs.index.length === 0) return undefined;
  if (rate === undefined) return { off: NaN };
  const carry: ExpiryCarry = { rate, dividendYield, dividends };
  const forward = forwardOf(e, carry);
  const discountFactor = Math.exp(-rate * e.slice.timeToExpiry);
  if (!(forward > 0)) return { off: NaN };
  const f = { forward, discountFactor };
  const raw = smileOf(e, f);
  if (!raw) return undefined;
  const rough = premiumUnder(e, carry, raw, 'rough');
  const smile = smileOf(e, f, rough, raw);
  if (!smile) return undefined;
  const premium = premiumUnder(e, carry, smile, 'fine');
  const model = gapUnder(e, carry, premium);
  const errors = pairErrors(e, premium);
  const { mean, weights } = robustMean(
    model.map((v, n) => e.pairs.gap[n] - v),
    errors,
  );
  if (!(weights > 0)) return undefined;
  let nearest = e.pairs.index[0];
  for (const i of e.pairs.index) {
    if (Math.abs(e.slice.strikes[i] - forward) < Math.abs(e.slice.strikes[nearest] - forward)) nearest = i;
  }
  const atMoney = premium.call[nearest] + premium.put[nearest];
  const shift = mean / discountFactor;
  const error = Math.hypot(
    1 / Math.sqrt(weights) / discountFactor,
    FLOOR.ofForward * forward,
    FLOOR.ofPremium * atMoney,
  );
  const near = smile.parameters;
  return { off: shift / error, premium: { columns: premium, ...(near ? { near } : {}) } };
}
