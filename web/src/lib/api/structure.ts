import { HEDGED_GREEKS } from '@umwelt/core/hedge';
import { MOST_LEGS, STRUCTURE_NAMES } from '@umwelt/core/structure';
import { z } from 'zod';
import { expiryDate, figure, instantText, optionSide, positive, storedSymbol } from './quantity.ts';

const quantity = z.number().min(-1e9).max(1e9);
/** Per unit of underlying. */
const price = z.number().min(-1e12).max(1e12);
const volatility = z.number().nonnegative().max(20);

const legs = <T extends z.ZodType>(leg: T) => z.array(leg).min(1).max(MOST_LEGS);
const underlyingLeg = { kind: z.literal('underlying'), quantity };

/** Under constant volatilities, all inputs given. */
const byNumbers = z
  .strictObject({
    underlying: positive.max(1e12),
    rate: z.number().min(-1).max(5),
    dividendYield: z.number().min(-5).max(5).default(0),
    /** Of the law of the price, and of legs without their own */
    volatility,
    multiplier: positive.max(1e9).default(1),
    legs: legs(
      z.discriminatedUnion('kind', [
        z.strictObject({
          ...{ kind: z.literal('option'), side: optionSide, strike: positive.max(1e12) },
          ...{ years: z.number().nonnegative().max(200), quantity, price, volatility: volatility.optional() },
        }),
        z.strictObject({ ...underlyingLeg, price }),
      ]),
    ),
  })
  .meta({ id: 'StructureByNumbers' });
export type StructureByNumbers = z.output<typeof byNumbers>;

/** Of listed options of an underlying, by its fitted surface. */
const bySymbol = z
  .strictObject({
    symbol: storedSymbol,
    asOf: instantText.optional(),
    multiplier: positive.max(1e9).optional(),
    /** What becomes of a leg that is not listed at the instant: refused, or valued by smile or settlement */
    unlisted: z.enum(['refuse', 'value']).default('refuse'),
    /** Whose units contracts, strikes and prices are told in: splits from then on are applied; the instant's own without it */
    unitsOf: instantText.optional(),
    legs: legs(
      z.discriminatedUnion('kind', [
        z.strictObject({
          ...{ kind: z.literal('option'), expiry: expiryDate, strike: positive.max(1e12), side: optionSide, quantity },
          price: price.optional(),
        }),
        z.strictObject({ ...underlyingLeg, price: price.optional() }),
      ]),
    ),
  })
  .meta({ id: 'StructureBySymbol' });
export type StructureBySymbol = z.output<typeof bySymbol>;

export const structureRequest = z.union([byNumbers, bySymbol]);

const structureGreeks = z
  .object({
    ...{ delta: figure, gamma: figure, theta: figure, vega: figure, rho: figure, vanna: figure, volga: figure },
  })
  .meta({ id: 'StructureGreeks' });

export const structureResponse = z
  .object({
    name: z.enum(STRUCTURE_NAMES),
    /** The other side of what that name usually means */
    isReversed: z.boolean(),
    cost: z.number(),
    /** Worth today by theory; of listed options alone */
    value: z.number().optional(),
    /** What the underlying among the legs brings by the first expiry; of listed options alone */
    dividends: z.number().optional(),
    maxProfit: figure,
    maxLoss: figure,
    breakEvens: z.array(z.number()),
    probabilityOfProfit: figure,
    greeks: structureGreeks,
    /** Of each in their order; where what is not listed is valued */
    legs: z.array(z.object({ valuedBy: z.enum(['quote', 'smile', 'settlement']) })).optional(),
    /** Owed calls whose holder gains by exercise before an ex-date at this price; where there are any */
    assignments: z.array(z.object({ leg: z.number().int(), exDate: expiryDate, cost: z.number() })).optional(),
    /** Units at the instant that one unit of then has become; where there was a split */
    splitFactor: z.number().optional(),
    /** Civil date of the first expiry; of listed options alone, null of the underlying by itself */
    firstExpiry: expiryDate.nullable().optional(),
  })
  .meta({ id: 'StructureEvaluation' });
export type StructureEvaluation = z.infer<typeof structureResponse>;

/** What is not known is left out. */
const exposure = z.number().min(-1e15).max(1e15).optional();
const exposures = {
  ...{ delta: exposure, gamma: exposure, theta: exposure, vega: exposure, vanna: exposure, volga: exposure },
};
/** Instruments that a hedge chooses among. */
const MOST_INSTRUMENTS = 400;
/** Of the instrument that moves with the underlying alone. */
export const UNDERLYING_NAME = 'underlying';

export const hedgeRequest = z
  .strictObject({
    position: z.strictObject(exposures),
    instruments: z
      .array(
        z.strictObject({
          name: z.string().min(1).max(120),
          ...exposures,
          cost: z.number().nonnegative().max(1e12).optional(),
        }),
      )
      .max(MOST_INSTRUMENTS),
    neutralize: z.array(z.enum(HEDGED_GREEKS)).min(1).max(HEDGED_GREEKS.length),
    underlying: z.boolean().optional(),
    wholeContracts: z.boolean().optional(),
  })
  .superRefine((asked, context) => {
    const named = new Set<string>();
    const isTaken = (name: string) => named.has(name) || (name === UNDERLYING_NAME && usesUnderlying(asked));
    for (const [i, { name }] of asked.instruments.entries()) {
      if (isTaken(name))
        context.addIssue({ code: 'custom', path: ['instruments', i, 'name'], message: 'is named twice' });
      named.add(name);
    }
    for (const [i, name] of asked.neutralize.entries())
      if (asked.neutralize.indexOf(name) < i)
        context.addIssue({ code: 'custom', path: ['neutralize', i], message: 'is named twice' });
    for (const name of new Set(asked.neutralize)) {
      const message = 'must be given, since it is neutralized';
      if (asked.position[name] === undefined) context.addIssue({ code: 'custom', path: ['position', name], message });
      for (const [i, instrument] of asked.instruments.entries())
        if (instrument[name] === undefined)
          context.addIssue({ code: 'custom', path: ['instruments', i, name], message });
    }
  })
  .meta({ id: 'HedgeRequest' });
export type HedgeRequest = z.output<typeof hedgeRequest>;

/** Whether the underlying is added: where delta is brought to nothing, unless it is said otherwise. */
export function usesUnderlying({ underlying, neutralize }: Pick<HedgeRequest, 'underlying' | 'neutralize'>): boolean {
  return underlying ?? neutralize.includes('delta');
}

export const hedgeResponse = z
  .object({
    trades: z.array(z.object({ name: z.string(), quantity: z.number() })),
    /** Sums after each trade in their order, the first before any; those that are known of the position and of all traded until then */
    steps: z.array(z.object({ after: z.string(), ...exposures })),
  })
  .meta({ id: 'HedgeAnswer' });
export type HedgeAnswer = z.infer<typeof hedgeResponse>;
