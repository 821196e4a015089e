import type { Greeks } from './greeks.ts';
import type { Option } from './option.ts';

/** Prices between these are computed as they are. */
const LEAST_PLAIN = 1e-60;
const LARGEST_PLAIN = 1e60;

/** Whether a price needs no other unit to keep its squares and quotients inside the double numbers. */
export function isPlainPrice(price: number): boolean {
  return price === 0 || (Math.abs(price) >= LEAST_PLAIN && Math.abs(price) <= LARGEST_PLAIN);
}

/** Power of two in whose multiples tiny or huge prices are counted; 1 for ordinary ones, which stay as they are. */
export function scaleOf(o: Option): number {
  const deviation = o.model === 'normal' ? o.volatility * Math.sqrt(o.timeToExpiry) : 0;
  if (isPlainPrice(o.underlying) && isPlainPrice(o.strike) && isPlainPrice(deviation)) return 1;
  const size =
    o.model === 'normal'
      ? Math.max(Math.abs(o.underlying), Math.abs(o.strike), deviation)
      : Math.sqrt(o.underlying) * Math.sqrt(o.strike);
  return 2 ** Math.round(Math.log2(size));
}

/** An option with its prices counted in units of `scale`. */
export function inUnitsOf(o: Option, scale: number): Option {
  if (scale === 1) return o;
  return {
    ...o,
    underlying: o.underlying / scale,
    strike: o.strike / scale,
    volatility: o.model === 'normal' ? o.volatility / scale : o.volatility,
    dividends: o.dividends?.map((d) => ({ ...d, amount: d.amount / scale })),
  };
}

/** Greeks of an option counted in units of `scale`, in plain units again. */
export function fromUnitsOf(g: Greeks, scale: number, model: Option['model']): Greeks {
  if (scale === 1) return g;
  const volatilityUnit = model === 'normal' ? scale : 1;
  return {
    price: g.price * scale,
    delta: g.delta,
    gamma: g.gamma / scale,
    vega: (g.vega * scale) / volatilityUnit,
    theta: g.theta * scale,
    rho: g.rho * scale,
    dividendRho: g.dividendRho * scale,
    dualDelta: g.dualDelta,
    vanna: g.vanna / volatilityUnit,
    volga: (g.volga * scale) / volatilityUnit / volatilityUnit,
    charm: g.charm,
    speed: g.speed / scale / scale,
    zomma: g.zomma / scale / volatilityUnit,
    color: g.color / scale,
    probabilityItm: g.probabilityItm,
  };
}

/** @throws RangeError for a value that no double number holds */
export function requireValue(price: number): number {
  if (Number.isFinite(price)) return price;
  throw new RangeError(`the value of the option is beyond the range of numbers: ${price}`);
}

/** @throws RangeError when the price or a Greek cannot be told in double numbers; infinite limits of Greeks may stay */
export function requireGreeks(g: Greeks): Greeks {
  requireValue(g.price);
  for (const [name, value] of Object.entries(g)) {
    if (Number.isNaN(value)) throw new RangeError(`${name} is beyond the range of numbers for these inputs`);
  }
  return g;
}
