import { forwardDelta } from '@umwelt/core/pricing';
import type { ExpiryPicture } from '../../api/picture.ts';
import type { SkewAxis } from './parameters.ts';

export const AXIS_TITLES: Record<SkewAxis, string> = {
  strike: 'strike',
  distance: 'strike against forward, %',
  moneyness: 'ln(strike / forward)',
  deviations: 'ln(strike / forward) in deviations at the money',
  delta: 'undiscounted call delta, puts to the left',
};

/** Position of a strike on the chosen axis; delta runs from deep puts (left) to far calls (right). */
export function axisValue(axis: SkewAxis, expiry: ExpiryPicture, strike: number, volatility: number): number {
  switch (axis) {
    case 'strike':
      return strike;
    case 'distance':
      return (strike / expiry.forward - 1) * 100;
    case 'moneyness':
      return Math.log(strike / expiry.forward);
    case 'deviations':
      return Math.log(strike / expiry.forward) / ((expiry.atm ?? NaN) * Math.sqrt(expiry.years));
    case 'delta':
      return (
        100 *
        (1 - forwardDelta({ side: 'call', forward: expiry.forward, strike, timeToExpiry: expiry.years, volatility }))
      );
  }
}
