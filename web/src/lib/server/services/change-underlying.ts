import type PgBoss from 'pg-boss';
import { currencyPair } from '@umwelt/market/terms';
import type { UnderlyingChange } from '../../api/underlying.ts';
import type { Connection, Database } from '../database/connect.ts';
import { cancelJobsOf } from '../repositories/jobs.ts';
import { outdateMeasures } from '../repositories/measures.ts';
import { deleteUserInstants, instantsBounds, moveExpiries } from '../repositories/slices.ts';
import {
  deleteUnderlying,
  findUnderlying,
  renameUnderlying,
  type RenameResult,
  type StoredUnderlying,
  updateTerms,
} from '../repositories/underlyings.ts';
import { forgetWatch } from '../repositories/feed.ts';
import { enqueue } from '../jobs/queue.ts';
import { USERS_FIRST } from './derive-later.ts';
import { jobQueue } from '../jobs/job-queue.ts';

export type ChangeOutcome =
  | { ok: true; underlying: StoredUnderlying; job: string | null }
  | { ok: false; reason: Extract<RenameResult, { ok: false }>['reason'] };

/**
 * Changes symbol or terms of a user's underlying. Expiries that were told by their date alone move along with zone and close,
 * and what was derived under other terms is derived anew by a job.
 */
export async function changeUnderlying(
  connection: Connection,
  owner: string,
  o: { symbol: string; change: UnderlyingChange; queue?: () => Promise<PgBoss> },
): Promise<ChangeOutcome> {
  const { symbol: next, ...terms } = o.change;
  const outcome = await connection.database.transaction(async (database): Promise<ChangeOutcome> => {
    const found = await findUnderlying(database, o.symbol);
    if (!found) return { ok: false, reason: 'unknown' };
    if (found.source === 'demo') return { ok: false, reason: 'not-yours' };
    if (next !== undefined) {
      const renamed = await renameUnderlying(database, found.symbol, next);
      if (!renamed.ok) return renamed;
    }
    if (Object.keys(terms).length > 0) {
      const kind = terms.kind ?? found.kind;
      // The model goes with the kind unless it is said.
      const model = terms.model ?? (terms.kind ? (kind === 'future' ? 'futures' : 'spot') : found.model);
      const settlement = terms.kind
        ? kind === 'index' || kind === 'currency'
          ? ('cash' as const)
          : ('physical' as const)
        : found.settlement;
      const foreignCurrency = kind === 'currency' ? (currencyPair(next ?? found.symbol)?.[0] ?? null) : null;
      await updateTerms(database, found.id, { ...terms, kind, model, settlement, foreignCurrency });
      const { zone, sessionClose } = { ...found, ...terms };
      await moveExpiries(database, found.id, { from: found, to: { zone, sessionClose } });
      await outdateMeasures(database, found.id);
    }
    const underlying = await findUnderlying(database, next ?? found.symbol);
    return underlying ? { ok: true, underlying, job: null } : { ok: false, reason: 'unknown' };
  });
  if (!outcome.ok || Object.keys(terms).length === 0) return outcome;
  return { ...outcome, job: await enqueueDerivation(connection, owner, outcome.underlying, o.queue ?? jobQueue) };
}

/** Has everything stored of an underlying derived anew by a job. */
export async function enqueueDerivation(
  connection: Connection,
  owner: string,
  of: StoredUnderlying,
  queue: () => Promise<PgBoss>,
): Promise<string | null> {
  const bounds = await instantsBounds(connection.database, of.id);
  if (!bounds) return null;
  const [first, last] = bounds.map((at) => at.toISOString());
  const [job] = await enqueue(connection, await queue(), { owner, group: `Terms of ${of.symbol}` }, [
    {
      label: `${of.symbol} under its new terms`,
      payload: { kind: 'derive-measures', underlyingId: of.id, from: first, to: last },
      priority: USERS_FIRST,
      weight: 1,
    },
  ]);
  return job ?? null;
}

/** Takes a user's underlying out with all that is stored of it: work on it and watching it end in the same transaction. */
export async function removeUnderlying({ database }: Connection, symbol: string): Promise<boolean> {
  return database.transaction(async (transaction) => {
    const found = await findUnderlying(transaction, symbol);
    if (!found || found.source === 'demo') return false;
    await cancelJobsOf(transaction, found.id);
    await forgetWatch(transaction, found.symbol);
    return deleteUnderlying(transaction, found.symbol);
  });
}

/** Takes out what users stored of an underlying at some instants. @returns how many slices that were */
export async function removeInstants(
  database: Database,
  symbol: string,
  instants: readonly Date[],
): Promise<number | undefined> {
  return database.transaction(async (transaction) => {
    const found = await findUnderlying(transaction, symbol);
    return found && (await deleteUserInstants(transaction, found.id, instants));
  });
}
