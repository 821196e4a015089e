import type { MoveChoice } from '../../api/range.ts';
import type { FanSpan } from './parameters.ts';

/** What each kind of expected move is called. */
export const MOVE_NAMES: Readonly<Record<MoveChoice, string>> = {
  straddle: 'straddle',
  oneSigma: 'σ√T',
  meanAbsolute: 'mean move',
  varianceMove: 'variance swap',
  range: '% range',
};

/** Days that each span of the fan reaches ahead, and what it is called. */
export const FAN_DAYS: Readonly<Record<FanSpan, number>> = { quarter: 100, half: 190, year: 375, all: Infinity };
export const FAN_NAMES: Readonly<Record<FanSpan, string>> = {
  quarter: '3 months',
  half: '6 months',
  year: 'a year',
  all: 'all',
};
