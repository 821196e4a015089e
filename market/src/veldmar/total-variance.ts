import { calendarYears } from '@umwelt/core/time';
import type { Character } from './listing.ts';
import type { EventVariance } from './scheduled-events.ts';

/** Factor by which a day's variance differs from the year's mean; highest in mid July, before the harvest. */
export function varianceSeason(character: Pick<Character, 'varianceSeason'>, day: number): number {
  const amplitude = character.varianceSeason;
  return amplitude === undefined ? 1 : 1 + amplitude * Math.cos(seasonAngle(day));
}

const YEAR_DAYS = 365.25;
/** 15 July 1970, counted from the first of January: the season's peak. */
const PEAK_DAY = 195;

function seasonAngle(day: number): number {
  return (2 * Math.PI * (day - PEAK_DAY)) / YEAR_DAYS;
}

/**
 * At-the-money total variance that the market prices from an instant to an expiry: variance that reverts to its far
 * level, shaped by the season, plus each scheduled event on the way.
 * Symbols: v now, L far level, kappa speed; integral of (L + (v - L) exp(-kappa u)) (1 + A cos(omega u + phi)) du.
 * @param day number of the instant's day, for the season
 */
export function atmTotalVariance(o: {
  variance: number;
  longVariance: number;
  reversion: number;
  season: number | undefined;
  events: readonly EventVariance[];
  instant: number;
  day: number;
  expiry: number;
}): number {
  const T = calendarYears(o.instant, o.expiry);
  const { longVariance: L, reversion: kappa } = o;
  const excess = o.variance - L;
  let total = L * T + (excess * -Math.expm1(-kappa * T)) / kappa;
  if (o.season !== undefined) {
    const phi = seasonAngle(o.day);
    const omega = 2 * Math.PI * (365 / YEAR_DAYS);
    const far = (Math.sin(omega * T + phi) - Math.sin(phi)) / omega;
    const fading = (angle: number, decay: number) =>
      (decay * (omega * Math.sin(angle) - kappa * Math.cos(angle))) / (kappa * kappa + omega * omega);
    const near = fading(omega * T + phi, Math.exp(-kappa * T)) - fading(phi, 1);
    total += o.season * (L * far + excess * near);
  }
  for (const event of o.events) {
    if (event.instant > o.expiry) break;
    if (event.instant > o.instant) total += event.variance;
  }
  return total;
}

/**
 * Total variance of the power-law SSVI surface, free of static arbitrage for strength (1 + |tilt|) <= 2.
 * Symbols of the source: theta at-the-money total variance, rho tilt, eta strength, phi = eta / sqrt(theta (1 + theta)).
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   section 4 (power-law parameterization with gamma = 1/2).
 */
export function ssviTotalVariance(o: {
  logMoneyness: number;
  atmTotalVariance: number;
  tilt: number;
  strength: number;
}): number {
  const { logMoneyness: k, atmTotalVariance: theta, tilt: rho } = o;
  const phi = o.strength / Math.sqrt(theta * (1 + theta));
  const shifted = phi * k + rho;
  return 0.5 * theta * (1 + rho * phi * k + Math.sqrt(shifted * shifted + 1 - rho * rho));
}
