import {
  bachelierGreeks,
  black76Greeks,
  blackScholesMertonGreeks,
  type Greeks,
  impliedVolatility,
} from '@umwelt/core/pricing';
import type { z } from 'zod';
import {
  impliedVolatilityContract,
  priceContract,
  type PriceContract,
  type PriceResult,
  type rowError,
} from '../../schema/price.ts';

type RowError = z.infer<typeof rowError>;
const DAYS = 365;

/** Prices one row of a request; a bad or unsupported row becomes an error in its place. */
export function priceRow(row: unknown): PriceResult | RowError {
  const parsed = priceContract.safeParse(row);
  if (!parsed.success) return invalidRow(parsed.error);
  const unsupported = unsupportedContract(parsed.data);
  if (unsupported) return unsupported;
  try {
    return scaled(greeksOf(parsed.data), parsed.data.model === 'normal');
  } catch (error) {
    return outOfRange(error);
  }
}

function greeksOf(c: PriceContract): Greeks {
  const common = { side: c.side, strike: c.strike, timeToExpiry: c.years, rate: c.rate };
  switch (c.model) {
    case 'spot':
      return blackScholesMertonGreeks({
        ...common,
        spot: c.underlying,
        dividendYield: c.dividendYield ?? 0,
        volatility: c.volatility,
      });
    case 'futures':
      return black76Greeks({ ...common, forward: c.underlying, volatility: c.volatility });
    case 'normal':
      return bachelierGreeks({ ...common, forward: c.underlying, normalVolatility: c.volatility });
  }
}

/** Scales of the API: theta and charm per calendar day, vega and rho per point. */
function scaled(g: Greeks, isNormal: boolean): PriceResult {
  const point = isNormal ? 1 : 0.01;
  return {
    price: g.price,
    delta: g.delta,
    gamma: g.gamma,
    theta: g.theta / DAYS,
    vega: g.vega * point,
    rho: g.rho * 0.01,
    vanna: g.vanna * point,
    volga: g.volga * point * point,
    charm: g.charm / DAYS,
    probabilityItm: g.probabilityItm,
  };
}

/** Implied volatility of one row of a request. */
export function impliedVolatilityRow(row: unknown): { volatility: number } | RowError {
  const parsed = impliedVolatilityContract.safeParse(row);
  if (!parsed.success) return invalidRow(parsed.error);
  const c = parsed.data;
  const unsupported = unsupportedContract(c) ?? (c.model === 'normal' ? NORMAL_UNSUPPORTED : undefined);
  if (unsupported) return unsupported;
  const drift = c.model === 'spot' ? c.rate - (c.dividendYield ?? 0) : 0;
  try {
    const result = impliedVolatility({
      side: c.side,
      forward: c.underlying * Math.exp(drift * c.years),
      strike: c.strike,
      timeToExpiry: c.years,
      discountFactor: Math.exp(-c.rate * c.years),
      price: Number(c.price),
    });
    return result.ok ? { volatility: result.volatility } : { error: result.reason };
  } catch (error) {
    return outOfRange(error);
  }
}

const NORMAL_UNSUPPORTED = { error: 'unsupported', message: 'implied normal volatility is not offered yet' };

function unsupportedContract(c: { exercise: string; dividends?: unknown[] }): RowError | undefined {
  if (c.exercise === 'american') return { error: 'unsupported', message: 'exercise: American is not offered yet' };
  if (c.dividends?.length) return { error: 'unsupported', message: 'dividends: cash dividends are not offered yet' };
  return undefined;
}

function invalidRow(error: z.ZodError): RowError {
  const [issue] = error.issues;
  return { error: 'invalid', message: `${issue.path.join('.') || 'row'}: ${issue.message}` };
}

function outOfRange(error: unknown): RowError {
  if (error instanceof RangeError) return { error: 'invalid', message: error.message };
  throw error;
}
