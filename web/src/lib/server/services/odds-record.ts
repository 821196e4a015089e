import type { OddsRecord, RecordChoice } from '../../api/odds-record.ts';
import type { Database } from '../database/connect.ts';
import { compute } from '../derive/pool.ts';
import { pictureVersion } from '../repositories/data-version.ts';
import { eventsBetween } from '../repositories/events.ts';
import { storedLaws } from '../repositories/stored-laws.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { endedSessions } from './ended-sessions.ts';
import { VersionedMemory } from './versioned-memory.ts';

/** What is kept goes back two years; realized looks back from the first of them. */
const MOST_BARS = 504 + 253;
const TWO_YEARS = 731 * 86_400_000;

const records = new VersionedMemory<OddsRecord>(48);

/** What odds told of an underlying were worth until an instant. */
export async function oddsRecord(
  database: Database,
  stored: StoredUnderlying,
  o: { instant: Date; choice: RecordChoice },
): Promise<OddsRecord> {
  const { instant, choice } = o;
  const { id, zone, symbol, sessionClose } = stored;
  const version = await pictureVersion(database, stored, instant);
  return records.recall(JSON.stringify([stored, instant, choice]), version, async () => {
    const from = new Date(instant.getTime() - TWO_YEARS);
    const [ended, laws, events] = await Promise.all([
      endedSessions(database, stored, { instant, count: MOST_BARS }),
      storedLaws(database, { underlyingId: id, zone, from, to: instant }),
      eventsBetween(database, { underlyingId: id, from, to: instant }),
    ]);
    const input = { symbol, zone, sessionClose, asOf: instant, ended, laws, events, ...choice };
    return compute('oddsRecord', input, { lane: `odds record ${symbol}`, isLong: true });
  });
}
