import { incomeBy, payoffAtExpiry, payoffMaximum, payoffMinimum, type SurfaceStructure } from '@umwelt/core/structure';
import type { Unit, WorkingsInput } from '../../measures/index.ts';
import { dateText } from '../../ui/format.ts';
import { legGreek, type SceneLeg, type SceneSums, type StructureScene } from './structure-scene.ts';

/** What figures of a structure are taken of. */
export interface FiguredStructure {
  symbol: string;
  asOf: string;
  scene: StructureScene;
  sums: SceneSums;
  /** At the first expiry */
  front: SurfaceStructure | undefined;
  multiplier: number;
  /** Price that is looked at */
  at: number;
  /** Risk reversal at 25 delta and 30 days, decimal; null where it is unknown */
  riskReversal: number | null;
}

export const input = (
  symbol: string,
  label: string,
  value: number | null,
  unit: Unit,
  source: string,
): WorkingsInput => ({
  ...{ symbol, label, value, unit, source },
});
export const multiplierInput = (s: FiguredStructure) =>
  input('M', 'units of the underlying that figures are of', s.multiplier, 'factor', 'of the contract, as chosen');
export const heldInput = (s: FiguredStructure) => [
  input('h', "underlying held, in contracts' worth", s.scene.held, 'count', 'typed'),
  input('S', 'price of the underlying', s.scene.underlyingPrice, 'price', 'of the picture'),
];
/** What the underlying brings by the first expiry, currency of the position; null without either. */
export function incomeByFront({ scene: { heldLeg, front }, multiplier }: FiguredStructure): number | null {
  return heldLeg && front ? heldLeg.quantity * incomeBy(heldLeg, front.years) * multiplier : null;
}

/** Each dividend that goes ex by the first expiry, and what it costs to borrow where the underlying is owed. */
export function incomeInputs({ scene: { heldLeg, front }, asOf }: FiguredStructure): WorkingsInput[] {
  if (!heldLeg?.income || !front) return [];
  const { dividends, borrow } = heldLeg.income;
  const source = 'as theory takes it: known, or implied by the quotes';
  const paid = dividends.filter((d) => d.time <= front.years);
  return [
    ...paid.map(({ time, amount }, i) => {
      const day = new Date(Date.parse(asOf) + time * MS_PER_YEAR).toISOString().slice(0, 10);
      return input(`A${i + 1}`, `dividend of ${dateText(day, asOf)}`, amount, 'premium', source);
    }),
    ...(heldLeg.quantity < 0 && borrow > 0
      ? [
          input('b', 'cost to borrow one for a year', borrow, 'premium', source),
          input('T', 'years to the first expiry', front.years, 'years', 'instant to expiry'),
        ]
      : []),
  ];
}

const MS_PER_YEAR = 365 * 86_400_000;

export const money = (value: number | undefined, multiplier: number) =>
  value === undefined ? null : value * multiplier;

/** What stands at the side of the market that a leg trades at. */
export const crossingPrice = ({ leg, bid, ask }: SceneLeg) => (leg.ratio > 0 ? ask : bid);
export const mid = ({ bid, ask }: SceneLeg) => (bid === null || ask === null ? null : 0.5 * (bid + ask));

/** Sum over the legs and the underlying, currency of the position; null where a leg has none. */
export function positionSum(s: FiguredStructure, of: (leg: SceneLeg) => number | null): number | null {
  let total = s.scene.held * s.scene.underlyingPrice;
  for (const leg of s.scene.legs) {
    const part = of(leg);
    if (part === null) return null;
    total += leg.leg.ratio * part;
  }
  return total * s.multiplier;
}

/** Vega of all legs as if each moved the way that it is held, currency a point. */
export function grossVega({ scene, multiplier }: FiguredStructure): number | null {
  let total = 0;
  for (const leg of scene.legs) {
    const vega = legGreek(leg, 'vega');
    if (vega === undefined) return null;
    total += Math.abs(leg.leg.ratio) * vega;
  }
  return total > 0 ? total * multiplier : null;
}

/**
 * What its wing is worth, currency of the position: what the legs may differ by at expiry between their best and their worst. Of a
 * vertical what its strikes lie apart, of a butterfly or a condor its wider wing; null where that has no end, or the underlying is
 * held, or legs outlive the first expiry.
 */
export function structureWidth({ scene, multiplier }: FiguredStructure): number | null {
  const { valued, front, held } = scene;
  if (!valued || !front || held !== 0) return null;
  if (valued.some((leg) => leg.kind === 'underlying' || (leg.kind === 'option' && leg.years !== front.years)))
    return null;
  const payoff = payoffAtExpiry(valued);
  const [most, least] = [payoffMaximum(payoff), payoffMinimum(payoff)];
  if (!most || !least || most.profit - least.profit <= payoff.rounding) return null;
  return (most.profit - least.profit) * multiplier;
}

export const over = (a: number | null, b: number | null) => (a === null || b === null || b === 0 ? null : a / b);
export const gap = ({ sums }: FiguredStructure) =>
  sums.cost === null || sums.value === null ? null : sums.value - sums.cost;

export const costInput = (s: FiguredStructure) =>
  input('C', 'cost', s.sums.cost, 'money', 'legs at what they are taken at');
/** As one input of the figures that hold it. */
export function incomeInput(s: FiguredStructure): WorkingsInput[] {
  const income = incomeByFront(s);
  return income === null || income === 0
    ? []
    : [input('A', 'dividends of the underlying by then', income, 'money', 'of the underlying held')];
}
export const mostInputs = (s: FiguredStructure) => [
  input('', 'most', money(s.front?.maxProfit, s.multiplier), 'money', 'profit at the first expiry'),
  input('', 'most lost', money(s.front?.maxLoss, s.multiplier), 'money', 'profit at the first expiry'),
];
/** Whether the first expiry comes within a day: then a day's theta is more time than there is. */
export const isLastSession = ({ scene: { front } }: FiguredStructure) => front !== undefined && front.days < 1;

/** What the time until the first expiry takes or brings at the price of now. */
export function untilClose(s: FiguredStructure): number | null {
  const better = gap(s);
  if (!s.front || better === null) return null;
  return s.front.profit(s.scene.underlyingPrice) * s.multiplier - better;
}

export const expected = ({ front, multiplier }: FiguredStructure) => money(front?.expectedProfit, multiplier);

/** What lies between theory over cost, in money of now, and the expected profit, in money of the first expiry: they add up. */
export function expectedParts(s: FiguredStructure): WorkingsInput[] {
  const { scene, multiplier } = s;
  const { front, legs, held, underlyingPrice } = scene;
  const [whole, better] = [expected(s), gap(s)];
  if (!front || whole === null || better === null) return [];
  let european = 0;
  let isEuropean = true;
  for (const { leg, value, settled } of legs) {
    // What has ended earns nothing any more, or is the underlying: its carry is in what is left.
    if (settled?.leg.kind === 'cash') continue;
    european += leg.ratio * ((value?.price ?? 0) - (value?.earlyExercise ?? 0));
    isEuropean &&= value?.earlyExercise === 0;
  }
  const interest = european * (1 / front.discountFactor - 1) * multiplier;
  const carry = held * (front.forward - underlyingPrice) * multiplier + (incomeByFront(s) ?? 0);
  const rest = whole - better - interest - carry;
  const by = `to ${dateText(front.date, s.asOf)}`;
  return [
    input('', 'theory over cost, of now', better, 'money', 'sum of the legs'),
    input('', `interest ${by} on the options without early exercise`, interest, 'money', 'V (1 / D − 1)'),
    ...(held === 0
      ? []
      : [input('', `carry ${by} of the underlying, its dividends with it`, carry, 'money', 'h (F − S) + A')]),
    ...(isEuropean
      ? []
      : [input('', 'early exercise, worth then less now', rest, 'money', 'what is left of the expected profit')]),
  ];
}
