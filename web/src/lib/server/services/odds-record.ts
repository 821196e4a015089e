import { isoInZone } from '@umwelt/market/zone';
import type { InterestRecord } from '../../api/interest-record.ts';
import type { OddsRecord, RecordChoice } from '../../api/odds-record.ts';
import { sessionsOf } from '../../market/index.ts';
import type { Database } from '../database/connect.ts';
import { eventRecord } from '../derive/event-record.ts';
import { interestRecord, pastExpiries } from '../derive/interest-record.ts';
import { oddsRecordOf } from '../derive/odds-record-of.ts';
import type { JudgedWindow } from '../derive/odds-windows.ts';
import { compute } from '../derive/pool.ts';
import { pictureVersion } from '../repositories/data-version.ts';
import { eventsBetween } from '../repositories/events.ts';
import { openInterestOf } from '../repositories/open-interest.ts';
import { storedLaws } from '../repositories/stored-laws.ts';
import { listUnderlyings, type StoredUnderlying } from '../repositories/underlyings.ts';
import { endedSessions } from './ended-sessions.ts';
import { VersionedMemory } from './versioned-memory.ts';

/** What is kept goes back two years; realized looks back from the first of them. */
const MOST_BARS = 504 + 253;
const TWO_YEARS = 731 * 86_400_000;

const windows = new VersionedMemory<JudgedWindow[]>(240);

type Choice = Pick<RecordChoice, 'days' | 'eventful'>;

/** What is stored of an underlying's past, up to an instant. */
async function storedPast(database: Database, stored: StoredUnderlying, instant: Date) {
  const { id, zone } = stored;
  const from = new Date(instant.getTime() - TWO_YEARS);
  const [ended, laws, events] = await Promise.all([
    endedSessions(database, stored, { instant, count: MOST_BARS }),
    storedLaws(database, { underlyingId: id, zone, from, to: instant }),
    eventsBetween(database, { underlyingId: id, from, to: instant }),
  ]);
  return { ended, laws, events };
}

async function windowsOf(
  database: Database,
  stored: StoredUnderlying,
  { instant, choice }: { instant: Date; choice: Choice },
): Promise<JudgedWindow[]> {
  const { zone, symbol, sessionClose } = stored;
  const version = await pictureVersion(database, stored, instant);
  return windows.recall(JSON.stringify([stored, instant, choice]), version, async () => {
    const input = { zone, sessionClose, ...(await storedPast(database, stored, instant)), ...choice };
    return compute('oddsWindows', input, { lane: `odds record ${symbol}`, isLong: true });
  });
}

/** What odds told of an underlying, or of several, were worth until an instant. */
export async function oddsRecord(
  database: Database,
  stored: StoredUnderlying,
  o: { instant: Date; choice: RecordChoice; signal?: AbortSignal },
): Promise<OddsRecord> {
  const { instant, signal } = o;
  const { days, eventful, pool } = o.choice;
  const pooled =
    pool === 'own'
      ? [stored]
      : (await listUnderlyings(database)).filter((u) => pool === 'all' || u.sector === stored.sector);
  const judged: JudgedWindow[] = [];
  // One after the other: a pool of many must not keep others from the workers, and stops once nobody waits for it.
  for (const one of pooled) {
    signal?.throwIfAborted();
    judged.push(...(await windowsOf(database, one, { instant, choice: { days, eventful } })));
  }
  const { ended, laws, events } = await storedPast(database, stored, instant);
  return {
    symbol: stored.symbol,
    asOf: isoInZone(instant.getTime(), stored.zone),
    days,
    sessions: Math.max(1, sessionsOf(days)),
    underlyings: pooled.map((u) => u.symbol),
    ...oddsRecordOf(judged),
    events: eventRecord(events, laws, { ended, ...stored }).reverse(),
  };
}

/** How often expiries of an underlying settled near the level of least worth, until an instant. */
export async function interestRecordOf(
  database: Database,
  stored: StoredUnderlying,
  instant: Date,
): Promise<InterestRecord> {
  const { ended, laws } = await storedPast(database, stored, instant);
  const expiries = pastExpiries(laws, ended, stored.zone);
  const slices = await openInterestOf(
    database,
    stored.id,
    expiries.map(({ law, straddle }) => ({ instant: law.instant, expiry: new Date(straddle.expiry) })),
  );
  return {
    symbol: stored.symbol,
    asOf: isoInZone(instant.getTime(), stored.zone),
    ...interestRecord(expiries, slices, ended, stored.zone),
  };
}
