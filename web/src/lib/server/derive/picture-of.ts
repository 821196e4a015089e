import { isMonthlyExpiry } from '@umwelt/core/time';
import {
  type EventEstimate,
  type FactorEstimate,
  expiryVariance,
  impliedYield,
  RATE_ERRORS,
  smileShapeName,
  smileVariance,
  type Surface,
  type SurfaceExpiry,
  USUAL_RATE,
  zeroRate,
} from '@umwelt/core/surface';
import { closeToCloseVolatility, type Standing as CoreStanding, standing } from '@umwelt/core/volatility';
import { civilInZone, isoInZone } from '@umwelt/market/zone';
import type { DerivingContext } from '../../api/as-of-context.ts';
import type { CarryPicture } from '../../api/carry.ts';
import type { ExpiryPicture, Maturity, Picture, Side, Standing } from '../../api/picture.ts';
import type { SessionMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { TENOR_DAYS } from '../../market/index.ts';
import { type Carry, curveRate, deriveStored, dividendsWithin, type KnownEvent } from './derive-stored.ts';
import { sessionDate } from './session-date.ts';
import { standingAmong, withPrice } from './standing-among.ts';
import type { StoredMoment } from './moment.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';

/** The instant of a picture with its neighbors, stored or live. */
export type PictureMoment = StoredMoment & { isLive: boolean };

/** All that a picture is made of, as it is stored. */
export interface PictureInput {
  stored: StoredUnderlying;
  moment: PictureMoment;
  /** Nearest expiry first, not empty */
  rows: StoredSlice[];
  carry: Carry;
  events: (KnownEvent & { label: string })[];
  past: SessionMeasures[];
  previousPrice: number | undefined;
  closes: { session: string; close: number }[];
  futuresCurve: { deliveries: string[]; prices: number[] } | undefined;
  context: DerivingContext;
}

const SESSIONS_PER_YEAR = 252;
/** Fewer sessions do not make a volatility. */
const LEAST_SESSIONS = 5;

/** Everything the views show of one underlying at one instant, derived from what is stored: pure computation. */
export function pictureOf({ stored, moment, rows, carry, events, past, context, ...o }: PictureInput): Picture {
  const { id: _id, ...underlying } = stored;
  const { zone } = underlying;
  const { instant } = rows[0];
  const dateOf = (at: Date): string => sessionDate(at, zone);
  const surface = deriveStored(rows, { dateOf, carryOf: carry, events, ...context });
  const standingAt = standingAmong(past);
  // Places of the expiries in the term structure.
  const inLine = surface.expiries.flatMap((e, i) => (e.measures && !e.outlier ? [i] : []));
  const fittedDates = surface.expiries.flatMap((e, i) => (e.smile && !e.outlier ? [dateOf(rows[i].expiry)] : []));
  const iso = (at: Date): string => isoInZone(at.getTime(), zone);
  const isoOrNull = (at: Date | undefined) => (at ? iso(at) : null);
  const realizedOver = realizedBy(withPrice(o.closes, rows[0].underlyingPrice));
  return {
    underlying,
    asOf: iso(instant),
    isLive: moment.isLive,
    previous: isoOrNull(moment.previous),
    next: isoOrNull(moment.next),
    previousSession: isoOrNull(moment.previousSession),
    nextSession: isoOrNull(moment.nextSession),
    first: iso(moment.first),
    latest: iso(moment.latest),
    price: rows[0].underlyingPrice,
    priceSource: rows[0].isPriceImplied ? 'parity' : 'quote',
    previousPrice: o.previousPrice ?? null,
    atm30: finiteOrNull(surface.atm30),
    index30: surface.index30,
    index30Completed: surface.index30Completed,
    standing: standingRecord(standingAt(surface.atm30, 30)),
    history: past
      .map((m) => ({ instant: iso(m.instant), atm30: m.atmByTenor[TENOR_DAYS.indexOf(30)] }))
      .filter((h) => Number.isFinite(h.atm30)),
    futuresCurve: o.futuresCurve ? { deliveries: o.futuresCurve.deliveries, prices: o.futuresCurve.prices } : null,
    shape: shapeRecord(surface, past),
    maturities: fixedDays(surface, fittedDates),
    month: maturityAt(surface, 30, fittedDates),
    term: surface.shape ?? null,
    events: events.map((e, i) => ({
      instant: iso(e.instant),
      kind: e.kind,
      label: e.label,
      implied: impliedMove(surface.events?.events[i]),
    })),
    unexplained: (surface.events?.unexplained ?? []).map(({ index, variance, excess }) => ({
      expiry: dateOf(rows[inLine[index]].expiry),
      variance,
      excess,
    })),
    carry: carryRecord(surface, { instant, iso, dateOf, carry, rows, choice: context.carry ?? 'inferred' }),
    expiries: rows.map((row, i) =>
      expiryRecord(row, surface.expiries[i], {
        date: dateOf(row.expiry),
        iso,
        isMonthly: isMonthlyExpiry(civilInZone(row.expiry.getTime(), zone)),
        model: underlying.model,
        carry,
        standingAt,
        exEvent: surface.events?.exEvent[inLine.indexOf(i)],
        realizedOver,
      }),
    ),
  };
}

function expiryRecord(
  row: StoredSlice,
  e: Surface['expiries'][number],
  o: {
    date: string;
    iso: (instant: Date) => string;
    isMonthly: boolean;
    model: ExpiryPicture['model'];
    carry: Carry;
    standingAt: (volatility: number, days: number) => CoreStanding | undefined;
    exEvent: number | undefined;
    realizedOver: (days: number) => ExpiryPicture['realized'];
  },
): ExpiryPicture {
  const years = e.slice.timeToExpiry;
  const days = years * 365;
  const { forward, discountFactor } = e.forward;
  const impliedRate = zeroRate(discountFactor, years);
  return {
    date: o.date,
    expiry: o.iso(row.expiry),
    years,
    days,
    isMonthly: o.isMonthly,
    model: o.model,
    forward,
    discountFactor,
    forwardSource: e.forward.source,
    forwardReason: e.forward.reason ?? null,
    forwardError: finiteOrNull(e.forward.forwardError),
    carryForward: finiteOrNull(e.forward.carryForward),
    curveRate: o.carry.curve ? curveRate(o.carry.curve, days) : null,
    impliedRate,
    rateError:
      e.forward.discountFactorSource === 'given' ? null : e.forward.discountFactorError / discountFactor / years,
    factorSides: {
      parity: estimateOrNull(e.forward.parityAlone),
      known: estimateOrNull(e.forward.prior),
      parityShare: e.forward.parityShare,
    },
    impliedYield: impliedRate - Math.log(forward / row.underlyingPrice) / years,
    yieldBesideDividends: besideDividends(row, e, o.carry),
    exercisedInto: exerciseRecord(e),
    quotedIn: row.isQuotedInVolatility ? 'volatility' : 'price',
    pairsUsed: e.forward.strikesUsed.length,
    pairsLeftOut: e.forward.strikesLeftOut,
    smile: smileRecord(e),
    atm: finiteOrNull(e.measures?.atm),
    riskReversal25: finiteOrNull(e.measures?.riskReversal25),
    butterfly25: finiteOrNull(e.measures?.butterfly25),
    riskReversal10: finiteOrNull(e.measures?.riskReversal10),
    butterfly10: finiteOrNull(e.measures?.butterfly10),
    isArbitrageFree: e.isArbitrageFree,
    outlier: e.outlier ?? null,
    exEvent: finiteOrNull(o.exEvent),
    index: indexOf(e),
    indexCompleted: completedOf(e),
    realized: o.realizedOver(days),
    standing: e.measures ? standingRecord(o.standingAt(e.measures.atm, days)) : null,
    strikes: Array.from(row.strikes),
    call: sideRecord(row, e, 'call'),
    put: sideRecord(row, e, 'put'),
  };
}

/** Shape at 30 days with the standing of its figures among those of the year before; null without a smile. */
function shapeRecord(surface: Surface, past: SessionMeasures[]): Picture['shape'] {
  const month = surface.volatility?.constantMaturity(30 / 365);
  const name = month && smileShapeName(month);
  if (!name) return null;
  const placed = (figure: 'riskReversal25' | 'butterfly25') => ({
    value: month[figure],
    standing: standingRecord(
      standing(
        month[figure],
        past.map((m) => m[figure] ?? NaN),
      ),
    ),
  });
  return { name, riskReversal25: placed('riskReversal25'), butterfly25: placed('butterfly25') };
}

/** The surface at the fixed days that lie between its first and its last expiry. */
function fixedDays(surface: Surface, dates: readonly string[]): Maturity[] {
  const { term } = surface;
  if (term.length === 0) return [];
  const [first, last] = [term[0].timeToExpiry, term[term.length - 1].timeToExpiry];
  return TENOR_DAYS.filter((days) => days / 365 >= first && days / 365 <= last).flatMap(
    (days) => maturityAt(surface, days, dates) ?? [],
  );
}

/** The surface at a number of days; null without one. @param dates of the expiries that it is made of */
function maturityAt({ volatility }: Surface, days: number, dates: readonly string[]): Maturity | null {
  if (!volatility) return null;
  const time = days / 365;
  const { atm, riskReversal25, butterfly25, forward } = volatility.constantMaturity(time);
  const { near, far, share } = volatility.between(time);
  const isLevel = !Number.isFinite(riskReversal25);
  const wing = (side: Side) => (isLevel ? null : finiteOrNull(volatility.volatilityAt(time, { side, delta: 0.25 })));
  return {
    days,
    atm,
    riskReversal25: finiteOrNull(riskReversal25),
    butterfly25: finiteOrNull(butterfly25),
    callVolatility25: wing('call'),
    putVolatility25: wing('put'),
    forward,
    near: near === undefined ? null : dates[near],
    far: dates[far],
    share,
  };
}

/** Model-free volatility of one expiry, null where its quotes do not make one. */
function indexOf(e: SurfaceExpiry): number | null {
  const rate = zeroRate(e.forward.discountFactor, e.slice.timeToExpiry);
  const strip = expiryVariance(e.slice, rate, e.verdicts);
  return strip && strip.variance > 0 ? Math.sqrt(strip.variance) : null;
}

/** The same of the whole fitted smile; null where it is a level. */
function completedOf({ smile }: SurfaceExpiry): ExpiryPicture['indexCompleted'] {
  const found = smile && smile.description.model !== 'flat' ? smileVariance(smile.smile, smile.range) : undefined;
  return found ? { volatility: Math.sqrt(found.variance), beyond: found.beyond } : null;
}

/** Realized volatility over the sessions that a number of days holds. @param closes ascending, the instant's price last */
function realizedBy(closes: number[]) {
  return (days: number): ExpiryPicture['realized'] => {
    const sessions = Math.round((days * SESSIONS_PER_YEAR) / 365);
    if (sessions < LEAST_SESSIONS) return null;
    const volatility = closeToCloseVolatility(closes, sessions);
    return Number.isFinite(volatility) ? { volatility, sessions } : null;
  };
}

function impliedMove(e: EventEstimate | undefined) {
  return e?.ok ? { variance: e.variance, move: e.move, interval: e.interval } : null;
}

function estimateOrNull(e: FactorEstimate | undefined) {
  return e && Number.isFinite(e.discountFactor) && Number.isFinite(e.error) ? e : null;
}

/** Yield left beside the known cash dividends; null where there are none. */
function besideDividends(row: StoredSlice, e: SurfaceExpiry, carry: Carry): number | null {
  const dividends = dividendsWithin(carry, row.instant, row.expiry);
  if (dividends.length === 0) return null;
  return finiteOrNull(impliedYield(e.forward, { spot: row.underlyingPrice, dividends }, e.slice.timeToExpiry));
}

/** Below this share of what is known before, a rate and a borrow are told by the quotes. */
const TOLD_APART = 0.5;

/** What early exercise rests on, with what the quotes imply of it where that was needed. */
function carryRecord(
  { carry: estimate }: Surface,
  o: {
    instant: Date;
    iso: (at: Date) => string;
    dateOf: (at: Date) => string;
    carry: Carry;
    rows: StoredSlice[];
    choice: NonNullable<DerivingContext['carry']>;
  },
): CarryPicture {
  const taken = o.carry.taken ?? null;
  if (!estimate) {
    const source = o.choice === 'typed' ? 'typed' : taken ? 'taken' : 'known';
    return { source, inferred: null, taken };
  }
  const at = (years: number) => new Date(o.instant.getTime() + years * 365 * 86_400_000);
  const dateAt = (years: number) => {
    const row = o.rows.reduce((a, b) => (distance(b, years) < distance(a, years) ? b : a));
    return o.dateOf(row.expiry);
  };
  const distance = (row: StoredSlice, years: number) => Math.abs(row.expiry.getTime() - at(years).getTime());
  const { rate, borrow, drift, hasCurve, dividends } = estimate;
  return {
    source: 'inferred',
    inferred: {
      hasCurve,
      financing: rate,
      borrow,
      drift,
      areToldApart: rate.error < TOLD_APART * (hasCurve ? RATE_ERRORS.spread : USUAL_RATE.error),
      dividends: dividends.map(({ amount, time, from, to }) => ({
        amount,
        instant: o.iso(at(time.value)),
        days: 365 * time.error,
        from: from === 0 ? null : dateAt(from),
        to: dateAt(to),
      })),
    },
    taken,
  };
}

function exerciseRecord({ exercise }: SurfaceExpiry): ExpiryPicture['exercisedInto'] {
  if (!exercise) return null;
  return exercise.kind === 'spot' ? { ...exercise, dividends: [...exercise.dividends] } : exercise;
}

function smileRecord(e: SurfaceExpiry): ExpiryPicture['smile'] {
  if (!e.smile) return null;
  const { description, rmse, insideMarket, range, quality, levelReason = null, unconstrained = null } = e.smile;
  return { ...description, rmse, insideMarket, range, quality, levelReason, unconstrained };
}

function sideRecord(row: StoredSlice, e: SurfaceExpiry, side: Side): ExpiryPicture['call'] {
  const column = (values: ArrayLike<number>) => Array.from(values, finiteOrNull);
  const { bid, mid, ask } = e.volatilities(side);
  return {
    bid: column(row[`${side}Bid`]),
    ask: column(row[`${side}Ask`]),
    bidSize: column(row[`${side}BidSize`]),
    askSize: column(row[`${side}AskSize`]),
    last: column(row[`${side}Last`]),
    volume: column(row[`${side}Volume`]),
    openInterest: column(row[`${side}OpenInterest`]),
    bidVolatility: column(bid),
    midVolatility: column(mid),
    askVolatility: column(ask),
    verdict: e.verdicts[side].map((v) => v ?? null),
    earlyExercise: Array.from(e.premium?.[side] ?? new Float64Array(row.strikes.length)),
  };
}

function standingRecord(s: CoreStanding | undefined): Standing | null {
  return s ? { ...s, rank: finiteOrNull(s.rank) } : null;
}
