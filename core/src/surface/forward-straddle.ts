import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

/**
 * Price at mid of the straddle struck at the forward: put and call of the strikes on either side of it, linear between them.
 * @returns NaN where a quote of either strike is missing or was judged out
 */
export function forwardStraddle(slice: Slice, verdicts: Verdicts, forward: number): number {
  const { strikes } = slice;
  const above = strikes.findIndex((strike) => strike >= forward);
  if (above === -1) return NaN;
  const straddleAt = (i: number) => midOf(slice, verdicts, 'call', i) + midOf(slice, verdicts, 'put', i);
  if (strikes[above] === forward) return straddleAt(above);
  if (above === 0) return NaN;
  const share = (forward - strikes[above - 1]) / (strikes[above] - strikes[above - 1]);
  return straddleAt(above - 1) * (1 - share) + straddleAt(above) * share;
}

function midOf(slice: Slice, verdicts: Verdicts, side: 'call' | 'put', i: number): number {
  if (verdicts[side][i]) return NaN;
  return 0.5 * (slice[`${side}Bid`][i] + slice[`${side}Ask`][i]);
}
