import { z } from 'zod';
import { figure, optionSide } from './quantity.ts';

const contractFields = {
  side: optionSide,
  exercise: z.enum(['european', 'american']),
  model: z.enum(['spot', 'futures', 'normal']),
  underlying: z.number().meta({ description: 'Spot, or the futures price with model futures and normal' }),
  strike: z.number(),
  years: z.number().nonnegative(),
  rate: z.number(),
  dividendYield: z.number().optional(),
  dividends: z.array(z.strictObject({ years: z.number().positive(), amount: z.number().nonnegative() })).optional(),
};

/** One option to be priced. Rows are checked one by one, so that a bad row does not spoil the others. */
export const priceContract = z
  .strictObject({ ...contractFields, volatility: z.number().nonnegative() })
  .meta({ id: 'PriceContract' });
export type PriceContract = z.infer<typeof priceContract>;

export const impliedVolatilityContract = z
  .strictObject({ ...contractFields, price: z.union([z.number(), z.enum(['NaN', 'Infinity', '-Infinity'])]) })
  .meta({ id: 'ImpliedVolatilityContract' });

export const MAX_CONTRACTS = 100_000;
/** How a value comes about; a closed form is exact at every level. */
export const pricingMethod = z.enum(['certain', 'closed-form', 'spectral-collocation', 'finite-difference']);
export const pricingLevel = z.enum(['draft', 'fast', 'default', 'fine', 'exact']);

const rows = z.array(z.unknown()).max(MAX_CONTRACTS);
const accuracy = z.enum(['fast', 'default', 'exact']).optional();

/** A request that prices one contract. */
export interface PriceRequestText {
  accuracy: NonNullable<z.infer<typeof accuracy>>;
  contracts: [PriceContract];
}

export const priceRequest = z.strictObject({ accuracy, contracts: rows });
export const impliedVolatilityRequest = z.strictObject({ accuracy, contracts: rows });

export const priceResult = z
  .object({
    price: z.number(),
    delta: figure,
    gamma: figure.meta({ description: 'null where it is infinite: at the strike with no time or volatility left' }),
    theta: figure.meta({ description: 'per calendar day' }),
    vega: figure.meta({ description: 'per volatility point (normal model: per 1.00)' }),
    rho: figure.meta({ description: 'per 0.01 of rate' }),
    vanna: figure,
    volga: figure,
    charm: figure.meta({ description: 'd delta / d calendar day' }),
    probabilityItm: z
      .number()
      .meta({ description: 'at expiry, at this one volatility for all strikes, ignoring early exercise' }),
    method: pricingMethod,
    level: pricingLevel,
  })
  .meta({ id: 'PriceResult' });
export type PriceResult = z.infer<typeof priceResult>;

export const rowError = z.object({ error: z.string(), message: z.string().optional() }).meta({ id: 'RowError' });
export const priceResponse = z.object({ results: z.array(z.union([priceResult, rowError])) });
export const impliedVolatilityResponse = z.object({
  results: z.array(z.union([z.object({ volatility: z.number() }), rowError])),
});
