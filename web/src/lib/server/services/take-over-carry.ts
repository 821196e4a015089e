import type PgBoss from 'pg-boss';
import type { CarryTerms } from '../../api/carry.ts';
import type { Connection } from '../database/connect.ts';
import { deleteCarryTerms, saveCarryTerms } from '../repositories/carry-terms.ts';
import { outdateMeasures } from '../repositories/measures.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { enqueueDerivation } from './change-underlying.ts';
import { jobQueue } from '../jobs/job-queue.ts';

export type TakeOverOutcome =
  | { ok: true; job: string | null }
  | { ok: false; reason: 'unknown' | 'nothing-taken' | 'not-american' };

/**
 * Takes what quotes imply of an underlying's carry over as known, or gives it back; what was derived under the other carry is
 * derived anew by a job.
 * @param terms null gives back
 */
export async function takeOverCarry(
  connection: Connection,
  owner: string,
  o: { symbol: string; terms: CarryTerms | null; queue?: () => Promise<PgBoss> },
): Promise<TakeOverOutcome> {
  const { terms } = o;
  const outcome = await connection.database.transaction(async (transaction) => {
    const found = await findUnderlying(transaction, o.symbol);
    if (!found) return 'unknown' as const;
    if (found.exercise !== 'american' || found.model !== 'spot') return 'not-american' as const;
    if (terms) await saveCarryTerms(transaction, found.id, terms);
    else if (!(await deleteCarryTerms(transaction, found.id))) return 'nothing-taken' as const;
    await outdateMeasures(transaction, found.id);
    return found;
  });
  if (typeof outcome === 'string') return { ok: false, reason: outcome };
  return { ok: true, job: await enqueueDerivation(connection, owner, outcome, o.queue ?? jobQueue) };
}
