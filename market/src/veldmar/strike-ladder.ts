import type { Listed } from './listing.ts';

/** Deviations that the ladder reaches below and above the forward. */
const REACH = { below: 3.2, above: 2.8 };
/** Years at which the spacing changes: strikes are listed closer as an expiry comes near. */
const CLASSES = [1 / 252, 7 / 365, 35 / 365, 120 / 365, 1, 3];

/**
 * Listed strikes of an expiry, ascending: multiples of a step that hangs on the underlying's ordinary level and on how
 * far the expiry is, not on the day's price, so that a strike listed today is listed tomorrow.
 */
export function strikeLadder(
  listed: Listed,
  forward: number,
  totalVariance: number,
  timeToExpiry: number,
): Float64Array {
  const { character } = listed;
  const years = CLASSES.find((c) => c >= timeToExpiry) ?? CLASSES[CLASSES.length - 1];
  const usual = character.longLevel * Math.sqrt(years) * character.price;
  const step = roundStep((0.8 * (REACH.below + REACH.above) * usual) / character.strikes);
  const deviation = Math.sqrt(totalVariance);
  const first = Math.ceil((forward * Math.exp(-REACH.below * deviation)) / step);
  const last = Math.floor((forward * Math.exp(REACH.above * deviation)) / step);
  // A quiet day's ladder still has five strikes around the forward.
  const centre = Math.round(forward / step);
  const low = Math.max(1, Math.min(first, centre - 2));
  const high = Math.max(last, centre + 2);
  return Float64Array.from({ length: high - low + 1 }, (_, i) => Number(((low + i) * step).toPrecision(10)));
}

/** Next step at or above a value among 1, 2.5, 5 times powers of ten. */
function roundStep(value: number): number {
  const scale = 10 ** Math.floor(Math.log10(value));
  const factor = [1, 2.5, 5, 10].find((f) => f * scale >= value * (1 - 1e-9)) ?? 10;
  return Number((factor * scale).toPrecision(10));
}
