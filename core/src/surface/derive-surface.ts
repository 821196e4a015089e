import type { Side } from '../pricing/index.ts';
import { calendarArbitrage, commonRange } from './arbitrage.ts';
import { type CarryExpiry, carryExpiry } from './carry-expiry.ts';
import { type CarryEstimate, estimateCarry, type ExpiryEstimate } from './estimate-carry.ts';
import { type DatedEvent, type EventVariances, eventVariances } from './event-variance.ts';
import { fitSlice, type FittedSlice } from './fit-slice.ts';
import { fitSmile, type SliceSmile } from './fit-smile.ts';
import { judgeSlice } from './judge-quotes.ts';
import type { KnownPremium } from './free-quotes.ts';
import { premiumsOfKnownCarry } from './known-carry.ts';
import { outlierExpiries } from './outlier-expiries.ts';
import { applyRestored } from './quote-restored.ts';
import type { CarryInput } from './slice-forward.ts';
import { requireSlice, type Slice } from './slice.ts';
import { levelMeasures, type SmileMeasures, smileMeasures } from './smile-measures.ts';
import { smilePoints } from './telling-points.ts';
import { type FactorBesideCurve, ratePrior } from './rate-prior.ts';
import { smileVolatility } from './smile.ts';
import { completedIndex } from './smile-variance.ts';
import { type TermPoint, type TermShape, termShape } from './term-structure.ts';
import { varianceIndex } from './variance-index.ts';
import { VolatilitySurface } from './volatility-surface.ts';
import { zeroRate } from './zero-rate.ts';

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
  /** Rate, yield and dividends are taken as they are given, whatever American quotes say; default false */
  isCarryGiven?: boolean;
  /** Quotes put back by hand, one list per slice */
  restored?: { side: Side; strike: number }[][];
  /** Scheduled events, ascending in time */
  events?: readonly DatedEvent[];
}

export interface SurfaceExpiry extends FittedSlice {
  /** Undefined without a smile */
  measures?: SmileMeasures;
  /** No butterfly arbitrage, and total variance nowhere below the previous expiry's over the common range */
  isArbitrageFree: boolean;
  /** Out of line with the other expiries, and what they imply at the money instead: kept out of term and surface */
  outlier?: { expected: number };
}

export interface Surface {
  expiries: SurfaceExpiry[];
  /** What American quotes on a spot imply of rate, borrow and dividends together, where what is known does not serve */
  carry?: CarryEstimate;
  /** At-the-money volatility by expiry, those with a smile and in line */
  term: TermPoint[];
  shape: TermShape | undefined;
  /** Of the expiries in `term` */
  events: EventVariances | undefined;
  /** Volatility at any strike and date, of the expiries in `term`; undefined without any */
  volatility: VolatilitySurface | undefined;
  /** At-the-money volatility at 30 days, NaN without a smile */
  atm30: number;
  /** Model-free 30-day volatility of the quoted strikes, decimal, null when the expiries do not bracket 30 days */
  index30: number | null;
  /** Model-free 30-day volatility of the whole fitted smiles; null, too, where too much of it lies beyond the quotes */
  index30Completed: number | null;
}

const THIRTY_DAYS = 30 / 365;

/**
 * Everything derived from the quotes of one underlying at one instant: judged, implied and fitted expiries, their
 * measures, and the term structure over them. Smiles are fitted expiry by expiry, none below the one before it; an
 * expiry out of line with the others bounds none of them.
 * @throws RangeError for a malformed slice
 */
export function deriveSurface(o: SurfaceInput): Surface {
  const chain = chainCarry(o);
  const fitted = fittedSlices(o, chain);
  const outliers = outliersOf(fitted);
  const expiries: SurfaceExpiry[] = [];
  let near: SliceSmile | undefined;
  for (const [i, slice] of fitted.entries()) {
    const outlier = outliers.get(i);
    const smile = outlier ? slice.smile : notBelow(slice, near);
    expiries.push({
      ...slice,
      smile,
      measures: smile && measuresOf(smile),
      isArbitrageFree: !outlier && (smile?.isButterflyFree ?? true) && !crosses(near, smile),
      outlier,
    });
    if (smile && !outlier) near = smile;
  }
  const inLine = expiries.filter((e) => !e.outlier);
  const term = inLine.flatMap((e) =>
    e.measures ? [{ timeToExpiry: e.slice.timeToExpiry, volatility: e.measures.atm }] : [],
  );
  const rateOf = (e: SurfaceExpiry) => zeroRate(e.forward.discountFactor, e.slice.timeToExpiry);
  const events = o.events && term.length > 1 ? eventVariances(term, o.events) : undefined;
  const volatility = volatilityOf(inLine, o, events);
  const levelAt = (time: number) => (volatility ? smileVolatility(volatility.smileAt(time), 0) : NaN);
  return {
    expiries,
    carry: chain.estimate,
    term,
    shape: term.length > 1 ? termShape(term, levelAt) : undefined,
    events,
    volatility,
    atm30: levelAt(THIRTY_DAYS),
    index30: varianceIndex(
      inLine.map((e) => ({ slice: e.slice, rate: rateOf(e), verdicts: e.verdicts })),
      THIRTY_DAYS,
    ),
    index30Completed: completedIndex(
      inLine.flatMap((e) => (e.smile && e.smile.description.model !== 'flat' ? [e.smile] : [])),
      THIRTY_DAYS,
    ),
  };
}

/** What is to be said of the carry of American options on a spot before their expiries are looked at one by one. */
interface ChainCarry {
  /** Where what is known does not serve */
  estimate?: CarryEstimate;
  /** By the place of each expiry in the list: its part of the estimate, or its premiums where what is known serves */
  joint: (ExpiryEstimate | undefined)[];
  known: (KnownPremium | undefined)[];
}

function carryOf(o: SurfaceInput, i: number): CarryInput {
  return { spot: o.spot, rate: o.rates?.[i], dividendYield: o.dividendYield, ...o.carries?.[i] };
}

/** Carry of American options on a spot: what is known where it serves, else inferred from all expiries. */
function chainCarry(o: SurfaceInput): ChainCarry {
  const chain: ChainCarry = { joint: [], known: [] };
  if (o.forwardSource === 'carry') return chain;
  const places: number[] = [];
  const expiries: CarryExpiry[] = [];
  for (const [i, slice] of o.slices.entries()) {
    const carry = carryOf(o, i);
    if (carry.exercise !== 'american' || carry.isFuture) continue;
    requireSlice(slice);
    const verdicts = judgeSlice(slice);
    applyRestored(slice, verdicts, o.restored?.[i]);
    places.push(i);
    expiries.push(carryExpiry(slice, verdicts, carry));
  }
  if (expiries.length === 0) return chain;
  const known = premiumsOfKnownCarry(expiries);
  if (known) known.forEach((premium, n) => (chain.known[places[n]] = premium));
  else if (!o.isCarryGiven) {
    chain.estimate = estimateCarry(expiries);
    chain.estimate?.expiries.forEach((e, n) => (chain.joint[places[n]] = e));
  }
  return chain;
}

/**
 * Each expiry by itself but for its rate, which the farther ones tell as well: the longer the time, the less a width in prices
 * is in rate, so the far ones go first. Where carry is inferred from all, on that.
 */
function fittedSlices(o: SurfaceInput, chain: ChainCarry): FittedSlice[] {
  const fitted: FittedSlice[] = [];
  const farther: FactorBesideCurve[] = [];
  for (let i = o.slices.length - 1; i >= 0; i--) {
    const slice = o.slices[i];
    const carry = carryOf(o, i);
    carry.ratePrior ??= ratePrior(carry.rate, farther);
    const options = { carry, forwardSource: o.forwardSource, restored: o.restored?.[i] };
    const joint = chain.joint[i];
    if (joint?.own) fitted[i] = fitSlice(slice, { ...options, joint: { ...joint, own: joint.own } });
    // Its own pairs tell nothing: what the others tell is what is known of it.
    else fitted[i] = fitSlice(slice, { ...options, known: chain.known[i], carry: { ...carry, ...joint?.carry } });
    const alone = fitted[i].forward.parityAlone;
    if (alone) farther.push({ timeToExpiry: slice.timeToExpiry, rate: carry.rate, alone });
  }
  return fitted;
}

/** A level has no skew: its figures are not known, not 0. */
function measuresOf({ description, smile }: SliceSmile): SmileMeasures {
  return description.model === 'flat' ? levelMeasures(smileVolatility(smile, 0)) : smileMeasures(smile);
}

/** The surface between the expiries that are in line; an event that could as well be none makes no step in it. */
function volatilityOf(
  inLine: SurfaceExpiry[],
  o: SurfaceInput,
  estimated: EventVariances | undefined,
): VolatilitySurface | undefined {
  const smiles = inLine.flatMap((e) =>
    e.smile
      ? [{ smile: e.smile.smile, forward: e.forward.forward, isLevel: e.smile.description.model === 'flat' }]
      : [],
  );
  if (smiles.length === 0) return undefined;
  const events = (estimated?.events ?? []).flatMap((e) =>
    e.ok && e.interval[0] > 0
      ? [{ time: (o.events as readonly DatedEvent[])[e.index].time, variance: e.variance }]
      : [],
  );
  return new VolatilitySurface(smiles, { spot: o.spot, events });
}

/** Outliers among the fitted expiries by their place in the list. */
function outliersOf(fitted: FittedSlice[]): Map<number, { expected: number }> {
  const places = fitted.flatMap((f, i) => (f.smile ? [i] : []));
  const points = places.map((i) => {
    const { smile } = fitted[i].smile as SliceSmile;
    const { timeToExpiry } = fitted[i].slice;
    return { timeToExpiry, volatility: Math.sqrt(Math.max(0, smile.totalVariance(0)) / timeToExpiry) };
  });
  return new Map(outlierExpiries(points).map(({ index, expected }) => [places[index], { expected }]));
}

/** The smile of an expiry, fitted anew where it would lie below the one before it. */
function notBelow(slice: FittedSlice, near: SliceSmile | undefined): SliceSmile | undefined {
  if (!crosses(near, slice.smile)) return slice.smile;
  return fitSmile(smilePoints(slice), slice.slice.timeToExpiry, { near });
}

/** Whether total variance falls from the nearer to the farther smile over the range both were fitted on. */
function crosses(near: SliceSmile | undefined, far: SliceSmile | undefined): boolean {
  if (!near || !far) return false;
  const common = commonRange(near.range, far.range);
  return common !== undefined && calendarArbitrage(near.smile, far.smile, common).length > 0;
}
