/** Right of an option: to buy (call) or to sell (put). */
export type Side = 'call' | 'put';

/** +1 for a call, -1 for a put: the sign of the payoff's slope. */
export function sideSign(side: Side): 1 | -1 {
  return side === 'call' ? 1 : -1;
}
