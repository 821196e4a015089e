import { issueDetails } from '../../api/issue-details.ts';
import { type Accuracy, type Option, optionImpliedVolatility, valuedOption } from '@umwelt/core/pricing';
import type { z } from 'zod';
import {
  impliedVolatilityContract,
  priceContract,
  type PriceContract,
  type PriceResult,
  type rowError,
} from '../../api/price.ts';
import { scaledGreeks } from '../../theory/index.ts';

type RowError = z.infer<typeof rowError>;

/** Prices one row of a request; a bad row becomes an error in its place. */
export function priceRow(row: unknown, accuracy: Accuracy = 'default'): PriceResult | RowError {
  const parsed = priceContract.safeParse(row);
  if (!parsed.success) return invalidRow(parsed.error);
  const { volatility, ...contract } = parsed.data;
  try {
    const option: Option = { ...optionOf(contract), volatility };
    const { greeks, method } = valuedOption(option, accuracy);
    const g = scaledGreeks(greeks, contract.model);
    const { price, delta, gamma, theta, vega, rho, vanna, volga, charm, probabilityItm } = g;
    return { price, delta, gamma, theta, vega, rho, vanna, volga, charm, probabilityItm, method, level: accuracy };
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
  const [{ path, message }] = issueDetails(error);
  return { error: 'invalid', message: `${path || 'row'}: ${message}` };
}

function outOfRange(error: unknown): RowError {
  if (error instanceof RangeError) return { error: 'invalid', message: error.message };
  throw error;
}
