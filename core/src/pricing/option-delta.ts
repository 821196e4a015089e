import type { Accuracy } from './american-levels.ts';
import { certainGreeks, closedFormGreeks, derivativesOf } from './option-greeks.ts';
import { checkOption, exerciseValue, type Option } from './option.ts';
import { solveOnGrid, solveOption } from './option-price.ts';
import { inUnitsOf, scaleOf } from './option-scale.ts';
import { pricingMethod } from './pricing-method.ts';

/**
 * Delta alone, for searches that need nothing else: that of `optionGreeks` to the accuracy of the level, at a tenth of
 * its time. Where an American option is to be exercised at once it is 1 or -1.
 * @throws RangeError outside the ranges of {@link Option}
 */
export function optionDelta(option: Option, accuracy: Accuracy = 'default'): number {
  checkOption(option);
  const o = inUnitsOf(option, scaleOf(option));
  const { method } = pricingMethod(o);
  if (method === 'certain') return certainGreeks(o).delta;
  if (method === 'closed-form') return closedFormGreeks(o).delta;
  const solved = method === 'spectral-collocation' ? solveOption(o, accuracy) : undefined;
  if (solved) return derivativesOf(o, solved).delta;
  const { price, delta } = solveOnGrid(o, accuracy).solution;
  const isExercised = o.exercise === 'american' && exerciseValue(o) > 0 && price <= exerciseValue(o);
  return isExercised ? (o.side === 'call' ? 1 : -1) : delta;
}
