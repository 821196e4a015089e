import { forwardDelta } from '@umwelt/core/pricing';
import { numberText, signedText } from '../../ui/format.ts';
import type { ExpiryPicture } from '../../api/picture.ts';
import type { SkewAxis } from './parameters.ts';

export const AXIS_TITLES: Record<SkewAxis, string> = {
  strike: 'strike',
  distance: 'strike against forward, %',
  moneyness: 'ln(strike / forward)',
  deviations: 'ln(strike / forward) in deviations at the money',
  delta: 'undiscounted call delta, puts to the left',
};

/** The axis that is asked for, else strikes of one expiry and deviations of several, which then are all as wide. */
export function shownAxis(axis: SkewAxis | undefined, shown: readonly unknown[]): SkewAxis {
  return axis ?? (shown.length > 1 ? 'deviations' : 'strike');
}

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

/** A place on the axis in words. */
export function placeText(axis: SkewAxis, x: number, decimals: number): string {
  switch (axis) {
    case 'strike':
      return `strike ${numberText(x, decimals)}`;
    case 'distance':
      return `${signedText(x, 1)} % from the forward`;
    case 'moneyness':
      return `ln(strike / forward) ${signedText(x, 3)}`;
    case 'deviations':
      return `${signedText(x, 2)} deviations`;
    case 'delta':
      return x <= 50 ? `put, delta ${numberText(x, 0)}` : `call, delta ${numberText(100 - x, 0)}`;
  }
}
