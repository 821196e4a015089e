import type { CashLeg, UnderlyingLeg } from '@umwelt/core/structure';
import type { Picture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';

/** An option that has ended, as it goes on. */
export interface SettledLeg {
  leg: CashLeg | UnderlyingLeg;
  /** Worth now of one, per unit of underlying */
  worth: number;
  /** Units of the underlying that one has become */
  delta: number;
}

/**
 * What an option that has ended has become: the cash that it paid, or the underlying where exercise delivers it. A future that was
 * delivered goes on as the cash that it was worth then.
 * @param option.price paid for one
 * @param settledAt price of the underlying at the end
 */
export function settledLeg(
  { underlying, price: now }: Picture,
  option: { side: Side; strike: number; quantity: number; price: number },
  settledAt: number,
): SettledLeg {
  const { side, strike, quantity, price } = option;
  const sign = side === 'call' ? 1 : -1;
  const paid = Math.max(0, sign * (settledAt - strike));
  const isDelivered = underlying.settlement === 'physical' && underlying.model === 'spot' && paid > 0;
  return isDelivered
    ? {
        leg: { kind: 'underlying', quantity: quantity * sign, price: strike + sign * price },
        ...{ worth: sign * (now - strike), delta: sign },
      }
    : { leg: { kind: 'cash', quantity, price, value: paid }, worth: paid, delta: 0 };
}
