import { normalCdf, normalCdfOverDensity, normalDensity } from '../math/index.ts';

/** A price that moves by chance alone: constant volatility, its logarithm drifts. */
export interface ConstantLaw {
  /** Price now, > 0 */
  spot: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Per year, decimal, >= 0 */
  volatility: number;
  /** Of the expected price, per year, continuous: rate less yield under the pricing law */
  drift: number;
}

/** Levels of which one is to be touched; at least one. */
export interface TouchLevels {
  /** At or below the price now it counts as touched where the price is not above it */
  lower?: number;
  upper?: number;
}

/** Terms of either series of the double barrier: what is left out is below 1e-16. */
const MOST_TERMS = 60;
/** Deviations in the width between both levels above which sines converge faster than images. */
const WIDE = 0.6;

/**
 * Probability that a price under constant volatility touches a level before expiry, watched at every moment.
 * @throws RangeError without a level, or where an input is out of its range
 * @returns 0 to 1, within 1e-13; 1 where the price stands at or beyond a level
 * @see Cox, D. R. & Miller, H. D. (1965). The Theory of Stochastic Processes, section 5.7 (one barrier by reflection, two by
 *   images and by the expansion in sines).
 */
export function touchProbability(law: ConstantLaw, levels: TouchLevels): number {
  const { spot, timeToExpiry, volatility, drift } = law;
  const { lower, upper } = levels;
  if (lower === undefined && upper === undefined) throw new RangeError('touching needs a level');
  for (const [name, value] of Object.entries({ spot, lower, upper }))
    if (value !== undefined && !(value > 0 && value < Infinity))
      throw new RangeError(`${name} must be positive, got ${value}`);
  if (!(timeToExpiry >= 0 && volatility >= 0 && Number.isFinite(drift)))
    throw new RangeError(
      `time ${timeToExpiry}, volatility ${volatility} and drift ${drift} must be known and not negative`,
    );
  const down = lower === undefined ? -Infinity : Math.log(lower / spot);
  const up = upper === undefined ? Infinity : Math.log(upper / spot);
  if (down >= 0 || up <= 0) return 1;
  const deviation = volatility * Math.sqrt(timeToExpiry);
  const moved = (drift - 0.5 * volatility * volatility) * timeToExpiry;
  if (deviation === 0) return moved <= down || moved >= up ? 1 : 0;
  if (up === Infinity) return touchOne(-down, -moved, deviation);
  if (down === -Infinity) return touchOne(up, moved, deviation);
  const kept = deviation / (up - down) > WIDE ? keptBySines : keptByImages;
  return Math.min(1, Math.max(0, 1 - kept({ down, up, moved, deviation })));
}

/** Of a level so far above: ended beyond it, or turned back from it. */
function touchOne(distance: number, moved: number, deviation: number): number {
  const ended = (moved - distance) / deviation;
  const turned = (-moved - distance) / deviation;
  return Math.min(1, normalCdf(ended) + scaledCdf((2 * moved * distance) / (deviation * deviation), turned));
}

/** exp(exponent) N(z), without overflow where the one is huge and the other tiny. */
function scaledCdf(exponent: number, z: number): number {
  if (z > -1) return Math.exp(exponent) * normalCdf(z);
  return (Math.exp(exponent - 0.5 * z * z) / Math.sqrt(2 * Math.PI)) * normalCdfOverDensity(z);
}

interface Between {
  /** Levels as logarithms over the price now: down < 0 < up */
  down: number;
  up: number;
  /** Expected change of the logarithm, and its standard deviation, to expiry */
  moved: number;
  deviation: number;
}

/** Probability to stay between: a source at the price now and its images in both levels, of alternating sign. */
function keptByImages({ down, up, moved, deviation }: Between): number {
  const width = up - down;
  const tilt = moved / (deviation * deviation);
  // exp(tilt a) times the chance to end between the levels from an image at a.
  const from = (a: number) => {
    const low = (down - a - moved) / deviation;
    const high = (up - a - moved) / deviation;
    // Differences of tails, from the side where they are small.
    return low > 0
      ? scaledCdf(tilt * a, -low) - scaledCdf(tilt * a, -high)
      : scaledCdf(tilt * a, high) - scaledCdf(tilt * a, low);
  };
  let sum = 0;
  for (let n = -MOST_TERMS; n <= MOST_TERMS; n++) {
    const shift = 2 * n * width;
    // Beyond forty deviations an image gives nothing.
    if (Math.abs(shift) - 2 * width > 40 * deviation + Math.abs(moved)) continue;
    sum += from(shift) - from(2 * down + shift);
  }
  return sum;
}

/** The same as a sum of sines that vanish at both levels and fade with time. */
function keptBySines({ down, up, moved, deviation }: Between): number {
  const width = up - down;
  const tilt = moved / (deviation * deviation);
  let sum = 0;
  for (let n = 1; n <= MOST_TERMS; n++) {
    const wave = (n * Math.PI) / width;
    const fade = Math.exp(-0.5 * deviation * deviation * (wave * wave + tilt * tilt));
    const ends = Math.exp(tilt * down) - (n % 2 === 0 ? 1 : -1) * Math.exp(tilt * up);
    sum += (2 / width) * Math.sin(-wave * down) * ((wave * ends) / (tilt * tilt + wave * wave)) * fade;
    if (fade < 1e-18) break;
  }
  return sum;
}

/**
 * Probability that a price under constant volatility ends above a level.
 * @returns N(d2) of the expected price; NaN where an input is unknown
 */
export function finishAbove(law: ConstantLaw, level: number): number {
  const { spot, timeToExpiry, volatility, drift } = law;
  const deviation = volatility * Math.sqrt(timeToExpiry);
  const moved = Math.log(spot / level) + drift * timeToExpiry - 0.5 * deviation * deviation;
  if (deviation === 0) return moved > 0 ? 1 : 0;
  return normalCdf(moved / deviation);
}

/** Density at expiry of such a price, per unit of price. */
export function constantDensity(law: ConstantLaw, level: number): number {
  const { spot, timeToExpiry, volatility, drift } = law;
  const deviation = volatility * Math.sqrt(timeToExpiry);
  const z = (Math.log(spot / level) + drift * timeToExpiry) / deviation - 0.5 * deviation;
  return normalDensity(z) / (level * deviation);
}
