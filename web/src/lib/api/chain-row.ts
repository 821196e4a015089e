import { z } from 'zod';
import { quoteReason } from './market-resource.ts';
import { pricingLevel, pricingMethod } from './price.ts';
import { figure, optionSide } from './quantity.ts';

/** One quote against theory. Greeks per unit of underlying: theta per calendar day, vega and rho per point. */
export const chainRow = z
  .object({
    strike: z.number(),
    side: optionSide,
    bid: figure,
    ask: figure,
    mid: figure,
    last: figure,
    volume: figure,
    openInterest: figure,
    verdict: quoteReason.nullable(),
    bidVolatility: figure,
    midVolatility: figure,
    askVolatility: figure,
    fitVolatility: figure,
    /** Volatility that theory uses, by the source in force */
    theoryVolatility: figure,
    /** Theory's volatility of the underlying between its cash dividends, with which the contract is priced; equal without any */
    contractVolatility: figure,
    theory: figure,
    /** Part of theory that early exercise is worth */
    earlyExercise: figure,
    /** How theory and its Greeks were computed, and the level of accuracy */
    method: pricingMethod.nullable(),
    level: pricingLevel.nullable(),
    /** Market outside theory: bid above it (dear) or offer below it (cheap); null without both */
    standing: z.enum(['dear', 'cheap', 'inside']).nullable(),
    /** Distance from theory to the nearest of bid and offer, 0 inside */
    gap: figure,
    /** The gap in volatility: bid or offer volatility less theory's; null where either is missing */
    gapVolatility: figure,
    delta: figure,
    gamma: figure,
    theta: figure,
    vega: figure,
    rho: figure,
    forwardDelta: figure,
    /** That it ends in the money; under smile and borrowed with the slope of the smile at its strike */
    probabilityItm: figure,
    /** Probability in the money as if the volatility of its strike were that of all: N(d2) */
    probabilityItmConstantVolatility: figure,
  })
  .meta({ id: 'ChainRow' });
export type ChainRow = z.infer<typeof chainRow>;
