export { type Side, sideSign } from './side.ts';
export { requireRange } from './require-range.ts';
export type { Greeks } from './greeks.ts';
export {
  type BlackScholesMertonInput,
  blackScholesMertonPrice,
  blackScholesMertonGreeks,
} from './black-scholes-merton.ts';
export { type Black76Input, black76Price, black76Vega, black76Greeks, forwardDelta } from './black76.ts';
export { type BachelierInput, bachelierPrice, bachelierGreeks } from './bachelier.ts';
export {
  type ImpliedVolatilityInput,
  type ImpliedVolatilityFailure,
  type ImpliedVolatilityResult,
  impliedVolatility,
} from './implied-volatility.ts';
