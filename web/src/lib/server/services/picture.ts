import { isMonthlyExpiry } from '@umwelt/core/time';
import {
  type EventEstimate,
  expiryVariance,
  impliedYield,
  smileShapeName,
  type Surface,
  type SurfaceExpiry,
} from '@umwelt/core/surface';
import { closeToCloseVolatility, type Standing as CoreStanding, standing } from '@umwelt/core/volatility';
import { civilInZone, isoInZone } from '@umwelt/market/zone';
import { type AsOfContext, LIVE } from '../../schema/as-of-context.ts';
import type { ExpiryPicture, Picture, Side, Standing } from '../../schema/picture.ts';
import type { Database } from '../database/connect.ts';
import { closesUpTo } from '../repositories/daily-bars.ts';
import { eventsBetween } from '../repositories/events.ts';
import type { SessionMeasures } from '../repositories/measures.ts';
import { futuresCurveAt } from '../repositories/futures-curves.ts';
import {
  instantsAround,
  liveInstant,
  liveSlicesOf,
  priceAt,
  slicesAt,
  type StoredSlice,
} from '../repositories/slices.ts';
import { findUnderlying, type StoredUnderlying } from '../repositories/underlyings.ts';
import { carryAt } from './carry-at.ts';
import { type Carry, curveRate, deriveStored, dividendValue } from './derive-stored.ts';
import { measureHistory, withPrice } from './measure-history.ts';
import { TENOR_DAYS } from '../../figures/tenor-days.ts';
import { sessionDate } from './session-date.ts';

type PictureContext = Pick<AsOfContext, 'asOf' | 'forwardSource' | 'restored'>;
export type PictureResult = { ok: true; picture: Picture } | { ok: false; reason: 'unknown-underlying' | 'no-quotes' };

/** Pictures are pure functions of stored quotes and context; imports clear the cache. */
const cache = new Map<string, Picture>();
const CACHE_SIZE = 48;
/** Closes looked at for realized volatility: two years. */
const MOST_CLOSES = 504;
const SESSIONS_PER_YEAR = 252;
/** Fewer sessions do not make a volatility. */
const LEAST_SESSIONS = 5;

/** Forgets derived pictures after stored quotes have changed. */
export function clearPictures(): void {
  cache.clear();
}

/** Pictures being derived, so that one who asks for the same waits for it instead of deriving it again. */
const inTheMaking = new Map<string, Promise<PictureResult>>();

/** Everything the views show of one underlying at one stored instant (the latest at or before `asOf`), or live. */
export function loadPicture(database: Database, symbol: string, context: PictureContext): Promise<PictureResult> {
  const { asOf, forwardSource, restored } = context;
  const asked = JSON.stringify([symbol, asOf, forwardSource, restored]);
  const known = inTheMaking.get(asked);
  if (known) return known;
  const made = makePicture(database, symbol, context).finally(() => inTheMaking.delete(asked));
  inTheMaking.set(asked, made);
  return made;
}

/** Derives what a step from a picture would show, so that the step is at once. */
export async function warmNeighbors(database: Database, picture: Picture, context: PictureContext): Promise<void> {
  const { previousSession, nextSession, previous, next } = picture;
  for (const asOf of new Set([previousSession, nextSession, previous, next])) {
    if (asOf !== null) await loadPicture(database, picture.underlying.symbol, { ...context, asOf });
  }
}

async function makePicture(database: Database, symbol: string, context: PictureContext): Promise<PictureResult> {
  const stored = await findUnderlying(database, symbol);
  if (!stored) return { ok: false, reason: 'unknown-underlying' };
  const { id, ...underlying } = stored;
  const moment = await momentOf(database, stored, context.asOf);
  if (!moment) return { ok: false, reason: 'no-quotes' };

  let { instant } = moment;
  const key = JSON.stringify([symbol, moment, context.forwardSource, context.restored]);
  const known = cache.get(key);
  if (known) return { ok: true, picture: known };

  const { zone } = underlying;
  const dateOf = (at: Date): string => sessionDate(at, zone);
  const [rows, carry, history, previousPrice, closes, futuresCurve] = await Promise.all([
    moment.isLive ? liveSlicesOf(database, id) : slicesAt(database, id, instant),
    carryAt(database, stored, instant),
    measureHistory(database, stored, instant),
    moment.previousSession ? priceAt(database, id, moment.previousSession) : undefined,
    closesUpTo(database, id, dateOf(instant), MOST_CLOSES),
    underlying.model === 'futures' ? futuresCurveAt(database, id, instant) : undefined,
  ]);
  // Between two waves the feed's quotes may have been taken away.
  if (rows.length === 0) return { ok: false, reason: 'no-quotes' };
  // A wave may have come since the look at the newest instant.
  instant = rows[0].instant;
  const events = await eventsBetween(database, { underlyingId: id, from: instant, to: rows[rows.length - 1].expiry });
  const surface = deriveStored(rows, { dateOf, carry, events, ...context });
  // Places of the expiries in the term structure.
  const inLine = surface.expiries.flatMap((e, i) => (e.measures && !e.outlier ? [i] : []));
  const iso = (at: Date): string => isoInZone(at.getTime(), zone);
  const isoOrNull = (at: Date | undefined) => (at ? iso(at) : null);
  const realizedOver = realizedBy(withPrice(closes, rows[0].underlyingPrice));
  const picture: Picture = {
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
    previousPrice: previousPrice ?? null,
    atm30: finite(surface.atm30),
    index30: surface.index30,
    standing: standingRecord(history.standingAt(surface.atm30, 30)),
    history: history.atm30
      .filter((h) => Number.isFinite(h.atm30))
      .map((h) => ({ instant: iso(h.instant), atm30: h.atm30 })),
    futuresCurve: futuresCurve ? { deliveries: futuresCurve.deliveries, prices: futuresCurve.prices } : null,
    shape: shapeRecord(surface, history.past),
    maturities: maturityRecords(surface),
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
    expiries: rows.map((row, i) =>
      expiryRecord(row, surface.expiries[i], {
        date: dateOf(row.expiry),
        iso,
        isMonthly: isMonthlyExpiry(civilInZone(row.expiry.getTime(), zone)),
        carry,
        standingAt: history.standingAt,
        exEvent: surface.events?.exEvent[inLine.indexOf(i)],
        realizedOver,
      }),
    ),
  };
  if (cache.size >= CACHE_SIZE) cache.delete(cache.keys().next().value as string);
  cache.set(key, picture);
  return { ok: true, picture };
}

/** The instant to show with its neighbours: the feed's newest when it is asked for and quotes the underlying. */
async function momentOf(database: Database, stored: StoredUnderlying, asOf: AsOfContext['asOf']) {
  const live = asOf === LIVE ? await liveInstant(database, stored.id) : undefined;
  const at = asOf === undefined || asOf === LIVE ? undefined : new Date(asOf);
  const around = await instantsAround(database, stored.id, at, stored.zone);
  if (!live) return around && { ...around, isLive: false };
  const isAhead = !around || live > around.latest;
  // Live stands after everything stored; the stored instant at its own place is its neighbour.
  const before = around && !isAhead ? around.previous : around?.latest;
  const isNewSession = around && sessionDate(around.latest, stored.zone) !== sessionDate(live, stored.zone);
  return {
    instant: live,
    previous: before,
    next: undefined,
    previousSession: isNewSession ? around.latest : around?.previousSession,
    nextSession: undefined,
    first: around?.first ?? live,
    latest: around?.latest ?? live,
    isLive: true,
  };
}

function expiryRecord(
  row: StoredSlice,
  e: Surface['expiries'][number],
  o: {
    date: string;
    iso: (instant: Date) => string;
    isMonthly: boolean;
    carry: Carry;
    standingAt: (volatility: number, days: number) => CoreStanding | undefined;
    exEvent: number | undefined;
    realizedOver: (days: number) => ExpiryPicture['realized'];
  },
): ExpiryPicture {
  const years = e.slice.timeToExpiry;
  const days = years * 365;
  const { forward, discountFactor } = e.forward;
  const impliedRate = -Math.log(discountFactor) / years;
  return {
    date: o.date,
    expiry: o.iso(row.expiry),
    years,
    days,
    isMonthly: o.isMonthly,
    forward,
    discountFactor,
    forwardSource: e.forward.source,
    forwardReason: e.forward.reason ?? null,
    forwardError: finite(e.forward.forwardError),
    carryForward: finite(e.forward.carryForward),
    curveRate: o.carry.curve ? curveRate(o.carry.curve, days) : null,
    impliedRate,
    impliedYield: impliedRate - Math.log(forward / row.underlyingPrice) / years,
    yieldBesideDividends: besideDividends(row, e, o.carry),
    exercisedInto: exerciseRecord(e),
    pairsUsed: e.forward.strikesUsed.length,
    pairsLeftOut: e.forward.strikesLeftOut,
    smile: smileRecord(e),
    atm: finite(e.measures?.atm),
    riskReversal25: finite(e.measures?.riskReversal25),
    butterfly25: finite(e.measures?.butterfly25),
    riskReversal10: finite(e.measures?.riskReversal10),
    butterfly10: finite(e.measures?.butterfly10),
    isArbitrageFree: e.isArbitrageFree,
    outlier: e.outlier ?? null,
    exEvent: finite(o.exEvent),
    index: indexOf(e),
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
function maturityRecords({ volatility, term }: Surface): Picture['maturities'] {
  if (!volatility) return [];
  const [first, last] = [term[0].timeToExpiry, term[term.length - 1].timeToExpiry];
  return TENOR_DAYS.filter((days) => days / 365 >= first && days / 365 <= last).map((days) => {
    const { atm, riskReversal25, butterfly25, forward } = volatility.constantMaturity(days / 365);
    return { days, atm, riskReversal25: finite(riskReversal25), butterfly25: finite(butterfly25), forward };
  });
}

/** Model-free volatility of one expiry, null where its quotes do not make one. */
function indexOf(e: SurfaceExpiry): number | null {
  const rate = -Math.log(e.forward.discountFactor) / e.slice.timeToExpiry;
  const strip = expiryVariance(e.slice, rate);
  return strip && strip.variance > 0 ? Math.sqrt(strip.variance) : null;
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

/** Yield left beside the known cash dividends; null where there are none. */
function besideDividends(row: StoredSlice, e: SurfaceExpiry, carry: Carry): number | null {
  const value = dividendValue(carry, row.instant, row.expiry);
  if (value === 0) return null;
  return finite(impliedYield(e.forward, { spot: row.underlyingPrice, dividendValue: value }, e.slice.timeToExpiry));
}

function exerciseRecord({ exercise }: SurfaceExpiry): ExpiryPicture['exercisedInto'] {
  if (!exercise) return null;
  return exercise.kind === 'spot' ? { ...exercise, dividends: [...exercise.dividends] } : exercise;
}

function smileRecord(e: SurfaceExpiry): ExpiryPicture['smile'] {
  if (!e.smile) return null;
  const { description, rmse, insideMarket, range, quality, unconstrained = null } = e.smile;
  return { ...description, rmse, insideMarket, range, quality, unconstrained };
}

function sideRecord(row: StoredSlice, e: SurfaceExpiry, side: Side): ExpiryPicture['call'] {
  const column = (values: ArrayLike<number>) => Array.from(values, finite);
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
  return s ? { ...s, rank: finite(s.rank) } : null;
}

function finite(value: number | undefined): number | null {
  return value !== undefined && Number.isFinite(value) ? value : null;
}
