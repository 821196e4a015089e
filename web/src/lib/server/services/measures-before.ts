import { isoInZone } from '@umwelt/market/zone';
import type { StoredMeasuresResponse } from '../../api/measured.ts';
import { storedValues } from '../../measures/index.ts';
import type { Database } from '../database/connect.ts';
import { sessionFigures } from '../repositories/measures.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';

const YEAR = 365 * 86_400_000;

/** What is kept of the catalogue at the end of each session of the year up to an instant. */
export async function measuresBefore(
  database: Database,
  { id, symbol, zone }: Pick<StoredUnderlying, 'id' | 'symbol' | 'zone'>,
  instant: Date,
): Promise<StoredMeasuresResponse> {
  const from = new Date(instant.getTime() - YEAR);
  const rows = await sessionFigures(database, { underlyingId: id, zone, from, to: instant });
  const iso = (at: Date) => isoInZone(at.getTime(), zone);
  return {
    symbol,
    asOf: iso(instant),
    sessions: rows.map(({ instant: at, ...figures }) => ({ instant: iso(at), values: storedValues(figures) })),
  };
}
