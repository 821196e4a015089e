import { isMonthlyExpiry } from '@umwelt/core/time';
import {
  type EventEstimate,
  expiryVariance,
  type FactorEstimate,
  impliedYield,
  RATE_ERRORS,
  smileShapeName,
  type SmileSpan,
  smileSpan,
  smileVariance,
  type Surface,
  type SurfaceExpiry,
  USUAL_RATE,
  zeroRate,
} from '@umwelt/core/surface';
import { civilInZone, isoInZone } from '@umwelt/market/zone';
import type { DerivingContext } from '../../api/as-of-context.ts';
import type { CarryPicture } from '../../api/carry.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { QuoteReasonText } from '../../api/market-resource.ts';
import type { ExpirySurface, Maturity, ShownMoment, SurfaceResource } from '../../api/surface-resource.ts';
import { maturityOf, nearestInTime, TENOR_DAYS } from '../../market/index.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import { type Carry, curveRate, dividendsWithin } from './derive-stored.ts';
import type { ResourceInput } from './resource-input.ts';
import { sessionDate } from './session-date.ts';

/** What is implied and fitted at one instant. @param surface of the same rows */
export function surfaceOf(
  surface: Surface,
  { stored, rows, carry, events, context, ...o }: ResourceInput,
): Omit<SurfaceResource, keyof ShownMoment> {
  const { id: _id, ...underlying } = stored;
  const { zone } = underlying;
  const { instant } = rows[0];
  const dateOf = (at: Date): string => sessionDate(at, zone);
  // Places of the expiries in the term structure.
  const inLine = surface.expiries.flatMap((e, i) => (e.measures && !e.outlier ? [i] : []));
  const fittedDates = surface.expiries.flatMap((e, i) => (e.smile && !e.outlier ? [dateOf(rows[i].expiry)] : []));
  const iso = (at: Date): string => isoInZone(at.getTime(), zone);
  return {
    underlying,
    asOf: iso(instant),
    price: rows[0].underlyingPrice,
    priceSource: rows[0].isPriceImplied ? 'parity' : 'quote',
    atm30: finiteOrNull(surface.atm30),
    index30: surface.index30,
    index30Completed: surface.index30Completed,
    futuresCurve: o.futuresCurve ? { deliveries: o.futuresCurve.deliveries, prices: o.futuresCurve.prices } : null,
    shape: shapeRecord(surface),
    maturities: fixedDays(surface, fittedDates),
    month: maturityOf(surface.volatility, 30, fittedDates),
    term: surface.shape ?? null,
    events: events.map((e, i) => ({
      instant: iso(e.instant),
      kind: e.kind,
      label: e.label,
      implied: impliedMove(surface.events?.events[i]),
    })),
    jumps: (surface.volatility?.events ?? []).map(({ time, variance }) => ({ years: time, variance })),
    unexplained: (surface.events?.unexplained ?? []).map(({ index, variance, excess }) => ({
      expiry: dateOf(rows[inLine[index]].expiry),
      variance,
      excess,
    })),
    carry: carryRecord(surface, { instant, iso, dateOf, carry, rows, choice: context.carry ?? 'inferred' }),
    dividends: paidDividends(surface, rows, carry),
    expiries: rows.map((row, i) =>
      expiryRecord(row, surface.expiries[i], {
        date: dateOf(row.expiry),
        iso,
        isMonthly: isMonthlyExpiry(civilInZone(row.expiry.getTime(), zone)),
        model: underlying.model,
        carry,
        exEvent: surface.events?.exEvent[inLine.indexOf(i)],
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
    model: ExpirySurface['model'];
    carry: Carry;
    exEvent: number | undefined;
  },
): ExpirySurface {
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
    underlyingPrice: row.underlyingPrice,
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
    atMoney: atMoney(e),
    keptOut: keptOut(e),
  };
}

/** The surface at the fixed days that lie between its first and its last expiry. */
function fixedDays(surface: Surface, dates: readonly string[]): Maturity[] {
  const { term } = surface;
  if (term.length === 0) return [];
  const [first, last] = [term[0].timeToExpiry, term[term.length - 1].timeToExpiry];
  return TENOR_DAYS.filter((days) => days / 365 >= first && days / 365 <= last).flatMap(
    (days) => maturityOf(surface.volatility, days, dates) ?? [],
  );
}

/** Model-free volatility of one expiry, null where its quotes do not make one. */
function indexOf(e: SurfaceExpiry): number | null {
  const rate = zeroRate(e.forward.discountFactor, e.slice.timeToExpiry);
  const strip = expiryVariance(e.slice, rate, e.verdicts);
  return strip && strip.variance > 0 ? Math.sqrt(strip.variance) : null;
}

/** Model-free volatility of the whole fitted smile; null where it is a level. */
function completedOf({ smile }: SurfaceExpiry): ExpirySurface['indexCompleted'] {
  const found = smile && smile.description.model !== 'flat' ? smileVariance(smile.smile, smile.range) : undefined;
  return found ? { volatility: Math.sqrt(found.variance), beyond: found.beyond } : null;
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

/** Cash dividends before the last expiry, as theory takes them. */
function paidDividends({ expiries }: Surface, rows: StoredSlice[], carry: Carry): SurfaceResource['dividends'] {
  const last = expiries.findLast((e) => e.exercise?.kind === 'spot')?.exercise;
  if (last?.kind === 'spot') return [...last.dividends];
  return carry.isFuture ? [] : dividendsWithin(carry, rows[0].instant, rows[rows.length - 1].expiry);
}

function exerciseRecord({ exercise }: SurfaceExpiry): ExpirySurface['exercisedInto'] {
  if (!exercise) return null;
  return exercise.kind === 'spot' ? { ...exercise, dividends: [...exercise.dividends] } : exercise;
}

function smileRecord(e: SurfaceExpiry): ExpirySurface['smile'] {
  if (!e.smile) return null;
  const { description, rmse, insideMarket, range, quality, levelReason = null, unconstrained = null } = e.smile;
  return { ...description, rmse, insideMarket, range, quality, levelReason, unconstrained };
}

const MONTH = 30 / 365;

/** Of the smile at 30 days, across the quotes of the expiry nearest to them. */
function monthSpan({ volatility, expiries }: Surface): SmileSpan | undefined {
  const inLine = expiries.filter((e) => e.smile && !e.outlier);
  const nearest = nearestInTime(inLine, MONTH, (e) => e.slice.timeToExpiry);
  return volatility && nearest?.smile && smileSpan(volatility.smileAt(MONTH), nearest.smile.range);
}

/** Shape at 30 days by rule; null without a smile. */
function shapeRecord(surface: Surface): SurfaceResource['shape'] {
  const month = surface.volatility?.constantMaturity(MONTH);
  const name = month && smileShapeName(month, monthSpan(surface));
  if (!name) return null;
  const { riskReversal25, butterfly25 } = month;
  return { name, riskReversal25: { value: riskReversal25 }, butterfly25: { value: butterfly25 } };
}

function atMoney(e: SurfaceExpiry): ExpirySurface['atMoney'] {
  const { strikes } = e.slice;
  const { forward } = e.forward;
  const nearest = strikes.reduce(
    (best, k, i) => (Math.abs(k - forward) < Math.abs(strikes[best] - forward) ? i : best),
    0,
  );
  return { strike: strikes[nearest], callVolatility: finiteOrNull(e.volatilities('call').mid[nearest]) };
}

/** How many quotes were kept out, most of one reason first. */
function keptOut({ verdicts }: SurfaceExpiry): ExpirySurface['keptOut'] {
  const counts = new Map<QuoteReasonText, number>();
  for (const verdict of [...verdicts.call, ...verdicts.put])
    if (verdict) counts.set(verdict, (counts.get(verdict) ?? 0) + 1);
  return [...counts].map(([reason, count]) => ({ reason, count })).sort((a, b) => b.count - a.count);
}
