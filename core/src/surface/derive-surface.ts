import type { Side } from '../pricing/index.ts';
import { fitSlice, type FittedSlice } from './fit-slice.ts';
import { calendarArbitrage, commonRange } from './arbitrage.ts';
import type { CarryInput } from './slice-forward.ts';
import { type SmileMeasures, smileMeasures } from './smile-measures.ts';
import type { Slice } from './slice.ts';
import { type TermPoint, type TermShape, termShape, termVolatility } from './term-structure.ts';
import { varianceIndex } from './variance-index.ts';

export interface SurfaceInput {
  /** Ascending in time to expiry */
  slices: Slice[];
  spot: number;
  /** Rate per year to each expiry, one per slice, when a curve is known */
  rates?: number[];
  dividendYield?: number;
  /** What differs by expiry, one per slice: a curve's yield, cash dividends before it, the future behind its options */
  carries?: Partial<CarryInput>[];
  forwardSource?: 'parity' | 'carry';
  /** Quotes put back by hand, one list per slice */
  restored?: { side: Side; strike: number }[][];
}

export interface SurfaceExpiry extends FittedSlice {
  /** Undefined without a smile */
  measures?: SmileMeasures;
  /** No butterfly arbitrage, and total variance nowhere below the previous expiry's over the common range */
  isArbitrageFree: boolean;
}

export interface Surface {
  expiries: SurfaceExpiry[];
  /** At-the-money volatility by expiry, those with a smile */
  term: TermPoint[];
  shape: TermShape | undefined;
  /** At-the-money volatility at 30 days */
  atm30: number;
  /** Model-free 30-day volatility, decimal, null when the expiries do not bracket 30 days */
  index30: number | null;
}

const THIRTY_DAYS = 30 / 365;

/**
 * Everything derived from the quotes of one underlying at one instant: judged, implied and fitted expiries, their
 * measures, and the term structure over them.
 * @throws RangeError for a malformed slice
 */
export function deriveSurface(o: SurfaceInput): Surface {
  const expiries: SurfaceExpiry[] = [];
  for (const [i, slice] of o.slices.entries()) {
    const carry: CarryInput = {
      spot: o.spot,
      rate: o.rates?.[i],
      dividendYield: o.dividendYield,
      ...o.carries?.[i],
    };
    const near = expiries.findLast((e) => e.smile !== undefined)?.smile;
    const fitted = fitSlice(slice, { carry, forwardSource: o.forwardSource, restored: o.restored?.[i], near });
    const common = near && fitted.smile && commonRange(near.range, fitted.smile.range);
    expiries.push({
      ...fitted,
      measures: fitted.smile && smileMeasures(fitted.smile.smile),
      isArbitrageFree:
        (fitted.smile?.isButterflyFree ?? true) &&
        !(near && fitted.smile && common && calendarArbitrage(near.smile, fitted.smile.smile, common).length > 0),
    });
  }
  const term = expiries.flatMap((e) =>
    e.measures ? [{ timeToExpiry: e.slice.timeToExpiry, volatility: e.measures.atm }] : [],
  );
  const rateOf = (e: SurfaceExpiry) => -Math.log(e.forward.discountFactor) / e.slice.timeToExpiry;
  return {
    expiries,
    term,
    shape: term.length > 1 ? termShape(term) : undefined,
    atm30: termVolatility(term, THIRTY_DAYS),
    index30: varianceIndex(
      expiries.map((e) => ({ slice: e.slice, rate: rateOf(e) })),
      THIRTY_DAYS,
    ),
  };
}
