import type { Database } from '../database/connect.ts';
import { wholeVersion } from '../repositories/data-version.ts';
import { curveCurrencies } from '../repositories/rate-curves.ts';
import { rejectedQuotes, storedSummary } from '../repositories/stored-summary.ts';
import { listUnderlyings } from '../repositories/underlyings.ts';
import { withoutId } from './stored-underlyings.ts';
import { VersionedMemory } from './versioned-memory.ts';

const answers = new VersionedMemory<Awaited<ReturnType<typeof readStoredData>>>(2);

/** What is stored, as Data shows it: a line an underlying, users' own ones, quotes judged bad, currencies with curves. */
export async function storedData(database: Database) {
  const version = await wholeVersion(database);
  return answers.recall('all', version, () => readStoredData(database));
}

/** Counted over all that is stored: made once for what does not change. */
async function readStoredData(database: Database) {
  const [stored, quality, currencies, underlyings] = await Promise.all([
    storedSummary(database),
    rejectedQuotes(database),
    curveCurrencies(database),
    listUnderlyings(database),
  ]);
  return {
    stored: stored.map((s) => ({
      ...s,
      first: s.first?.toISOString() ?? null,
      latest: s.latest?.toISOString() ?? null,
    })),
    own: underlyings.filter((u) => u.source === 'import').map(withoutId),
    quality,
    currencies,
  };
}
