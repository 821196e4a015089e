import { smileVolatility, splineThrough, type VolatilitySurface } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import type { ExpiryPicture, Picture } from '../api/picture.ts';
import { nearestInTime } from './nearest-in-time.ts';
import { sessionCloseOf } from './session-close.ts';
import { surfaceAgain } from './surface-again.ts';

/** Places at which the smile between expiries is taken; a spline joins them. */
const PLACES = 41;

/**
 * An expiry that is not listed at the instant, as the surface sees it: smile, forward, rate and carry between those around it, and no
 * quotes. Of options on futures the future is that of the next listed expiry.
 * @returns undefined where it has ended, or nothing is fitted
 */
export function unlistedExpiry(picture: Picture, date: string): ExpiryPicture | undefined {
  const expiry = sessionCloseOf(picture.underlying, date);
  const years = calendarYears(Date.parse(picture.asOf), expiry);
  const surface = surfaceAgain(picture);
  const fitted = picture.expiries.filter((e) => e.smile !== null && e.outlier === null);
  const nearest = nearestInTime(fitted, years, (e) => e.years);
  if (!surface || !nearest || !(years > 0)) return undefined;
  const [before, after] = [fitted.findLast((e) => e.years <= years), fitted.find((e) => e.years > years)];
  const of = after ?? nearest;
  const impliedRate = between(before, after, years, (e) => e.impliedRate);
  const isFuture = of.model === 'futures';
  const underlyingPrice = isFuture ? of.underlyingPrice : picture.price;
  const forward = isFuture ? of.forward : surface.forwardAt(years);
  const { exercisedInto } = of;
  const smile = smileBetween(surface, nearest, years);
  const none = { bid: [], ask: [], bidSize: [], askSize: [], last: [], volume: [], openInterest: [] };
  const side = { ...none, bidVolatility: [], midVolatility: [], askVolatility: [], verdict: [], earlyExercise: [] };
  return {
    ...nearest,
    ...{ date, expiry: new Date(expiry).toISOString(), years, days: 365 * years, isMonthly: false },
    ...{ underlyingPrice, forward, impliedRate, discountFactor: Math.exp(-impliedRate * years) },
    ...{
      forwardSource: 'carry',
      forwardReason: null,
      forwardError: null,
      carryForward: null,
      yieldBesideDividends: null,
    },
    impliedYield: impliedRate - Math.log(forward / underlyingPrice) / years,
    exercisedInto:
      exercisedInto?.kind === 'spot'
        ? { ...exercisedInto, dividends: picture.dividends.filter((d) => d.time < years) }
        : exercisedInto,
    smile: nearest.smile && { ...nearest.smile, ...smile },
    atm: smileVolatility(surface.smileAt(years), 0),
    ...{ borrowed: undefined, realized: null, standing: null, outlier: null, exEvent: null, index: null },
    ...{ indexCompleted: null, keptOut: [], pairsUsed: 0, pairsLeftOut: [] },
    ...{ strikes: [], call: side, put: side },
  };
}

function between<E extends { years: number }>(
  before: E | undefined,
  after: E | undefined,
  years: number,
  of: (e: E) => number,
): number {
  if (!before || !after) return of((before ?? after) as E);
  const share = (years - before.years) / (after.years - before.years);
  return of(before) + share * (of(after) - of(before));
}

/** The smile at a time as far as the quotes of the nearest expiry tell it, as a description that can be sent. */
function smileBetween(surface: VolatilitySurface, { smile, years: quoted }: ExpiryPicture, years: number) {
  const own = surface.smileAt(years);
  if (!smile || smile.model === 'flat')
    return { model: 'flat' as const, parameters: { volatility: smileVolatility(own, 0) } };
  const [low, high] = smile.range.map((k) => k * Math.sqrt(years / quoted));
  const knots = Array.from({ length: PLACES }, (_, i) => low + (i / (PLACES - 1)) * (high - low));
  return {
    model: 'spline' as const,
    parameters: splineThrough(
      knots,
      knots.map((k) => own.totalVariance(k)),
    ),
  };
}
