import type { RangeExpiry } from '../../api/range.ts';
import type { FanSpan, MoveChoice } from './parameters.ts';

/** What each kind of expected move is called. */
export const MOVE_NAMES: Readonly<Record<MoveChoice, string>> = {
  straddle: 'straddle',
  oneSigma: 'σ√T',
  meanAbsolute: 'mean move',
  varianceMove: 'variance swap',
  range: '% range',
};

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

/** Days that each span of the fan reaches ahead, and what it is called. */
export const FAN_DAYS: Readonly<Record<FanSpan, number>> = { quarter: 100, half: 190, year: 375, all: Infinity };
export const FAN_NAMES: Readonly<Record<FanSpan, string>> = {
  quarter: '3 months',
  half: '6 months',
  year: 'a year',
  all: 'all',
};
