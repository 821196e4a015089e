import { LISTED_SPREAD_KINDS } from '@umwelt/market/quote-source';
import { z } from 'zod';
import { expiryDate, instantText, optionSide } from './quantity.ts';

export const tradedLeg = z
  .strictObject({
    expiry: expiryDate,
    side: optionSide,
    strike: z.number().positive(),
    ratio: z.number().int().meta({ description: 'Contracts bought with one unit; negative when sold' }),
  })
  .meta({ id: 'TradedLeg' });
export type TradedLegText = z.infer<typeof tradedLeg>;

const tradePrint = z
  .object({
    instant: instantText,
    kind: z.enum(['outright', ...LISTED_SPREAD_KINDS]),
    legs: z.array(tradedLeg),
    price: z.number(),
    size: z.number(),
    bid: z.number(),
    ask: z.number(),
  })
  .meta({ id: 'TradePrint', description: 'One trade, with the quote that it met' });

const listedSpread = z
  .object({
    kind: z.enum(LISTED_SPREAD_KINDS),
    legs: z.array(tradedLeg),
    bid: z.number(),
    ask: z.number(),
    bidSize: z.number(),
    askSize: z.number(),
  })
  .meta({ id: 'ListedSpread', description: 'Combination that the exchange lists, and its quote of one unit bought' });

/** Most prints in one answer. */
export const MOST_PRINTS = 2000;

export const tradesResponse = z.object({ symbol: z.string(), asOf: instantText, trades: z.array(tradePrint) });
export type TradesResponse = z.infer<typeof tradesResponse>;
export const spreadsResponse = z.object({
  symbol: z.string(),
  asOf: instantText,
  /** Of the quotes; null when none are stored for the session */
  quotedAt: instantText.nullable(),
  spreads: z.array(listedSpread),
});
export type SpreadsResponse = z.infer<typeof spreadsResponse>;
