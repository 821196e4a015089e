import type { Side } from '../pricing/index.ts';
import { type CarryInput, fitSlice, type FittedSlice } from './fit-slice.ts';
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

const CALENDAR_POINTS = 60;
/** Relative, on total variance: crossings below this are rounding of the fit. */
const CALENDAR_TOLERANCE = 1e-9;
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
    const fitted = fitSlice(slice, { carry, forwardSource: o.forwardSource, restored: o.restored?.[i] });
    const previous = expiries.findLast((e) => e.smile !== undefined);
    expiries.push({
      ...fitted,
      measures: fitted.smile && smileMeasures(fitted.smile.smile),
      isArbitrageFree: (fitted.smile?.isButterflyFree ?? true) && isCalendarFree(previous, fitted),
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

/** Whether total variance does not fall from the nearer to the farther smile over the range both were fitted on. */
function isCalendarFree(near: FittedSlice | undefined, far: FittedSlice): boolean {
  if (!near?.smile || !far.smile) return true;
  const low = Math.max(near.smile.range[0], far.smile.range[0]);
  const high = Math.min(near.smile.range[1], far.smile.range[1]);
  for (let i = 0; i <= CALENDAR_POINTS; i++) {
    const k = low + ((high - low) * i) / CALENDAR_POINTS;
    if (far.smile.smile.totalVariance(k) < near.smile.smile.totalVariance(k) * (1 - CALENDAR_TOLERANCE)) return false;
  }
  return true;
}
