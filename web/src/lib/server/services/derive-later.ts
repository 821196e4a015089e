import type PgBoss from 'pg-boss';
import type { Session } from '../database/connect.ts';
import { enqueueWithin, type JobRequest } from '../jobs/queue.ts';
import { dropMeasures } from '../repositories/measures.ts';

/** Instants a job derives: a second or a few. */
const INSTANTS_PER_JOB = 40;

/** What a user has just changed is derived before the demo's past is filled. */
export const USERS_FIRST = 2000;

/** An underlying's instant whose quotes changed. */
export interface ChangedInstant {
  underlyingId: number;
  instant: Date;
}

/**
 * Has the measures of changed instants derived by jobs, in the transaction that changes them. Until then they are missing rather
 * than of other quotes; pages derive what they show by themselves.
 * @param o.queue without one nothing is queued, and the next start finds what is missing
 */
export async function deriveLater(
  session: Session,
  o: { owner: string; group: string; instants: readonly ChangedInstant[]; queue?: () => Promise<PgBoss> },
): Promise<void> {
  await dropMeasures(session.database, o.instants);
  if (o.queue) await enqueueWithin(session, await o.queue(), o, derivations(o.group, o.instants));
}

/** Jobs that derive instants, an underlying after the other. */
export function derivations(
  name: string,
  instants: readonly ChangedInstant[],
  o: { priority: number } = { priority: USERS_FIRST },
): JobRequest[] {
  const byUnderlying = new Map<number, string[]>();
  for (const { underlyingId, instant } of instants)
    byUnderlying.set(underlyingId, [...(byUnderlying.get(underlyingId) ?? []), instant.toISOString()]);
  return [...byUnderlying].flatMap(([underlyingId, all]) => {
    const ascending = all.sort();
    const requests: JobRequest[] = [];
    for (let i = 0; i < ascending.length; i += INSTANTS_PER_JOB) {
      const part = ascending.slice(i, i + INSTANTS_PER_JOB);
      const [from, to] = [part[0], part[part.length - 1]];
      requests.push({
        label: `${name}, ${from.slice(0, 10)} to ${to.slice(0, 10)}`,
        payload: { kind: 'derive-measures', underlyingId, from, to },
        priority: o.priority,
        weight: part.length,
      });
    }
    return requests;
  });
}
