import type { DerivingContext } from '../../api/as-of-context.ts';
import type { LevelChoice } from '../../api/level.ts';
import type { Picture } from '../../api/picture.ts';
import { sessionsOf, surfaceAgain, TENOR_DAYS } from '../../market/index.ts';
import type { Database } from '../database/connect.ts';
import type { ForecastRecordInput } from '../derive/forecast-record-of.ts';
import { impliedDays } from '../derive/implied-past.ts';
import type { LevelInput, LevelMeasures } from '../derive/level-input.ts';
import { exEventAt } from '../derive/measures-of.ts';
import { compute, isComputeIdle } from '../derive/pool.ts';
import { endedSession } from '../derive/session-bars.ts';
import { sessionDate } from '../derive/session-date.ts';
import { pictureVersion } from '../repositories/data-version.ts';
import { eventsBetween } from '../repositories/events.ts';
import { intradayBarsOf } from '../repositories/intraday-bars.ts';
import { storedLevels } from '../repositories/level-measures.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { endedSessions } from './ended-sessions.ts';
import { loadPicture } from './picture.ts';
import { storedSessions } from './stored-moments.ts';
import { VersionedMemory } from './versioned-memory.ts';

const DAY = 86_400_000;
/** Two years of sessions, and what a year's window looks back from the first of them. */
const MOST_BARS = 504 + 253;
const TWO_YEARS = 731 * DAY;
/** Bars within sessions that are looked at. */
const INTRADAY_SPAN = 12 * DAY;

const levels = new VersionedMemory<string>(96);
const records = new VersionedMemory<string>(48);

/** What Level is asked for. */
export interface AskedLevel {
  stored: StoredUnderlying;
  /** Of the instant, under the assumptions in force */
  picture: Picture;
  context: DerivingContext;
  choice: LevelChoice;
  /** Expiry in focus, for the choice of that name */
  expiry: string | undefined;
}

/** Implied volatility against its past and against what the underlying did, as JSON. */
export async function levelText(database: Database, asked: AskedLevel): Promise<string> {
  return recalled(database, levels, asked, JSON.stringify([asked.choice, asked.expiry]), async () =>
    compute('level', await levelInput(database, asked), { lane: `level ${asked.stored.symbol}` }),
  );
}

/** Makes the level of the sessions around, so that a step is at once; not while others wait for what they ask. */
export async function warmLevels(database: Database, asked: AskedLevel): Promise<void> {
  const { picture, context, stored } = asked;
  for (const asOf of [picture.previousSession, picture.nextSession]) {
    if (!isComputeIdle()) return;
    if (asOf === null) continue;
    const loaded = await loadPicture(database, stored.symbol, { ...context, asOf });
    if (loaded.ok) await levelText(database, { ...asked, picture: loaded.picture });
  }
}

/** How forecasts served until the instant, as JSON: of as many sessions ahead as the implied volatility that is asked for. */
export async function forecastRecordText(database: Database, asked: AskedLevel): Promise<string> {
  const { choice, picture, expiry } = asked;
  const focus = choice.implied === 'expiry' ? picture.expiries.find((e) => e.date === expiry) : undefined;
  const horizon = Math.max(1, sessionsOf(impliedDays(choice, focus?.days)));
  return recalled(database, records, asked, String(horizon), async () => {
    const { symbol, zone, asOf, ended, past, now } = await levelInput(database, asked);
    const input: ForecastRecordInput = { symbol, zone, asOf, ended, past, now, horizon };
    return compute('forecastRecord', input, { lane: `record ${symbol}`, isLong: true });
  });
}

async function recalled(
  database: Database,
  memory: VersionedMemory<string>,
  { stored, picture, context }: AskedLevel,
  about: string,
  make: () => Promise<string>,
): Promise<string> {
  const instant = new Date(picture.asOf);
  const version = await pictureVersion(database, stored, instant);
  const { forwardSource, carry, financing, borrowCost, restored } = context;
  const key = JSON.stringify([
    ...[stored, picture.asOf, picture.isLive, about],
    ...[forwardSource, carry, financing, borrowCost, restored],
  ]);
  return memory.recall(key, version, make);
}

async function levelInput(database: Database, { stored, picture, choice, expiry }: AskedLevel): Promise<LevelInput> {
  const { id, zone, symbol, sessionClose } = stored;
  const asOf = new Date(picture.asOf);
  const from = new Date(asOf.getTime() - TWO_YEARS);
  const quoted = await storedSessions(database, stored, from, asOf);
  const [ended, past, events, intraday] = await Promise.all([
    endedSessions(database, stored, { instant: asOf, count: MOST_BARS, quoted }),
    storedLevels(database, {
      ...{ underlyingId: id, zone, from, to: asOf },
      withSmiles: choice.implied === 'put' || choice.implied === 'call' || choice.implied === 'expiry',
    }),
    eventsBetween(database, { underlyingId: id, from, to: asOf }),
    intradayBarsOf(database, id, { after: new Date(asOf.getTime() - INTRADAY_SPAN), to: asOf }),
  ]);
  const today = sessionDate(asOf, zone);
  const before = past.filter((m) => sessionDate(m.instant, zone) !== today);
  const derived = new Set(before.map((m) => sessionDate(m.instant, zone)));
  const inLine = picture.expiries.filter((e) => e.outlier === null);
  const focus = inLine.filter((e) => e.date === expiry);
  const rest = inLine.filter((e) => e.date !== expiry);
  return {
    ...{ symbol, zone, asOf, ended, sessionClose, choice },
    isOver: endedSession(asOf, stored).isOver,
    past: before,
    now: measuresNow(
      picture,
      past[past.length - 1]?.instant.getTime() === asOf.getTime() ? past[past.length - 1] : undefined,
    ),
    index30Completed: picture.index30Completed,
    // The one in focus first, where its own volatility is asked for.
    expiries: (choice.implied === 'expiry' ? [...focus, ...rest] : inLine).map(({ date, days, atm }) => ({
      date,
      days,
      atm,
    })),
    events,
    intraday,
    waiting: quoted.filter((date) => !derived.has(date)).length,
  };
}

/** What is seen at the instant, as the end of a session is kept. */
function measuresNow(picture: Picture, stored: LevelMeasures | undefined): LevelMeasures {
  const volatility = surfaceAgain(picture);
  return {
    instant: new Date(picture.asOf),
    underlyingPrice: picture.price,
    atmByTenor: TENOR_DAYS.map((days) => volatility?.volatilityAt(days / 365, { logMoneyness: 0 }) ?? NaN),
    index30: picture.index30,
    exEvent30: volatility ? exEventAt({ volatility }, 30) : null,
    optionVolume: stored?.optionVolume ?? null,
    openInterest: stored?.openInterest ?? null,
    smiles: picture.expiries.flatMap((e) =>
      e.smile && e.smile.model !== 'flat' && e.outlier === null
        ? [{ expiry: e.expiry, years: e.years, forward: e.forward, smile: e.smile, range: e.smile.range }]
        : [],
    ),
  };
}
