import { type Accuracy, type Greeks, type Option, optionGreeks, optionImpliedVolatility } from '@umwelt/core/pricing';
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

/** Prices one row of a request; a bad row becomes an error in its place. */
export function priceRow(row: unknown, accuracy: Accuracy = 'default'): PriceResult | RowError {
  const parsed = priceContract.safeParse(row);
  if (!parsed.success) return invalidRow(parsed.error);
  const { volatility, ...contract } = parsed.data;
  try {
    return scaled(optionGreeks({ ...optionOf(contract), volatility }, accuracy), contract.model === 'normal');
  } catch (error) {
    return outOfRange(error);
  }
}

function optionOf(c: Omit<PriceContract, 'volatility'>): Omit<Option, 'volatility'> {
  return {
    side: c.side,
    exercise: c.exercise,
    model: c.model,
    underlying: c.underlying,
    strike: c.strike,
    timeToExpiry: c.years,
    rate: c.rate,
    dividendYield: c.dividendYield,
    dividends: c.dividends?.map((d) => ({ time: d.years, amount: d.amount })),
  };
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
export function impliedVolatilityRow(row: unknown, accuracy?: Accuracy): { volatility: number } | RowError {
  const parsed = impliedVolatilityContract.safeParse(row);
  if (!parsed.success) return invalidRow(parsed.error);
  const { price, ...contract } = parsed.data;
  try {
    // A volatility is wanted to more digits than a price: the default inverts the finer method.
    const level = accuracy === undefined || accuracy === 'default' ? 'fine' : accuracy;
    const result = optionImpliedVolatility(optionOf(contract), Number(price), level);
    return result.ok ? { volatility: result.volatility } : { error: result.reason };
  } catch (error) {
    return outOfRange(error);
  }
}

function invalidRow(error: z.ZodError): RowError {
  const [issue] = error.issues;
  return { error: 'invalid', message: `${issue.path.join('.') || 'row'}: ${issue.message}` };
}

function outOfRange(error: unknown): RowError {
  if (error instanceof RangeError) return { error: 'invalid', message: error.message };
  throw error;
}
