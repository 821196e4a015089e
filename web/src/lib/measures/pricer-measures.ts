import type { SideFigures } from '../theory/index.ts';
import type { CurveMeasure } from '../api/pricer-inputs.ts';
import type { Unit } from './measure.ts';

const MERTON = 'Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183';
const HAUG = 'Haug, E. G. (2007). The Complete Guide to Option Pricing Formulas, 2nd ed., chapter 2';
const KIM = 'Kim, I. J. (1990). The analytic valuation of American options. Review of Financial Studies 3(4), 547-572';

/** One figure of the Pricer. The meaning is a clause that follows the value: "0.55 — gains this when ...". */
export interface PricerMeasure {
  id: CurveMeasure | 'earlyPremium' | 'exerciseBoundary';
  label: string;
  /** What it is counted per, beside the label */
  per: string;
  unit: Unit;
  definition: string;
  formula: string;
  /** Function of core that computes it */
  core: 'valuedOption' | 'earlyExercise';
  source: string;
  /** Whether the basis (share, contract, position) multiplies it */
  isScaled: boolean;
  isMain: boolean;
  /** Plain words for the reader who looks at a value, written without its sign */
  meaning(value: number, point: string): string;
  value(figures: SideFigures): number | undefined;
}

const gains = (value: number) => (value < 0 ? 'loses' : 'gains');
const rises = (value: number) => (value < 0 ? 'falls' : 'rises');

/** Of the Greeks that stand in other places, too. */
const UNITS: Partial<Record<CurveMeasure, Unit>> = {
  ...{ delta: 'delta', gamma: 'gamma' },
  ...{ theta: 'sensitivity', vega: 'sensitivity', rho: 'sensitivity' },
};

const greek = (
  o: Omit<PricerMeasure, 'unit' | 'isScaled' | 'isMain' | 'value' | 'source' | 'core'> & {
    id: CurveMeasure;
    isMain?: boolean;
    source?: string;
  },
): PricerMeasure => ({
  source: HAUG,
  core: 'valuedOption',
  isMain: false,
  ...o,
  unit: UNITS[o.id] ?? 'greek',
  isScaled: true,
  value: ({ greeks }) => greeks[o.id],
});

export const PRICER_MEASURES: readonly PricerMeasure[] = [
  {
    id: 'price',
    label: 'value',
    per: '',
    unit: 'premium',
    definition: 'Value of the option under the inputs, by the method that serves this contract.',
    formula: 'call S e^(−qT) N(d₁) − K e^(−rT) N(d₂), put by parity; with early exercise plus its premium',
    core: 'valuedOption',
    source: MERTON,
    isScaled: true,
    isMain: true,
    meaning: () => 'what it is worth today under these inputs',
    value: ({ greeks }) => greeks.price,
  },
  greek({
    id: 'delta',
    label: 'delta',
    per: 'per 1 of the underlying',
    definition: 'Change of the value for a rise of 1 of the underlying.',
    formula: '∂V / ∂S',
    source: MERTON,
    isMain: true,
    meaning: (v) => `${gains(v)} this when the underlying rises by 1`,
  }),
  greek({
    id: 'gamma',
    label: 'gamma',
    per: 'per 1',
    definition: 'Change of delta for a rise of 1 of the underlying.',
    formula: '∂²V / ∂S²',
    source: MERTON,
    isMain: true,
    meaning: (v) => `delta ${rises(v)} by this as the underlying gains 1`,
  }),
  greek({
    id: 'theta',
    label: 'theta',
    per: 'per calendar day',
    definition: 'Change of the value in one calendar day, all else unchanged.',
    formula: '∂V / ∂t / 365',
    source: MERTON,
    isMain: true,
    meaning: (v) => `${gains(v)} this in a day if nothing else moves`,
  }),
  greek({
    id: 'vega',
    label: 'vega',
    per: 'per point',
    definition: 'Change of the value for a rise of volatility by one point.',
    formula: '∂V / ∂σ / 100',
    source: MERTON,
    isMain: true,
    meaning: (v, point) => `${gains(v)} this when volatility rises by one ${point}`,
  }),
  greek({
    id: 'rho',
    label: 'rho',
    per: 'per point of rate',
    definition: 'Change of the value for a rise of the rate by one point.',
    formula: '∂V / ∂r / 100',
    source: MERTON,
    isMain: true,
    meaning: (v) => `${gains(v)} this when the rate rises by one point`,
  }),
  {
    id: 'probabilityItm',
    label: 'in the money',
    per: 'at expiry',
    unit: 'probability',
    definition: 'Risk-neutral probability to end in the money under this one volatility, ignoring early exercise.',
    formula: 'call N(d₂), put N(−d₂)',
    core: 'valuedOption',
    source: MERTON,
    isScaled: false,
    isMain: true,
    meaning: () => 'chance, at this one volatility, to pay at expiry',
    value: ({ greeks }) => greeks.probabilityItm,
  },
  {
    id: 'earlyPremium',
    label: 'early exercise',
    per: '',
    unit: 'premium',
    definition: 'What the right to exercise before expiry adds to the value.',
    formula: 'V American − V European',
    core: 'earlyExercise',
    source: KIM,
    isScaled: true,
    isMain: true,
    meaning: (v) =>
      v === 0
        ? 'the right to exercise early adds nothing'
        : v > 0
          ? 'of the value, for the right to exercise early'
          : "owed for the buyer's right to exercise early",
    value: ({ early }) => early.premium,
  },
  {
    id: 'exerciseBoundary',
    label: 'exercise at',
    per: 'underlying',
    unit: 'price',
    definition: 'Price of the underlying from which exercise today is as good as holding.',
    formula: 'the S* with V(S*) = exercise value and slope −1 or 1',
    core: 'earlyExercise',
    source: KIM,
    isScaled: false,
    isMain: true,
    meaning: () => 'exercise today is worth as much as holding',
    value: ({ early }) => early.boundary,
  },
  greek({
    id: 'dividendRho',
    label: 'yield rho',
    per: 'per point of yield',
    definition: 'Change of the value for a rise of the yield by one point.',
    formula: '∂V / ∂q / 100',
    meaning: (v) => `${gains(v)} this when the yield rises by one point`,
  }),
  greek({
    id: 'dualDelta',
    label: 'dual delta',
    per: 'per 1 of strike',
    definition: 'Change of the value for a strike higher by 1.',
    formula: '∂V / ∂K',
    meaning: (v) => `${v < 0 ? 'worth less' : 'worth more'} by this with a strike 1 higher`,
  }),
  greek({
    id: 'vanna',
    label: 'vanna',
    per: 'per 1 and point',
    definition: 'Change of delta for a rise of volatility by one point.',
    formula: '∂²V / ∂S ∂σ / 100',
    meaning: (v, point) => `delta ${rises(v)} this much per ${point} of volatility`,
  }),
  greek({
    id: 'volga',
    label: 'volga',
    per: 'per point²',
    definition: 'Change of vega, per point, for a rise of volatility by one point.',
    formula: '∂²V / ∂σ² / 100²',
    meaning: (v, point) => `vega ${rises(v)} this much per ${point} of volatility`,
  }),
  greek({
    id: 'charm',
    label: 'charm',
    per: 'per day',
    definition: 'Change of delta in one calendar day.',
    formula: '∂²V / ∂S ∂t / 365',
    meaning: (v) => `delta ${rises(v)} by this in a day`,
  }),
  greek({
    id: 'speed',
    label: 'speed',
    per: 'per 1',
    definition: 'Change of gamma for a rise of 1 of the underlying.',
    formula: '∂³V / ∂S³',
    meaning: (v) => `gamma ${rises(v)} by this as the underlying gains 1`,
  }),
  greek({
    id: 'zomma',
    label: 'zomma',
    per: 'per point',
    definition: 'Change of gamma for a rise of volatility by one point.',
    formula: '∂³V / ∂S² ∂σ / 100',
    meaning: (v, point) => `gamma ${rises(v)} this much per ${point} of volatility`,
  }),
  greek({
    id: 'color',
    label: 'color',
    per: 'per day',
    definition: 'Change of gamma in one calendar day.',
    formula: '∂³V / ∂S² ∂t / 365',
    meaning: (v) => `gamma ${rises(v)} by this in a day`,
  }),
];

/** The entry of a figure. */
export function pricerMeasure(id: string): PricerMeasure | undefined {
  return PRICER_MEASURES.find((m) => m.id === id);
}
