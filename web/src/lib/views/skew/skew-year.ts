import { standing, type Standing } from '@umwelt/core/volatility';
import type { Side } from '../../api/quantity.ts';
import type { SkewSession } from '../../api/skew-history.ts';

/** A session from which the other side is the dearer one. */
export interface SideChange {
  /** YYYY-MM-DD */
  date: string;
  to: Side;
}

/** Risk reversals nearer to zero are of neither side: a fifth of a point. */
const NEITHER = 0.002;

/** Sessions on which the risk reversal has come to stand on the other side for the first time since it stood on one. */
export function sideChanges(sessions: readonly SkewSession[]): SideChange[] {
  const changes: SideChange[] = [];
  let side: Side | undefined;
  for (const { instant, riskReversal25: rr } of sessions) {
    if (rr === null || Math.abs(rr) < NEITHER) continue;
    const next: Side = rr > 0 ? 'call' : 'put';
    if (side !== undefined && next !== side) changes.push({ date: instant.slice(0, 10), to: next });
    side = next;
  }
  return changes;
}

/** Standing of the last session's figure among those before it; undefined without any. */
export function yearStanding(
  sessions: readonly SkewSession[],
  name: 'riskReversal25' | 'butterfly25',
): (Standing & { value: number }) | undefined {
  const values = sessions.flatMap((s) => (s[name] === null ? [] : [s[name] ?? 0]));
  const value = values.pop();
  if (value === undefined) return undefined;
  const place = standing(value, values);
  return place && { ...place, value };
}
