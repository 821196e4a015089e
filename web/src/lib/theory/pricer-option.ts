import type { Option } from '@umwelt/core/pricing';
import type { PricerInputs, PricerSettings } from '../api/pricer-inputs.ts';

const DAYS = 365;

/** Of the inputs, those that make the option. */
export type OptionInputs = Pick<
  PricerInputs,
  | 'side'
  | 'exercise'
  | 'model'
  | 'underlying'
  | 'strike'
  | 'days'
  | 'rate'
  | 'dividendYield'
  | 'volatility'
  | 'dividends'
>;

/** The option in core's units. Dividends that go ex at or after expiry do not concern it. */
export function optionOf(inputs: OptionInputs): Option {
  const isSpot = inputs.model === 'spot';
  const timeToExpiry = inputs.days / DAYS;
  return {
    side: inputs.side,
    exercise: inputs.exercise,
    model: inputs.model,
    underlying: inputs.underlying,
    strike: inputs.strike,
    timeToExpiry,
    rate: inputs.rate,
    dividendYield: isSpot ? inputs.dividendYield : 0,
    volatility: inputs.volatility,
    dividends: isSpot
      ? inputs.dividends
          .map((d) => ({ time: d.days / DAYS, amount: d.amount }))
          .filter((d) => d.time < timeToExpiry && d.amount > 0)
      : undefined,
  };
}

/** What a value per unit of underlying is multiplied with under a basis. */
export function basisFactor(basis: PricerSettings['basis'], inputs: PricerInputs): number {
  if (basis === 'share') return 1;
  return inputs.multiplier * (basis === 'position' ? inputs.contracts : 1);
}

/** Words of a basis. */
export function basisWords(basis: PricerSettings['basis'], inputs: PricerInputs): string {
  if (basis === 'share') return 'per share';
  if (basis === 'contract') return `per contract of ${inputs.multiplier}`;
  return `for ${inputs.contracts} contracts of ${inputs.multiplier}`;
}
