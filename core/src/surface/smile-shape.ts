import { type Smile, smileVolatility } from './smile.ts';
import type { SmileMeasures } from './smile-measures.ts';

export type SmileShapeName = 'downside' | 'upside' | 'symmetric smile' | 'flat';

/** A risk reversal beyond this share of the level gives the smile a side. */
const SIDED = 0.05;
/** Without a side a butterfly from here on, a fifth of a point, makes a smile. */
const BENT = 0.002;
/** What spans three points across its quotes is not flat, however little it bends at the money. */
const WIDE = 0.03;
/** Of that span the ends differ by at least this share where one side is dearer. */
const TILTED = 0.5;
/** Places across the quotes at which a span is looked for. */
const PLACES = 40;

/** How far a smile goes across its quotes, in volatility. */
export interface SmileSpan {
  /** At the lowest and highest quoted strike */
  ends: [low: number, high: number];
  /** From the least to the most between them */
  width: number;
}

/** @param range of ln(strike / forward) over the quotes */
export function smileSpan(smile: Smile, [low, high]: readonly [number, number]): SmileSpan {
  const volatilities = Array.from({ length: PLACES + 1 }, (_, i) =>
    smileVolatility(smile, low + ((high - low) * i) / PLACES),
  );
  return {
    ends: [volatilities[0], volatilities[PLACES]],
    width: Math.max(...volatilities) - Math.min(...volatilities),
  };
}

/**
 * Name of a smile's shape by rule: the dearer side, else whether it bends; undefined when a delta was not reached.
 * @param span of the smile across its quotes: what seems flat near the money may not be so beyond
 */
export function smileShapeName(
  m: Pick<SmileMeasures, 'atm' | 'riskReversal25' | 'butterfly25'>,
  span?: SmileSpan,
): SmileShapeName | undefined {
  if (Number.isNaN(m.atm) || Number.isNaN(m.riskReversal25) || Number.isNaN(m.butterfly25)) return undefined;
  if (Math.abs(m.riskReversal25) / m.atm > SIDED) return m.riskReversal25 < 0 ? 'downside' : 'upside';
  if (m.butterfly25 >= BENT) return 'symmetric smile';
  if (!span || !(span.width > WIDE)) return 'flat';
  const tilt = span.ends[1] - span.ends[0];
  if (Math.abs(tilt) > TILTED * span.width) return tilt < 0 ? 'downside' : 'upside';
  return 'symmetric smile';
}
