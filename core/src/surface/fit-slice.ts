import { median } from '../math/index.ts';
import { europeanSliceGreeksInto, firstGreeksColumns, type Side } from '../pricing/index.ts';
import { fitSviRaw, type SviRawFitInput, type SviRawFitResult } from './fit-svi-raw.ts';
import { impliedForward } from './implied-forward.ts';
import { type QuoteReason, judgeSlice, sideQuotes, type Verdicts } from './judge-quotes.ts';
import { type QuoteVolatilities, quoteVolatilities } from './quote-volatilities.ts';
import { type Slice, requireSlice } from './slice.ts';
import { durrleman, type Smile, smileVolatility } from './smile.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

export interface CarryInput {
  /** Price of the underlying, > 0 */
  spot: number;
  /** Per year, continuously compounded; undefined when no curve is known */
  rate?: number;
  /** Per year; default 0 */
  dividendYield?: number;
  /** Value today of the cash dividends paid before expiry; default 0 */
  dividendValue?: number;
  /** The options are on a futures price: `spot` is it, and so is the forward */
  isFuture?: boolean;
}

export interface SliceForward {
  forward: number;
  discountFactor: number;
  /** `parity`: implied by the options; `carry`: spot, rate and yield */
  source: 'parity' | 'carry';
  /** Why parity does not serve, when it does not */
  reason?: 'too-few-pairs' | 'not-a-line' | 'chosen';
  strikesUsed: number[];
  strikesLeftOut: number[];
  /** Standard deviation of the fitted forward, in price; NaN for carry */
  forwardError: number;
  discountFactorSource: 'parity' | 'given';
  /** Forward of spot and rate, for comparison; NaN without a rate */
  carryForward: number;
}

export interface SliceSmile {
  model: 'svi-raw' | 'flat';
  parameters: SviRawParameters | { volatility: number };
  smile: Smile;
  /** Root mean squared difference of fitted to mid volatility over the fitted quotes, unweighted */
  rmse: number;
  /** Share of fitted quotes whose fitted volatility lies between bid and ask volatility */
  insideMarket: number;
  /** Log-moneyness range of the fitted quotes */
  range: [number, number];
  isButterflyFree: boolean;
}

/** One expiry, judged, on its own forward, in volatility, fitted. */
export interface FittedSlice {
  slice: Slice;
  forward: SliceForward;
  verdicts: Verdicts;
  call: QuoteVolatilities;
  put: QuoteVolatilities;
  /** Which side of each strike is out of the money (calls at or above the forward) */
  outOfTheMoney: Side[];
  /** Undefined when too few quotes are left for any fit */
  smile?: SliceSmile;
}

export interface FitSliceOptions {
  carry: CarryInput;
  /** Discount factor to use instead of fitting it */
  discountFactor?: number;
  forwardSource?: 'parity' | 'carry';
  /** Quotes put back by hand: their verdict is ignored */
  restored?: { side: Side; strike: number }[];
}

/** A mid is stale when it misses its neighbours' smile by this many of its own half widths ... */
const STALE_HALF_WIDTHS = 3;
/** ... and by this many robust deviations of all quotes from that smile, in volatility. */
const STALE_DEVIATIONS = 8;
/** Points that a smile to judge by must rest on before doubtful ones are set aside. */
const LEAST_TRUSTED = 7;
/** Another round of falling weights changes nothing that matters when the scale moves by less than this share. */
const SETTLED_SCALE = 0.02;
/** The smile against which quotes are judged need not be exact: a part in a thousand of the squared error. */
const DETECTION_GAIN = 1e-3;
/** A market is taken to be no narrower than this in volatility, so that a locked quote does not rule the fit. */
const LEAST_HALF_WIDTH = 0.0005;
/** Grid on which Durrleman's function is looked at, over the fitted range. */
const BUTTERFLY_POINTS = 60;
/** g is a difference of terms near 1: rounding, not arbitrage, below this. */
const BUTTERFLY_TOLERANCE = 1e-9;

/**
 * Takes one expiry from quotes to a smile: judges each quote by itself, implies forward and discount factor by parity,
 * turns quotes into volatilities, finds stale ones by the smile of their neighbours, and fits raw SVI to the
 * out-of-the-money mids weighted with their market width.
 * @throws RangeError for a malformed slice
 */
export function fitSlice(slice: Slice, o: FitSliceOptions): FittedSlice {
  requireSlice(slice);
  const verdicts = judgeSlice(slice);
  applyRestored(slice, verdicts, o.restored);
  let state = imply(slice, verdicts, o);
  let isBent = false;
  // One stale quote can bend the first fit: take out the worst, look again with what is left.
  for (let round = 0; round < 2 * slice.strikes.length; round++) {
    const worst = worstStale(state, o.restored);
    if (!worst) break;
    verdicts[worst.side][worst.index] = 'stale';
    isBent = true;
    state = round === 0 || worst.isOnForward ? imply(slice, verdicts, o) : { ...state, verdicts };
  }
  // What was taken out since the last look changes the forward, and with it every volatility.
  if (isBent) state = imply(slice, verdicts, o);
  return { ...state, smile: fitSmile(state) };
}

type Implied = Omit<FittedSlice, 'smile'>;

function applyRestored(slice: Slice, verdicts: Verdicts, restored: FitSliceOptions['restored']): void {
  for (const { side, strike } of restored ?? []) {
    const i = slice.strikes.indexOf(strike);
    // A quote without two prices cannot be put back: there is nothing to fit.
    if (i >= 0 && verdicts[side][i] !== 'no-ask' && sideQuotes(slice, side).bid[i] >= 0) verdicts[side][i] = undefined;
  }
}

function imply(slice: Slice, verdicts: Verdicts, o: FitSliceOptions): Implied {
  const forward = sliceForward(slice, verdicts, o);
  const outOfTheMoney = Array.from(slice.strikes, (k): Side => (k >= forward.forward ? 'call' : 'put'));
  markBelowIntrinsic(slice, verdicts, forward, o.restored);
  return {
    slice,
    forward,
    verdicts,
    call: quoteVolatilities(slice, 'call', forward),
    put: quoteVolatilities(slice, 'put', forward),
    outOfTheMoney,
  };
}

function sliceForward(slice: Slice, verdicts: Verdicts, o: FitSliceOptions): SliceForward {
  const { spot, rate, dividendYield = 0, dividendValue = 0, isFuture = false } = o.carry;
  const time = slice.timeToExpiry;
  const carried = rate === undefined ? NaN : (spot - dividendValue) * Math.exp((rate - dividendYield) * time);
  const carryForward = isFuture ? spot : carried;
  const carry = (reason: SliceForward['reason']): SliceForward => ({
    forward: Number.isNaN(carryForward) ? spot : carryForward,
    discountFactor: o.discountFactor ?? (rate === undefined ? 1 : Math.exp(-rate * time)),
    source: 'carry',
    reason,
    strikesUsed: [],
    strikesLeftOut: [],
    forwardError: NaN,
    discountFactorSource: 'given',
    carryForward,
  });
  if (o.forwardSource === 'carry') return carry('chosen');
  const implied = impliedForward(slice, verdicts, { discountFactor: o.discountFactor });
  if (!implied.ok) {
    const given = rate === undefined ? undefined : Math.exp(-rate * time);
    const withGiven = given === undefined ? implied : impliedForward(slice, verdicts, { discountFactor: given });
    return withGiven.ok ? { ...withGiven, source: 'parity', carryForward } : carry(implied.reason);
  }
  return { ...implied, source: 'parity', carryForward };
}

function markBelowIntrinsic(
  slice: Slice,
  verdicts: Verdicts,
  f: SliceForward,
  restored: FitSliceOptions['restored'],
): void {
  for (const side of ['call', 'put'] as const) {
    const { bid, ask } = sideQuotes(slice, side);
    slice.strikes.forEach((strike, i) => {
      if (verdicts[side][i] !== undefined && verdicts[side][i] !== 'below-intrinsic') return;
      if (restored?.some((r) => r.side === side && r.strike === strike)) return;
      const intrinsic = f.discountFactor * Math.max(0, side === 'call' ? f.forward - strike : strike - f.forward);
      verdicts[side][i] = 0.5 * (bid[i] + ask[i]) <= intrinsic ? 'below-intrinsic' : undefined;
    });
  }
}

/** Points of the fit: the out-of-the-money quote of each strike that has no verdict. */
function fitPoints(state: Implied): { index: number; k: number; volatility: number; halfWidth: number }[] {
  const points = [];
  for (let i = 0; i < state.slice.strikes.length; i++) {
    const side = state.outOfTheMoney[i];
    const volatilities = state[side];
    if (state.verdicts[side][i] !== undefined || !(volatilities.mid[i] > 0)) continue;
    const low = volatilities.bid[i] > 0 ? volatilities.bid[i] : 0;
    points.push({
      index: i,
      k: Math.log(state.slice.strikes[i] / state.forward.forward),
      volatility: volatilities.mid[i],
      halfWidth: Math.max(LEAST_HALF_WIDTH, 0.5 * (volatilities.ask[i] - low)),
    });
  }
  return points;
}

function fitWeighted(
  points: ReturnType<typeof fitPoints>,
  weight: (i: number) => number,
  time: number,
  o: Pick<SviRawFitInput, 'start' | 'smallGain'> = {},
): SviRawFitResult {
  return fitSviRaw({
    ...o,
    logMoneyness: Float64Array.from(points, (p) => p.k),
    volatility: Float64Array.from(points, (p) => p.volatility),
    weight: Float64Array.from(points, (_, i) => weight(i)),
    timeToExpiry: time,
  });
}

/** A fit that a few wrong points do not bend: weights fall with the residual (Cauchy), three rounds. */
function robustSmile(points: ReturnType<typeof fitPoints>, time: number): { smile: Smile; scale: number } | undefined {
  let weights = points.map((p) => 1 / p.halfWidth ** 2);
  let outcome: { smile: Smile; scale: number } | undefined;
  let start: SviRawParameters | undefined;
  for (let round = 0; round < 4; round++) {
    const fit = fitWeighted(points, (i) => weights[i], time, { start, smallGain: DETECTION_GAIN });
    if (!fit.ok) return outcome;
    start = fit.parameters;
    const smile = sviRawSmile(fit.parameters, time);
    const residuals = points.map((p) => Math.abs(p.volatility - smileVolatility(smile, p.k)));
    const scale = median(residuals) / 0.6745;
    const isSettled = outcome !== undefined && Math.abs(scale - outcome.scale) <= SETTLED_SCALE * outcome.scale;
    outcome = { smile, scale };
    if (isSettled) break;
    const soft = Math.max(2 * scale, 1e-6);
    weights = points.map((p, i) => 1 / (p.halfWidth ** 2 * (1 + (residuals[i] / soft) ** 2)));
  }
  return outcome;
}

/**
 * The quote, of either side, that misses the smile of all others by most, if it misses by more than the limits allow.
 * In-the-money quotes are looked at through their time value on the same forward.
 */
function worstStale(state: Implied, restored: FitSliceOptions['restored']) {
  const { slice, forward } = state;
  // Where call and put contradict each other one of them is wrong: neither may shape the smile that both are judged by.
  const doubtful = new Set(forward.strikesLeftOut);
  const points = fitPoints(state);
  const trusted = points.filter((p) => !doubtful.has(slice.strikes[p.index]));
  const robust = robustSmile(trusted.length >= LEAST_TRUSTED ? trusted : points, slice.timeToExpiry);
  if (!robust) return undefined;
  const theory = theoryOf(slice, forward, robust.smile);
  let worst: { side: Side; index: number; excess: number; isOnForward: boolean } | undefined;
  for (const side of ['call', 'put'] as const) {
    const { bid, ask } = sideQuotes(slice, side);
    for (let i = 0; i < slice.strikes.length; i++) {
      const verdict: QuoteReason | undefined = state.verdicts[side][i];
      // In the money, a stale quote shows most often as one below its intrinsic value.
      if (verdict !== undefined && verdict !== 'below-intrinsic') continue;
      const strike = slice.strikes[i];
      if (restored?.some((r) => r.side === side && r.strike === strike)) continue;
      const { price, vega } = theory[side];
      const miss = Math.abs(0.5 * (bid[i] + ask[i]) - price[i]);
      const halfWidth = 0.5 * (ask[i] - bid[i]);
      const limit = STALE_HALF_WIDTHS * halfWidth + STALE_DEVIATIONS * robust.scale * vega[i];
      const excess = miss / Math.max(limit, 1e-12 * strike);
      if (excess > 1 && excess > (worst?.excess ?? 0)) {
        worst = { side, index: i, excess, isOnForward: forward.strikesUsed.includes(strike) };
      }
    }
  }
  return worst;
}

/** Prices and vegas of every strike on a smile, both sides; NaN where the smile has no volatility. */
function theoryOf(slice: Slice, forward: SliceForward, smile: Smile) {
  const { strikes, timeToExpiry } = slice;
  const theory = { call: firstGreeksColumns(strikes.length), put: firstGreeksColumns(strikes.length) };
  const rate = -Math.log(forward.discountFactor) / timeToExpiry;
  europeanSliceGreeksInto(theory.call, theory.put, {
    // A forward is a spot whose yield is the rate.
    spot: forward.forward,
    timeToExpiry,
    rate,
    dividendYield: rate,
    strike: strikes,
    volatility: strikes.map((strike) => smileVolatility(smile, Math.log(strike / forward.forward)) || NaN),
  });
  return theory;
}

function fitSmile(state: Implied): SliceSmile | undefined {
  const points = fitPoints(state);
  const time = state.slice.timeToExpiry;
  const fit = fitWeighted(points, (i) => 1 / points[i].halfWidth ** 2, time);
  let smile: Smile;
  let shape: Pick<SliceSmile, 'model' | 'parameters'>;
  if (fit.ok) {
    smile = sviRawSmile(fit.parameters, time);
    shape = { model: 'svi-raw', parameters: fit.parameters };
  } else {
    if (points.length === 0) return undefined;
    // Under five quotes no shape can be told: one level, the weighted mean.
    let sum = 0;
    let total = 0;
    for (const p of points) {
      sum += p.volatility / p.halfWidth ** 2;
      total += 1 / p.halfWidth ** 2;
    }
    const volatility = sum / total;
    smile = { timeToExpiry: time, totalVariance: () => volatility ** 2 * time, slope: () => 0, curvature: () => 0 };
    shape = { model: 'flat', parameters: { volatility } };
  }
  let squares = 0;
  let inside = 0;
  for (const p of points) {
    const fitted = smileVolatility(smile, p.k);
    squares += (fitted - p.volatility) ** 2;
    const volatilities = state[state.outOfTheMoney[p.index]];
    if (fitted >= volatilities.bid[p.index] && fitted <= volatilities.ask[p.index]) inside++;
  }
  const range: [number, number] = [points[0].k, points[points.length - 1].k];
  return {
    ...shape,
    smile,
    rmse: Math.sqrt(squares / points.length),
    insideMarket: inside / points.length,
    range,
    isButterflyFree: isButterflyFree(smile, range),
  };
}

function isButterflyFree(smile: Smile, range: [number, number]): boolean {
  for (let i = 0; i <= BUTTERFLY_POINTS; i++) {
    const k = range[0] + ((range[1] - range[0]) * i) / BUTTERFLY_POINTS;
    if (!(smile.totalVariance(k) > 0) || durrleman(smile, k) < -BUTTERFLY_TOLERANCE) return false;
  }
  return true;
}
