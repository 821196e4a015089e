import type { SmileMeasures } from './smile-measures.ts';

export type SmileShapeName = 'downside' | 'upside' | 'symmetric smile' | 'flat';

/** A risk reversal beyond this share of the level gives the smile a side. */
const SIDED = 0.05;
/** Without a side a butterfly from here on, a fifth of a point, makes a smile. */
const BENT = 0.002;

/** Name of a smile's shape by rule: the dearer side, else whether it bends; undefined when a delta was not reached. */
export function smileShapeName(
  m: Pick<SmileMeasures, 'atm' | 'riskReversal25' | 'butterfly25'>,
): SmileShapeName | undefined {
  if (Number.isNaN(m.atm) || Number.isNaN(m.riskReversal25) || Number.isNaN(m.butterfly25)) return undefined;
  if (Math.abs(m.riskReversal25) / m.atm > SIDED) return m.riskReversal25 < 0 ? 'downside' : 'upside';
  return m.butterfly25 >= BENT ? 'symmetric smile' : 'flat';
}
