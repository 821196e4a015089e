import type { MoveChoice, RangeExpiry } from '../api/range.ts';

/** An expiry's expected move of a kind. */
export interface ToldMove {
  /** From the forward to either side; null of a range, whose sides differ */
  move: number | null;
  low: number;
  high: number;
  /** Probability to end within it, under the smile */
  coverage: number | null;
}

/** The expected move of a kind, null where it is not known. */
export function toldMove(range: RangeExpiry, choice: MoveChoice): ToldMove | null {
  if (choice === 'range') {
    const [own] = range.ranges;
    if (!own || own.low === null || own.high === null) return null;
    return { move: null, low: own.low, high: own.high, coverage: own.coverage };
  }
  const { move, coverage } = range.coverages[choice];
  if (move === null) return null;
  return { move, low: range.forward - move, high: range.forward + move, coverage };
}
