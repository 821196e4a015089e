import type { Unit, WorkingsInput } from '../../measures/index.ts';
import { dateText } from '../../ui/format.ts';
import {
  costInput,
  crossingPrice,
  expected,
  expectedParts,
  type FiguredStructure,
  gap,
  grossVega,
  heldInput,
  incomeByFront,
  incomeInput,
  incomeInputs,
  input,
  isLastSession,
  mid,
  money,
  mostInputs,
  multiplierInput,
  over,
  positionSum,
  structureWidth,
  untilClose,
} from './figured-structure.ts';
import type { ShownMeasure } from './structure-measure.ts';
import { legGreek, legWorth, type SceneLeg } from './structure-scene.ts';

export interface StructureFigure {
  id: string;
  label: string | ((s: FiguredStructure) => string);
  /** Of a column of structures side by side; its id where there is none */
  labelBeside?: string;
  unit: Unit;
  /** Greeks of a position are written as the charts write them */
  measure?: ShownMeasure;
  definition: string;
  absence: string;
  /** Left out where it says no; shown always without it */
  isShown?: (s: FiguredStructure) => boolean;
  formula: string;
  source: string;
  value: (s: FiguredStructure) => number | null;
  inputs: (s: FiguredStructure) => WorkingsInput[];
  /** What each leg brings, beside how many there are */
  legs?: { symbol: string; label: string; unit: Unit; of: (leg: SceneLeg) => number | null }[];
}

const PRACTICE = 'Common practice, no source';
const OWN = 'Our own definition';
const BREEDEN =
  'Breeden, D. T. & Litzenberger, R. H. (1978). Prices of state-contingent claims implicit in option prices. Journal of Business 51(4), 621-651';
const taken = { symbol: 'p', label: 'taken at', unit: 'quote', of: (l: SceneLeg) => l.price } as const;
const theory = { symbol: 'v', label: 'theory', unit: 'premium', of: (l: SceneLeg) => legWorth(l) ?? null } as const;
const greek = (id: ShownMeasure & ('delta' | 'gamma' | 'theta' | 'vega'), label: string): StructureFigure => ({
  ...{ id, label, measure: id, unit: 'greek' },
  definition: `Sum over the legs, times the units that figures are of: ${label} of the whole, now.`,
  absence: 'while a leg has no theory',
  formula: id === 'delta' ? 'M (Σ q d + h)' : `M Σ q d`,
  source: PRACTICE,
  value: ({ sums }) => sums[id],
  inputs: (s) => [multiplierInput(s), ...(id === 'delta' ? heldInput(s).slice(0, 1) : [])],
  legs: [
    {
      symbol: 'd',
      label: `${label} of one`,
      unit: id === 'delta' ? 'delta' : id === 'gamma' ? 'gamma' : 'sensitivity',
      of: (l) => legGreek(l, id) ?? null,
    },
  ],
});

const atFront = 'highest and lowest of the profit at the first expiry; legs that live on by the volatility after it';

/** Every figure of a structure: the one place that says what each is. */
export const FIGURES: readonly StructureFigure[] = [
  {
    id: 'cost',
    label: ({ sums }) => (sums.cost !== null && sums.cost < 0 ? 'brings in' : 'cost'),
    unit: 'money',
    definition: 'What the legs cost together at what each is taken at; below nothing it is brought in.',
    absence: 'where a leg has no price',
    formula: 'M (Σ q p + h S)',
    source: PRACTICE,
    value: ({ sums }) => sums.cost,
    inputs: (s) => [multiplierInput(s), ...heldInput(s)],
    legs: [taken],
  },
  {
    id: 'income',
    label: (s) => {
      const { front } = s.scene;
      return `${(incomeByFront(s) ?? 0) < 0 ? 'dividends and borrow' : 'dividends'}${front ? ` by ${dateText(front.date, s.asOf)}` : ''}`;
    },
    labelBeside: 'dividends, borrow',
    unit: 'money',
    definition:
      'What the underlying brings by the first expiry: dividends that go ex by then, without interest. Who owes it pays them, and the cost to borrow it. It is in the profit of every day after each ex-date.',
    absence: 'without the underlying or a first expiry',
    isShown: (s) => (incomeByFront(s) ?? 0) !== 0,
    formula: 'M h (Σ A + b T)',
    source: PRACTICE,
    value: incomeByFront,
    inputs: (s) => [multiplierInput(s), heldInput(s)[0], ...incomeInputs(s)],
  },
  {
    id: 'value',
    label: 'theory',
    unit: 'money',
    definition: 'What the legs are worth together by the volatility in force, early exercise with it.',
    absence: 'while a leg has no theory',
    formula: 'M (Σ q v + h S)',
    source: PRACTICE,
    value: ({ sums }) => sums.value,
    inputs: (s) => [multiplierInput(s), ...heldInput(s)],
    legs: [theory],
  },
  {
    id: 'gap',
    label: 'theory over cost',
    unit: 'money',
    definition: 'How much better than by theory it is taken: above nothing in your favor.',
    absence: 'while cost or theory is unknown',
    formula: 'V − C',
    source: PRACTICE,
    value: gap,
    inputs: (s) => [input('V', 'theory', s.sums.value, 'money', 'sum of the legs'), costInput(s)],
    legs: [taken, theory],
  },
  {
    id: 'gapPoints',
    label: 'the same in points',
    unit: 'points',
    definition: 'That gap by the vega of all legs at once, as if each moved the way that it is held: points a leg.',
    absence: 'without vega',
    formula: '(V − C) / (M Σ |q| w)',
    source: OWN,
    value: (s) => {
      const points = over(gap(s), grossVega(s));
      return points === null ? null : points / 100;
    },
    inputs: (s) => [
      input('V', 'theory', s.sums.value, 'money', 'sum of the legs'),
      ...[costInput(s), multiplierInput(s)],
    ],
    legs: [{ symbol: 'w', label: 'vega of one, a point', unit: 'sensitivity', of: (l) => l.value?.vega ?? null }],
  },
  {
    id: 'crossing',
    label: 'at bids and offers',
    unit: 'money',
    definition: 'What it costs at once: what is bought at the offer, what is sold at the bid.',
    absence: 'where a leg has no bid or no offer',
    formula: 'M (Σ q x + h S)',
    source: PRACTICE,
    value: (s) => positionSum(s, crossingPrice),
    inputs: (s) => [multiplierInput(s), ...heldInput(s)],
    legs: [{ symbol: 'x', label: 'bid or offer', unit: 'quote', of: crossingPrice }],
  },
  {
    id: 'mid',
    label: 'at mids',
    unit: 'money',
    definition: 'What it costs halfway between bids and offers.',
    absence: 'where a leg has no bid or no offer',
    formula: 'M (Σ q m + h S)',
    source: PRACTICE,
    value: (s) => positionSum(s, mid),
    inputs: (s) => [multiplierInput(s), ...heldInput(s)],
    legs: [{ symbol: 'm', label: 'mid', unit: 'quote', of: mid }],
  },
  {
    id: 'width',
    label: 'market width',
    unit: 'money',
    definition: 'What bids and offers of all legs lie apart together: what going in and out at once would cost.',
    absence: 'where a leg has no bid or no offer',
    formula: 'M Σ |q| (a − b)',
    source: PRACTICE,
    value: ({ sums }) => sums.marketWidth,
    inputs: (s) => [multiplierInput(s)],
    legs: [
      { symbol: 'b', label: 'bid', unit: 'quote', of: (l) => l.bid },
      { symbol: 'a', label: 'offer', unit: 'quote', of: (l) => l.ask },
    ],
  },
  {
    id: 'most',
    label: 'most',
    unit: 'money',
    definition: 'Highest profit at the first expiry.',
    absence: 'where it has no end',
    formula: atFront,
    source: PRACTICE,
    value: ({ front, multiplier }) => money(front?.maxProfit, multiplier),
    inputs: (s) => [costInput(s), multiplierInput(s), ...incomeInput(s)],
    legs: [taken],
  },
  {
    id: 'lost',
    label: 'most lost',
    unit: 'money',
    definition: 'The most that can be lost at the first expiry: the capital at risk.',
    absence: 'where it has no end',
    formula: atFront,
    source: PRACTICE,
    value: ({ front, multiplier }) => money(front?.maxLoss, multiplier),
    inputs: (s) => [costInput(s), multiplierInput(s), ...incomeInput(s)],
    legs: [taken],
  },
  {
    id: 'ratio',
    label: 'most for lost',
    unit: 'factor',
    definition: 'What can be made for each that can be lost.',
    absence: 'where either has no end, or nothing can be lost',
    formula: 'most / most lost',
    source: PRACTICE,
    value: ({ front }) => over(front?.maxProfit ?? null, front?.maxLoss ?? null),
    inputs: mostInputs,
  },
  {
    id: 'costToWidth',
    label: 'cost of width',
    unit: 'share',
    definition:
      'Cost, or what is brought in, as a share of the wing: of what the legs may differ by at expiry between best and worst. Of a vertical what its strikes lie apart.',
    absence: 'where that has no end, with the underlying, or where legs outlive the first expiry',
    formula: '|C| / W',
    source: PRACTICE,
    value: (s) => {
      const share = over(s.sums.cost, structureWidth(s));
      return share === null ? null : Math.abs(share);
    },
    inputs: (s) => [
      costInput(s),
      input('W', 'best less worst at expiry', structureWidth(s), 'money', 'payoff of the legs, times M'),
    ],
  },
  {
    id: 'chance',
    label: 'chance of profit',
    unit: 'probability',
    definition: 'That the first expiry ends with a profit, by the law of its smile.',
    absence: 'without a smile of the first expiry',
    formula: 'law of the price between the break-evens where the profit is above nothing',
    source: BREEDEN,
    value: ({ front }) => front?.probabilityOfProfit ?? null,
    inputs: ({ front }) =>
      (front?.breakEvens ?? []).map((b, i) =>
        input(`B${i + 1}`, 'break-even', b, 'price', 'profit at the first expiry'),
      ),
  },
  {
    id: 'expected',
    label: 'expected profit',
    unit: 'money',
    definition:
      'Mean of the profit at the first expiry by the law of its smile, as money of that day; theory over cost is money of now. Interest on the options, carry of the underlying and early exercise lie between the two.',
    absence: 'without a smile of the first expiry',
    formula: 'sum over the law of the price of its profit there',
    source: BREEDEN,
    value: expected,
    inputs: (s) => [costInput(s), multiplierInput(s), ...incomeInput(s), ...expectedParts(s)],
  },
  greek('delta', 'delta'),
  greek('gamma', 'gamma'),
  {
    id: 'deltaMoney',
    label: 'delta, money',
    unit: 'money',
    definition: 'What its delta of the underlying is worth: as much of it would move alike.',
    absence: 'while a leg has no theory',
    formula: 'Δ S',
    source: PRACTICE,
    value: ({ sums, scene }) => (sums.delta === null ? null : sums.delta * scene.underlyingPrice),
    inputs: ({ sums, scene }) => [
      input('Δ', 'delta', sums.delta, 'greek', 'sum of the legs'),
      input('S', 'price of the underlying', scene.underlyingPrice, 'price', 'of the picture'),
    ],
  },
  {
    id: 'gammaMoney',
    label: 'gamma, money a percent',
    unit: 'money',
    definition: 'By how much that money changes where the price moves by one percent.',
    absence: 'while a leg has no theory',
    formula: 'Γ S² / 100',
    source: PRACTICE,
    value: ({ sums, scene }) => (sums.gamma === null ? null : (sums.gamma * scene.underlyingPrice ** 2) / 100),
    inputs: ({ sums, scene }) => [
      input('Γ', 'gamma', sums.gamma, 'greek', 'sum of the legs'),
      input('S', 'price of the underlying', scene.underlyingPrice, 'price', 'of the picture'),
    ],
  },
  {
    ...greek('theta', 'theta a day'),
    label: (s) => (isLastSession(s) ? 'until the close' : 'theta a day'),
    labelBeside: 'theta a day',
    definition:
      'What a day takes or brings while nothing else moves; in the last session what the first expiry does, at the price of now.',
    formula: 'M Σ q d, in the last session profit at the first expiry at S less (V − C)',
    value: (s) => (isLastSession(s) ? untilClose(s) : s.sums.theta),
  },
  greek('vega', 'vega a point'),
  {
    id: 'daysAPoint',
    label: 'days a point',
    unit: 'days',
    definition: 'How many days cost or bring as much as one point of volatility.',
    absence: 'without theta',
    formula: '|vega / theta|',
    source: PRACTICE,
    value: ({ sums }) => {
      const days = over(sums.vega, sums.theta);
      return days === null ? null : Math.abs(days);
    },
    inputs: ({ sums }) => [
      input('', 'vega a point', sums.vega, 'money', 'sum of the legs'),
      input('', 'theta a day', sums.theta, 'money', 'sum of the legs'),
    ],
  },
  {
    id: 'skew',
    label: 'skew load',
    unit: 'points',
    definition:
      'How much dearer than at the money the volatility is that it holds, weighed by vega: above nothing it pays for skew.',
    absence: 'while a leg has no theory',
    formula: 'Σ q w (σ − σ₀) / Σ |q w|',
    source: OWN,
    value: ({ sums }) => sums.skewLoad,
    inputs: () => [],
    legs: [
      { symbol: 'w', label: 'vega of one, a point', unit: 'sensitivity', of: (l) => l.value?.vega ?? null },
      { symbol: 'σ', label: 'volatility', unit: 'volatility', of: (l) => l.value?.volatility ?? null },
      { symbol: 'σ₀', label: 'at the money of its expiry', unit: 'volatility', of: (l) => l.expiry?.atm ?? null },
    ],
  },
  {
    id: 'skewShare',
    label: 'of the 25-delta skew',
    unit: 'factor',
    definition: 'Skew load over the risk reversal at 25 delta and 30 days.',
    absence: 'where that risk reversal is below half a point, or unknown',
    formula: 'L / R',
    source: OWN,
    value: ({ sums, riskReversal }) =>
      riskReversal === null || Math.abs(riskReversal) < LEAST_REVERSAL ? null : over(sums.skewLoad, riskReversal),
    inputs: ({ sums, riskReversal }) => [
      input('L', 'skew load', sums.skewLoad, 'points', 'sum of the legs'),
      input('R', 'risk reversal at 25 delta, 30 days', riskReversal, 'points', 'fitted surface'),
    ],
  },
  {
    id: 'carried',
    label: 'carried to the price looked at',
    unit: 'money',
    definition: 'Theory carried to another price of the underlying by its delta of now.',
    absence: 'while a leg has no theory',
    formula: 'V + Δ (U − S)',
    source: OWN,
    value: ({ sums, scene, at }) =>
      sums.value === null || sums.delta === null ? null : sums.value + sums.delta * (at - scene.underlyingPrice),
    inputs: ({ sums, scene, at }) => [
      input('V', 'theory', sums.value, 'money', 'sum of the legs'),
      input('Δ', 'delta', sums.delta, 'greek', 'sum of the legs'),
      input('U', 'price looked at', at, 'price', 'chosen'),
      input('S', 'price of the underlying', scene.underlyingPrice, 'price', 'of the picture'),
    ],
  },
];

const LEAST_REVERSAL = 0.005;
