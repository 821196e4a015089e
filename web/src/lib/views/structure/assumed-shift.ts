import type { MarketShift } from '@umwelt/core/structure';
import type { SmileMovement } from '@umwelt/core/surface';
import type { StructureParameters } from './parameters.ts';

const MOVEMENTS = {
  strike: undefined,
  moneyness: { kind: 'sticky-moneyness' },
  local: { kind: 'sticky-local-volatility' },
} as const satisfies Record<StructureParameters['smile'], SmileMovement | undefined>;
export const SMILE_MOVE_WORDS: Record<StructureParameters['smile'], string> = {
  strike: 'stays with strikes',
  moneyness: 'goes with the price',
  local: 'goes twice as far',
};

/** What is assumed to be otherwise; undefined where nothing is. */
export function shiftOf(
  own: Pick<StructureParameters, 'shift' | 'tilt' | 'rate' | 'rooted' | 'smile'>,
): MarketShift | undefined {
  const { shift, tilt, rate } = own;
  const movement = MOVEMENTS[own.smile];
  if (shift === 0 && tilt === 0 && rate === 0 && !movement) return undefined;
  const isByRootTime = own.rooted === 'yes';
  return { parallel: shift / 100, tilt: tilt / 100, rate: rate / 100, isByRootTime, movement };
}
