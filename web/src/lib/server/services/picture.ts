import { isoInZone } from '@umwelt/market/zone';
import { LIVE, type AsOfContext, type DerivingContext } from '../../api/as-of-context.ts';
import { joinPicture, type Picture, type Unplaced } from '../../api/picture.ts';
import type { ShownMoment } from '../../api/surface-resource.ts';
import type { ResourceName } from '../../api/resource-name.ts';
import { compute, isComputeIdle } from '../derive/pool.ts';
import type { Database } from '../database/connect.ts';
import { eventsBetween } from '../repositories/events.ts';
import { pictureVersion } from '../repositories/data-version.ts';
import { futuresCurveAt } from '../repositories/futures-curves.ts';
import { liveInstant, liveSlicesOf, priceAt, slicesAt } from '../repositories/slices.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { carryAt } from './carry-at.ts';
import { endedSessions } from './ended-sessions.ts';
import { pastSessions, YEAR } from './measure-history.ts';
import type { StoredMoment } from '../derive/moment.ts';
import type { Resources } from '../derive/resources-of.ts';
import type { ResourceTexts } from '../derive/tasks.ts';
import { sessionDate } from '../derive/session-date.ts';
import { storedMoment, storedSessions, type VersionedUnderlying, versionedUnderlying } from './stored-moments.ts';

type PictureContext = DerivingContext & Pick<AsOfContext, 'asOf'>;

/** What one derivation made, as it is sent and, once somebody needs the parts, as values. */
class MadeResources {
  readonly texts: ResourceTexts;
  #picture: Unplaced<Picture> | undefined;

  constructor(texts: ResourceTexts) {
    this.texts = texts;
  }

  get picture(): Unplaced<Picture> {
    const { surface, past, market } = this.texts;
    this.#picture ??= joinPicture(
      JSON.parse(surface) as Resources['surface'],
      JSON.parse(past) as Resources['past'],
      JSON.parse(market) as Resources['market'],
    );
    return this.#picture;
  }
}

/** What is seen of an underlying at an instant, with the instants around it. */
export class MadePicture {
  readonly #made: MadeResources;
  readonly moment: ShownMoment;

  constructor(made: MadeResources, moment: ShownMoment) {
    this.#made = made;
    this.moment = moment;
  }

  get isLive(): boolean {
    return this.moment.isLive;
  }

  get picture(): Picture {
    return { ...this.#made.picture, ...this.moment };
  }

  /** A resource as it is sent, or all of them in one. */
  text(resource: ResourceName | 'picture'): string {
    const { texts } = this.#made;
    if (resource === 'market' || resource === 'past') return texts[resource];
    const text = resource === 'surface' ? texts.surface : (texts.picture ?? JSON.stringify(this.#made.picture));
    // The instants around it are not part of what was derived: others that are stored later leave it as it is.
    return `${JSON.stringify(this.moment).slice(0, -1)},${text.slice(1)}`;
  }
}

export type PictureResult =
  | { ok: true; symbol: string; made: MadePicture; readonly picture: Picture }
  | { ok: false; reason: 'unknown-underlying' | 'no-quotes' };

type PictureMoment = StoredMoment & { isLive: boolean };

/** Resources are pure functions of what is stored, by its version, and context. */
const cache = new Map<string, MadeResources>();
const CACHE_SIZE = 96;
/** Closes looked at for realized volatility: two years. */
const MOST_BARS = 504;

/** Pictures being derived, so that one who asks for the same waits for it instead of deriving it again. */
const inTheMaking = new Map<string, Promise<MadeResources | undefined>>();

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
  const key = JSON.stringify([stored, moment.instant, moment.isLive, moment.previousSession, assumed, version]);
  const made = cache.get(key) ?? (await making(database, { stored, moment, assumed, key }));
  if (!made) return { ok: false, reason: 'no-quotes' };
  return found(stored.symbol, new MadePicture(made, shownMoment(moment, stored.zone)));
}

function found(symbol: string, made: MadePicture): PictureResult {
  return {
    ok: true,
    symbol,
    made,
    // Read when somebody needs the parts.
    get picture() {
      return made.picture;
    },
  };
}

function shownMoment({ instant: _, isLive, ...around }: PictureMoment, zone: string): ShownMoment {
  const iso = (at: Date) => isoInZone(at.getTime(), zone);
  const isoOrNull = (at: Date | undefined) => (at ? iso(at) : null);
  return {
    isLive,
    previous: isoOrNull(around.previous),
    next: isoOrNull(around.next),
    previousSession: isoOrNull(around.previousSession),
    nextSession: isoOrNull(around.nextSession),
    first: iso(around.first),
    latest: iso(around.latest),
  };
}

interface Making {
  stored: StoredUnderlying;
  moment: PictureMoment;
  assumed: DerivingContext;
  key: string;
}

/** The derivation that is under way, or a new one. */
function making(database: Database, o: Making): Promise<MadeResources | undefined> {
  const known = inTheMaking.get(o.key);
  if (known) return known;
  const begun = makeResources(database, o).finally(() => inTheMaking.delete(o.key));
  inTheMaking.set(o.key, begun);
  return begun;
}

/** Derives what a step from a picture would show, so that the step is at once; not while others wait for what they ask. */
export async function warmNeighbors(
  database: Database,
  symbol: string,
  { previousSession, nextSession, previous, next }: ShownMoment,
  context: PictureContext,
): Promise<void> {
  for (const asOf of new Set([previousSession, nextSession, previous, next])) {
    if (!isComputeIdle()) return;
    if (asOf !== null) await loadPicture(database, symbol, { ...context, asOf });
  }
}

/** The context as far as it changes what is derived. */
function assumedOf({ forwardSource, carry, financing, borrowCost, restored }: PictureContext): DerivingContext {
  const typed = carry === 'typed' ? { financing, borrowCost } : {};
  return { forwardSource, carry, ...typed, restored };
}

async function makeResources(database: Database, o: Making): Promise<MadeResources | undefined> {
  const { stored, moment, assumed, key } = o;
  const { id, symbol } = stored;
  const { instant } = moment;
  const [rows, carry, past, pastStored, previousPrice, ended, futuresCurve] = await Promise.all([
    moment.isLive ? liveSlicesOf(database, id) : slicesAt(database, id, instant),
    carryAt(database, stored, instant),
    pastSessions(database, stored, instant),
    storedSessions(database, stored, new Date(instant.getTime() - YEAR), instant),
    moment.previousSession ? priceAt(database, id, moment.previousSession) : undefined,
    endedSessions(database, stored, { instant, count: MOST_BARS }),
    stored.model === 'futures' ? futuresCurveAt(database, id, instant) : undefined,
  ]);
  // Between two waves the feed's quotes may have been taken away.
  if (rows.length === 0) return undefined;
  // A wave may have come since the look at the newest instant.
  const from = rows[0].instant;
  const events = await eventsBetween(database, { underlyingId: id, from, to: rows[rows.length - 1].expiry });
  const input = {
    stored,
    rows,
    carry,
    events,
    past,
    pastStored,
    previousPrice,
    ended,
    futuresCurve,
    context: assumed,
  };
  // The stream sends all in one, to whoever listens.
  const texts = await compute('resources', { input, isWhole: moment.isLive }, { lane: `picture ${symbol}` });
  const made = new MadeResources(texts);
  if (cache.size >= CACHE_SIZE) cache.delete(cache.keys().next().value as string);
  cache.set(key, made);
  return made;
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
