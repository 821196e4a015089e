import { sessionDate } from './session-date.ts';

/** A stored instant with its neighbors. */
export interface StoredMoment {
  instant: Date;
  previous: Date | undefined;
  next: Date | undefined;
  /** Last instants of the sessions before and after */
  previousSession: Date | undefined;
  nextSession: Date | undefined;
  first: Date;
  latest: Date;
}

/**
 * The instant at or before the given one among ascending ones (the first when there is none, the latest without one) with its
 * neighbors; undefined of none.
 * @param zone whose civil dates are the sessions
 */
export function momentAmong(instants: readonly Date[], zone: string, at: Date | undefined): StoredMoment | undefined {
  if (instants.length === 0) return undefined;
  const last = instants.length - 1;
  const place = at === undefined ? last : Math.max(0, lastAtOrBefore(instants, at));
  const dateAt = (i: number) => sessionDate(instants[i], zone);
  const session = dateAt(place);
  let before = place;
  while (before >= 0 && dateAt(before) === session) before--;
  let after = place;
  while (after <= last && dateAt(after) === session) after++;
  let end = after;
  while (end < last && dateAt(end + 1) === dateAt(after)) end++;
  return {
    instant: instants[place],
    previous: instants[place - 1],
    next: instants[place + 1],
    previousSession: instants[before],
    nextSession: after <= last ? instants[end] : undefined,
    first: instants[0],
    latest: instants[last],
  };
}

/** Place of the last instant at or before another; -1 when all come after it. */
function lastAtOrBefore(instants: readonly Date[], at: Date): number {
  let [low, high] = [0, instants.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (instants[middle] <= at) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
