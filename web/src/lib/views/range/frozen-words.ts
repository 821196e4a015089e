import type { FrozenLevel } from '../../api/range.ts';
import { dateText, numberText } from '../../ui/format.ts';

/** What followed on a kept level, in words. */
export function frozenVerdictText({ state, distance, left, settled }: FrozenLevel, asOf: string): string {
  if (settled === null || distance === null) return 'no session has ended since';
  const by = `${numberText(Math.abs(distance) * 100, 1)} %`;
  const wandered = left === null ? '' : `, first closed outside on ${dateText(left, asOf)}`;
  if (state === 'open') return `${distance >= 0 ? 'inside' : 'outside'} so far, by ${by}${wandered}`;
  return `ended ${state} by ${by}${wandered}`;
}
