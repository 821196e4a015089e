import { LIVE, type AsOfContext, type DerivingContext } from '../../api/as-of-context.ts';
import type { Picture } from '../../api/picture.ts';
import { compute, isComputeIdle } from '../derive/pool.ts';
import type { Database } from '../database/connect.ts';
import { closesUpTo } from '../repositories/daily-bars.ts';
import { eventsBetween } from '../repositories/events.ts';
import { pictureVersion } from '../repositories/data-version.ts';
import { futuresCurveAt } from '../repositories/futures-curves.ts';
import { liveInstant, liveSlicesOf, priceAt, slicesAt } from '../repositories/slices.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { carryAt } from './carry-at.ts';
import { pastSessions } from './measure-history.ts';
import type { PictureMoment } from '../derive/picture-of.ts';
import { sessionDate } from '../derive/session-date.ts';
import { storedMoment, type VersionedUnderlying, versionedUnderlying } from './stored-moments.ts';

type PictureContext = DerivingContext & Pick<AsOfContext, 'asOf'>;

/** A derived picture: its JSON as it is sent, read when somebody needs the parts. */
export class MadePicture {
  readonly text: string;
  readonly isLive: boolean;
  #picture: Picture | undefined;

  constructor(text: string, isLive: boolean) {
    this.text = text;
    this.isLive = isLive;
  }

  get picture(): Picture {
    this.#picture ??= JSON.parse(this.text) as Picture;
    return this.#picture;
  }
}

export type PictureResult =
  | { ok: true; symbol: string; made: MadePicture; picture: Picture }
  | { ok: false; reason: 'unknown-underlying' | 'no-quotes' };
const found = (symbol: string, made: MadePicture): PictureResult => ({
  ok: true,
  symbol,
  made,
  get picture() {
    return made.picture;
  },
});

/** Pictures are pure functions of what is stored, by its version, and context. */
const cache = new Map<string, MadePicture>();
const CACHE_SIZE = 96;
/** Closes looked at for realized volatility: two years. */
const MOST_CLOSES = 504;

/** Pictures being derived, so that one who asks for the same waits for it instead of deriving it again. */
const inTheMaking = new Map<string, Promise<PictureResult>>();

/** Everything the views show of one underlying at one stored instant (the latest at or before `asOf`), or live. */
export async function loadPicture(database: Database, symbol: string, context: PictureContext): Promise<PictureResult> {
  const { asOf } = context;
  const at = asOf === undefined || asOf === LIVE ? undefined : new Date(asOf);
  // Read before what it counts: a change in between makes a picture that is newer than its key, which nobody asks for again.
  const versioned = await versionedUnderlying(database, symbol, at);
  if (!versioned) return { ok: false, reason: 'unknown-underlying' };
  const { stored } = versioned;
  const moment = await momentOf(database, versioned, asOf);
  if (!moment) return { ok: false, reason: 'no-quotes' };
  // Before the first stored instant that one is shown, which is made of more than there was at the one asked for.
  const isFirst = at !== undefined && moment.instant > at;
  const version = isFirst ? await pictureVersion(database, stored, moment.instant) : versioned.picture;
  const assumed = assumedOf(context);
  const key = JSON.stringify([stored, moment, assumed, version]);
  const known = cache.get(key);
  if (known) return found(stored.symbol, known);
  const making =
    inTheMaking.get(key) ??
    makePicture(database, { stored, moment, assumed, key }).finally(() => inTheMaking.delete(key));
  inTheMaking.set(key, making);
  return making;
}

/** Derives what a step from a picture would show, so that the step is at once; not while others wait for what they ask. */
export async function warmNeighbors(database: Database, picture: Picture, context: PictureContext): Promise<void> {
  const { previousSession, nextSession, previous, next } = picture;
  for (const asOf of new Set([previousSession, nextSession, previous, next])) {
    if (!isComputeIdle()) return;
    if (asOf !== null) await loadPicture(database, picture.underlying.symbol, { ...context, asOf });
  }
}

/** The context as far as it changes what is derived. */
function assumedOf({ forwardSource, carry, financing, borrowCost, restored }: PictureContext): DerivingContext {
  const typed = carry === 'typed' ? { financing, borrowCost } : {};
  return { forwardSource, carry, ...typed, restored };
}

async function makePicture(
  database: Database,
  o: { stored: StoredUnderlying; moment: PictureMoment; assumed: DerivingContext; key: string },
): Promise<PictureResult> {
  const { stored, moment, assumed, key } = o;
  const { id, symbol } = stored;
  const { instant } = moment;
  const [rows, carry, past, previousPrice, closes, futuresCurve] = await Promise.all([
    moment.isLive ? liveSlicesOf(database, id) : slicesAt(database, id, instant),
    carryAt(database, stored, instant),
    pastSessions(database, stored, instant),
    moment.previousSession ? priceAt(database, id, moment.previousSession) : undefined,
    closesUpTo(database, id, sessionDate(instant, stored.zone), MOST_CLOSES),
    stored.model === 'futures' ? futuresCurveAt(database, id, instant) : undefined,
  ]);
  // Between two waves the feed's quotes may have been taken away.
  if (rows.length === 0) return { ok: false, reason: 'no-quotes' };
  // A wave may have come since the look at the newest instant.
  const from = rows[0].instant;
  const events = await eventsBetween(database, { underlyingId: id, from, to: rows[rows.length - 1].expiry });
  const input = { stored, moment, rows, carry, events, past, previousPrice, closes, futuresCurve };
  const text = await compute('picture', { ...input, context: assumed }, { lane: `picture ${symbol}` });
  const made = new MadePicture(text, moment.isLive);
  if (cache.size >= CACHE_SIZE) cache.delete(cache.keys().next().value as string);
  cache.set(key, made);
  return found(stored.symbol, made);
}

/** The instant to show with its neighbours: the feed's newest when it is asked for and quotes the underlying. */
async function momentOf(
  database: Database,
  { stored, instants }: VersionedUnderlying,
  asOf: AsOfContext['asOf'],
): Promise<PictureMoment | undefined> {
  const live = asOf === LIVE ? await liveInstant(database, stored.id) : undefined;
  const at = asOf === undefined || asOf === LIVE ? undefined : new Date(asOf);
  const around = await storedMoment(database, stored, at, instants);
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
