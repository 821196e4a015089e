import { isoInZone } from '@umwelt/market/zone';
import type { z } from 'zod';
import { type freezeRequest, type FrozenSet, frozenSet } from '../../api/range.ts';
import type { Picture } from '../../api/picture.ts';
import { toldMove } from '../../theory/index.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { frozenVerdict } from '../derive/frozen-verdict.ts';
import { endedSession } from '../derive/session-bars.ts';
import {
  forgetFrozenSets,
  frozenCount,
  frozenSetsOf,
  saveFrozenSet,
  setFrozenDeleted,
  type StoredFrozenSet,
} from '../repositories/frozen-levels.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { endedSessions } from './ended-sessions.ts';
import { expectedRanges } from './range.ts';
import { withinLimit } from './within-limit.ts';

/** Levels are held against as many sessions at most: two years. */
const MOST_SESSIONS = 504;
/** Kept by one user of one underlying; a limit that nobody reaches by hand. */
const MOST_KEPT = 500;
/** How long a set that was taken out can be put back: a day, in milliseconds. */
const KEPT_TO_RESTORE = 86_400_000;

/** What was kept up to an instant, each held against the sessions that had ended by then. */
export async function frozenUntil(
  database: Database,
  stored: StoredUnderlying,
  { owner, instant }: { owner: string; instant: Date },
): Promise<FrozenSet[]> {
  const sets = await frozenSetsOf(database, { owner, symbol: stored.symbol, until: instant });
  if (sets.length === 0) return [];
  const ended = await endedSessions(database, stored, { instant, count: MOST_SESSIONS });
  return sets.map((set) => judged(set, stored, ended));
}

function judged(set: StoredFrozenSet, stored: StoredUnderlying, ended: Parameters<typeof frozenVerdict>[2]): FrozenSet {
  const kept = endedSession(set.instant, stored);
  return frozenSet.parse({
    ...{ id: set.id, name: set.name, price: set.price, move: set.move },
    instant: isoInZone(set.instant.getTime(), stored.zone),
    levels: set.levels.map((level) => frozenVerdict(level, kept, ended)),
  });
}

/** Keeps the expected moves of a picture; undefined where none of its expiries has one, or too many are kept. */
export async function freezeLevels(
  database: Database,
  stored: StoredUnderlying,
  o: { owner: string; picture: Picture; request: z.output<typeof freezeRequest> },
): Promise<{ ok: true; set: FrozenSet } | { ok: false; reason: 'nothing' | 'too-many' }> {
  const { owner, picture, request } = o;
  const { symbol } = stored;
  const instant = new Date(picture.asOf);
  const dates = picture.expiries
    .filter((e) => e.outlier === null && (request.expiries?.includes(e.date) ?? true))
    .map((e) => e.date);
  const { expiries } = await expectedRanges(picture, { dates, coverages: [request.coverage] });
  const levels = expiries.flatMap((range) => {
    const told = toldMove(range, request.move);
    return told
      ? [{ date: range.date, forward: range.forward, low: told.low, high: told.high, coverage: told.coverage }]
      : [];
  });
  if (levels.length === 0) return { ok: false, reason: 'nothing' };
  const { name, move } = request;
  const set = { name, move, instant, price: picture.price, levels };
  const count = (transaction: Transaction) => frozenCount(transaction, { owner, symbol });
  const limit = { of: `frozen levels ${owner} ${symbol}`, most: MOST_KEPT, adds: 1, count };
  const saved = await withinLimit(database, limit, (transaction) =>
    saveFrozenSet(transaction, { owner, symbol, ...set }),
  );
  if (!saved.ok) return { ok: false, reason: 'too-many' };
  const id = saved.added;
  const ended = await endedSessions(database, stored, { instant, count: MOST_SESSIONS });
  return { ok: true, set: judged({ id, ...set }, stored, ended) };
}

/** Takes a set out; it can be put back for a day. @returns whether it was kept */
export async function thawLevels(
  database: Database,
  o: { owner: string; symbol: string; id: string; now: Date },
): Promise<boolean> {
  const { owner, now, ...set } = o;
  await forgetFrozenSets(database, { owner, before: new Date(now.getTime() - KEPT_TO_RESTORE) });
  return setFrozenDeleted(database, { owner, ...set, deletedAt: now });
}

/** Puts back a set that was taken out. @returns whether there was one */
export function restoreLevels(database: Database, o: { owner: string; symbol: string; id: string }): Promise<boolean> {
  return setFrozenDeleted(database, { ...o, deletedAt: null });
}
