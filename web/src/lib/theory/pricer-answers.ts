import {
  type Accuracy,
  type EarlyExercise,
  earlyExercise,
  type Greeks,
  type Option,
  optionGreeks,
  optionImpliedVolatility,
  optionPrice,
  priceBounds,
  type PricingMethod,
  valuedOption,
} from '@umwelt/core/pricing';
import {
  explainGreekChange,
  explainMarketGap,
  explainPriceChange,
  GREEK_CAUSES,
  type GreekChange,
  type MarketGap,
  type MarketGapInput,
  optionLater,
  type PriceChange,
  type SolveResult,
  strikeForDelta,
  timeUntilPrice,
  underlyingForPrice,
  volatilityToCancelDecay,
} from '@umwelt/core/whatif';
import type { CurveAxis, CurveMeasure, PricerInputs } from '../api/pricer-inputs.ts';
import { scaledGreeks, volatilityPoint } from './greek-scales.ts';
import { optionOf, type OptionInputs } from './pricer-option.ts';

/*
 * What the Pricer asks its worker thread: pure functions from inputs to figures. A request that cannot be priced comes
 * back as words.
 */

export type Answer<T> = { ok: true; answer: T } | { ok: false; message: string };

/** Runs a computation; a number outside its range becomes its message. */
function answerOf<T>(work: () => T): Answer<T> {
  try {
    return { ok: true, answer: work() };
  } catch (error) {
    if (error instanceof RangeError) return { ok: false, message: error.message };
    throw error;
  }
}

export interface SideFigures {
  /** In the units of the screen, per unit of underlying */
  greeks: Greeks;
  early: EarlyExercise;
  method: PricingMethod;
  why: string;
}

/** Accuracy of what the Pricer's table shows. */
const LEVEL = 'default' satisfies Accuracy;

export interface PricerFigures {
  call: SideFigures;
  put: SideFigures;
  /** Level of accuracy; a closed form is exact at every level */
  level: Accuracy;
  /** From the pinned state to the present one, per unit of underlying */
  change?: PriceChange;
  /** The same of each Greek, in the units of the screen */
  greekChange?: GreekChange;
}

export interface FiguresRequest {
  inputs: PricerInputs;
  pinned?: PricerInputs;
}

/** Value, Greeks and early exercise of one option. @throws RangeError as core's `valuedOption` */
export function sideFigures(inputs: OptionInputs): SideFigures {
  const option = optionOf(inputs);
  const { greeks, method, why } = valuedOption(option, LEVEL);
  return { greeks: scaledGreeks(greeks, inputs.model), early: earlyExercise(option, LEVEL), method, why };
}

/** Value and Greeks of call and put, and the change since the pin. */
export function pricerFigures({ inputs, pinned }: FiguresRequest): Answer<PricerFigures> {
  return answerOf(() => {
    return {
      call: sideFigures({ ...inputs, side: 'call' }),
      put: sideFigures({ ...inputs, side: 'put' }),
      level: LEVEL,
      change: pinned && explainPriceChange(optionOf(pinned), optionOf(inputs)),
      greekChange: pinned && greekChange(pinned, inputs),
    };
  });
}

/** Change of each Greek by cause, as screens tell them. Between models a point is not the same: Greeks are told in the units of now. */
function greekChange(pinned: PricerInputs, inputs: PricerInputs): GreekChange {
  const { from, to, parts } = explainGreekChange(optionOf(pinned), optionOf(inputs), LEVEL);
  const names = Object.keys(from) as (keyof Greeks)[];
  const scaledParts = GREEK_CAUSES.map((cause) => {
    const plain = Object.fromEntries(names.map((name) => [name, parts[name][cause]])) as unknown as Greeks;
    return [cause, scaledGreeks(plain, inputs.model)] as const;
  });
  const scaled = names.map((name) => [name, Object.fromEntries(scaledParts.map(([cause, g]) => [cause, g[name]]))]);
  return {
    from: scaledGreeks(from, inputs.model),
    to: scaledGreeks(to, inputs.model),
    parts: Object.fromEntries(scaled) as GreekChange['parts'],
  };
}

export interface SolveRequest {
  inputs: PricerInputs;
  targetPrice: number;
  targetDelta: number;
  targetValue: number;
  decayDays: number;
}

/** What each search found, in the units of {@link PricerInputs}; the rise of volatility in points. */
export interface PricerSolutions {
  volatility: SolveAnswer;
  underlying: SolveAnswer;
  strike: SolveAnswer;
  days: SolveAnswer;
  rise: SolveAnswer;
}
/** What a search found; without a find why, and the bound that the target breaks, where it breaks one. */
export type SolveAnswer = { ok: true; value: number } | { ok: false; reason: string; bound?: number };

/** Each search by itself: for the target that is its own, with everything else as it is. */
const SEARCHES: Record<keyof PricerSolutions, (inputs: PricerInputs, target: number) => SolveAnswer> = {
  volatility: (inputs, value) => {
    const implied = optionImpliedVolatility(optionOf(inputs), value, 'default');
    if (implied.ok) return { ok: true, value: implied.volatility };
    const { lower, upper } = priceBounds(optionOf(inputs));
    const bound = { 'below-intrinsic': lower, 'above-bound': upper }[implied.reason as string];
    return { ok: false, reason: implied.reason, ...(bound === undefined ? {} : { bound }) };
  },
  underlying: (inputs, value) => underlyingForPrice(optionOf(inputs), value, 'default'),
  strike: (inputs, delta) => strikeForDelta(optionOf(inputs), delta, 'default'),
  days: (inputs, value) => inUnits(timeUntilPrice(optionOf(inputs), value, 'default'), 365),
  rise: (inputs, days) =>
    inUnits(volatilityToCancelDecay(optionOf(inputs), days / 365, 'default'), 1 / volatilityPoint(inputs.model)),
};
/** Which target each search is for. */
export const SEARCH_TARGETS = {
  volatility: 'targetPrice',
  underlying: 'targetPrice',
  strike: 'targetDelta',
  days: 'targetValue',
  rise: 'decayDays',
} as const satisfies Record<keyof PricerSolutions, keyof Omit<SolveRequest, 'inputs'>>;

function inUnits(result: SolveResult, unit: number): SolveAnswer {
  return result.ok ? { ok: true, value: result.value * unit } : result;
}

/** One search. @throws RangeError for inputs that cannot be priced */
export function pricerSolution(search: keyof PricerSolutions, inputs: PricerInputs, target: number): SolveAnswer {
  return SEARCHES[search](inputs, target);
}

export function pricerSolutions(request: SolveRequest): Answer<PricerSolutions> {
  const of = (search: keyof PricerSolutions) => pricerSolution(search, request.inputs, request[SEARCH_TARGETS[search]]);
  return answerOf(() => ({
    volatility: of('volatility'),
    underlying: of('underlying'),
    strike: of('strike'),
    days: of('days'),
    rise: of('rise'),
  }));
}

export interface CurveRequest {
  inputs: PricerInputs;
  pinned?: PricerInputs;
  axis: CurveAxis;
  measure: CurveMeasure;
  /** Values of the axis, ascending */
  x: number[];
}

/** One measure along one input, in the units of the screen; null where it cannot be priced. */
export interface PricerCurve {
  x: number[];
  y: (number | null)[];
  pinned?: (number | null)[];
}

export function pricerCurve({ inputs, pinned, axis, measure, x }: CurveRequest): Answer<PricerCurve> {
  const along = (base: PricerInputs) =>
    x.map((value) => {
      const point = answerOf(() => measureOf({ ...base, [axis]: value }, measure));
      return point.ok && Number.isFinite(point.answer) ? point.answer : null;
    });
  return { ok: true, answer: { x, y: along(inputs), pinned: pinned && along(pinned) } };
}

function measureOf(inputs: PricerInputs, measure: CurveMeasure): number {
  const option = optionOf(inputs);
  if (measure === 'price') return optionPrice(option, 'fast');
  return scaledGreeks(optionGreeks(option, 'fast'), inputs.model)[measure];
}

export interface DecayRequest {
  near: PricerInputs;
  far: PricerInputs;
}

/** Value against days from now, at the present volatility and one and two points (or percent) beside it. */
export interface DecayLine {
  days: number[];
  /** By volatility shift: -2, -1, 0, 1, 2 */
  values: number[][];
}
export interface PricerDecay {
  near: DecayLine;
  far: DecayLine;
}

export const DECAY_SHIFTS = [-2, -1, 0, 1, 2] as const;
const DECAY_POINTS = 60;

export function pricerDecay({ near, far }: DecayRequest): Answer<PricerDecay> {
  return answerOf(() => ({ near: decayLine(near), far: decayLine(far) }));
}

/** The width of a band: a volatility point; in the normal model one percent of the strike or underlying. */
export function decayShift(inputs: PricerInputs): number {
  if (inputs.model !== 'normal') return volatilityPoint(inputs.model);
  return 0.01 * Math.max(Math.abs(inputs.underlying), Math.abs(inputs.strike));
}

function decayLine(inputs: PricerInputs): DecayLine {
  const option = optionOf(inputs);
  // Points crowd toward expiry, where the line is steepest.
  const days = Array.from({ length: DECAY_POINTS + 1 }, (_, i) => inputs.days * (1 - (1 - i / DECAY_POINTS) ** 2));
  const values = DECAY_SHIFTS.map((shift) => {
    const volatility = Math.max(0, inputs.volatility + shift * decayShift(inputs));
    return days.map((gone) => optionPrice(later(option, gone, volatility), 'fast'));
  });
  return { days, values };
}

function later(option: Option, days: number, volatility: number): Option {
  return { ...optionLater(option, days / 365), volatility };
}

export function pricerGap(request: MarketGapInput): Answer<MarketGap> {
  return answerOf(() => explainMarketGap(request));
}
