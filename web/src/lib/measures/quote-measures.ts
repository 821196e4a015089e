import { black76Vega } from '@umwelt/core/pricing';
import { instantLabel } from '../ui/format.ts';
import { reasonWords } from '../market/index.ts';
import type { QuoteMeasure, QuoteSubject } from './measure.ts';
import { contractInputs, forwardInputs, methodNote, smileSlope, theoryInputs, theoryRequest } from './quote-inputs.ts';

const MERTON = 'Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183';
const BLACK = 'Black, F. (1976). The pricing of commodity contracts. Journal of Financial Economics 3(1-2), 167-179';
const LETS_BE_RATIONAL = "Jäckel, P. (2017). Let's be rational. Wilmott 2017(87), 40-53 (how the price is inverted)";

const KIM = 'Kim, I. J. (1990). The analytic valuation of American options. Review of Financial Studies 3(4), 547-572';
const COLLOCATION =
  'Andersen, L., Lake, M. & Offengenden, D. (2016). High-performance American option pricing. Journal of Computational Finance 20(1), 39-87';
const AMERICAN_SOURCE = `${KIM}; ${COLLOCATION}`;
const AMERICAN_VALUE = 'max over stopping times τ ≤ T of E[e^(−rτ) payoff(S at τ)]';

/** Part of a quoted price that the right to exercise early is worth on the market's own smile. */
const quotedPremium = ({ expiry, row }: QuoteSubject): number =>
  expiry[row.side].earlyExercise[expiry.strikes.indexOf(row.strike)] ?? 0;

const impliedOf = (name: 'bid' | 'mid' | 'ask', label: string): QuoteMeasure => ({
  id: `${name}Volatility`,
  label: `implied volatility of the ${label}`,
  unit: 'volatility',
  definition: ({ contract }) =>
    contract?.exercise === 'american'
      ? `Volatility at which Black's price on the forward equals the ${label} less what early exercise is worth.`
      : `Volatility at which Black's price on the forward equals the ${label}.`,
  formula: ({ contract }) =>
    contract?.exercise === 'american'
      ? 'D · Black(F, K, σ√T) = V − e, solved for σ'
      : 'D · Black(F, K, σ√T) = V, solved for σ',
  source: LETS_BE_RATIONAL,
  value: ({ row }) => row[`${name}Volatility`],
  inputs: (subject) => [
    {
      symbol: 'V',
      label,
      value: subject.row[name],
      unit: 'premium',
      source: `quoted ${instantLabel(subject.picture.asOf)}`,
    },
    ...(subject.contract?.exercise === 'american'
      ? [
          {
            symbol: 'e',
            label: 'early exercise',
            value: quotedPremium(subject),
            unit: 'premium',
            source: 'American less European value on the fitted smile, as the quotes were freed of it',
          } as const,
        ]
      : []),
    ...contractInputs(subject),
  ],
  note: ({ row }) => (row.verdict ? `This quote is not used for the fit: ${reasonWords(row.verdict)}.` : undefined),
});

const quoted = (id: 'bid' | 'ask' | 'mid', label: string): QuoteMeasure => ({
  id,
  label,
  unit: 'premium',
  definition:
    id === 'mid' ? 'Half way between bid and offer; the last trade is never used.' : `The ${label} as stored.`,
  formula: id === 'mid' ? '(bid + offer) / 2' : 'as stored',
  source: 'Stored with the quotes',
  value: ({ row }) => row[id],
  inputs: ({ row, picture }) => [
    { symbol: '', label: 'bid', value: row.bid, unit: 'premium', source: instantLabel(picture.asOf) },
    { symbol: '', label: 'offer', value: row.ask, unit: 'premium', source: instantLabel(picture.asOf) },
    { symbol: '', label: 'last trade', value: row.last, unit: 'premium', source: 'not used' },
  ],
  note: ({ row }) => (row.verdict ? `Judged ${row.verdict}.` : undefined),
});

type ListedGreek = 'delta' | 'gamma' | 'theta' | 'vega' | 'rho';
const EUROPEAN_GREEKS: Record<ListedGreek, string> = {
  delta: 'call e^(−qT) N(d₁); put −e^(−qT) N(−d₁)',
  gamma: 'e^(−qT) n(d₁) / (S σ√T)',
  theta: '∂V/∂t / 365',
  vega: 'S e^(−qT) n(d₁) √T / 100',
  rho: '± K T e^(−rT) N(± d₂) / 100',
};
const PARTIALS: Record<ListedGreek, string> = {
  delta: '∂V / ∂S',
  gamma: '∂²V / ∂S²',
  theta: '∂V/∂t / 365',
  vega: '∂V/∂σ / 100',
  rho: '∂V/∂r / 100',
};

/** A Greek of the contract as it is valued: of an American option its own, not those of its European equivalent. */
const greek = (o: Pick<QuoteMeasure, 'label' | 'unit'> & { definition: string; id: ListedGreek }): QuoteMeasure => ({
  ...o,
  formula: ({ contract }) => {
    if (contract?.exercise === 'american') return `${PARTIALS[o.id]}, V = ${AMERICAN_VALUE}`;
    if (contract?.model === 'futures' && o.id === 'rho') return '−T V / 100, the futures price held';
    return EUROPEAN_GREEKS[o.id];
  },
  source: ({ contract }) => (contract?.exercise === 'american' ? AMERICAN_SOURCE : MERTON),
  value: ({ row }) => row[o.id],
  inputs: theoryInputs,
  note: methodNote,
  request: theoryRequest,
});

/** A figure of Black's formula on the forward, whatever the exercise. */
const onForward = (
  o: Pick<QuoteMeasure, 'label' | 'unit' | 'definition' | 'formula'> & {
    id: 'forwardDelta' | 'probabilityItmConstantVolatility';
  },
): QuoteMeasure => ({ ...o, source: BLACK, value: ({ row }) => row[o.id], inputs: forwardInputs });

export const QUOTE_MEASURES: readonly QuoteMeasure[] = [
  quoted('bid', 'bid'),
  quoted('ask', 'offer'),
  quoted('mid', 'mid'),
  impliedOf('bid', 'bid'),
  impliedOf('mid', 'mid'),
  impliedOf('ask', 'offer'),
  {
    id: 'fitVolatility',
    label: 'fitted volatility',
    unit: 'volatility',
    definition: "The smile's volatility at this strike.",
    formula: 'σ = √(w(k) / T), k = ln(K / F)',
    source:
      'Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71',
    value: ({ row }) => row.fitVolatility,
    inputs: contractInputs,
  },
  {
    id: 'theory',
    label: 'theoretical value',
    unit: 'premium',
    definition: ({ contract }) =>
      contract?.exercise === 'american'
        ? 'Value of the American option under the volatility source in force, with the rate, dividends and yield that give the forward of its expiry.'
        : 'Value of the option under the volatility source in force, on the forward of its expiry.',
    formula: ({ contract }) =>
      contract?.exercise === 'american'
        ? AMERICAN_VALUE
        : 'call S e^(−qT) N(d₁) − K e^(−rT) N(d₂); put K e^(−rT) N(−d₂) − S e^(−qT) N(−d₁)',
    source: ({ contract }) =>
      contract?.exercise === 'american' ? AMERICAN_SOURCE : contract?.model === 'futures' ? BLACK : MERTON,
    value: ({ row }) => row.theory,
    inputs: (subject) => [
      ...theoryInputs(subject),
      {
        symbol: 'e',
        label: 'of it early exercise',
        value: subject.row.earlyExercise,
        unit: 'premium',
        source:
          subject.contract?.exercise === 'american'
            ? "less Black's value on the forward at the volatility of theory"
            : 'none: European',
      },
    ],
    note: methodNote,
    request: theoryRequest,
  },
  {
    id: 'gap',
    label: 'market against theory',
    unit: 'premium',
    definition:
      'Distance from theory to the nearer of bid and offer: above it the market is dear, below it cheap, 0 inside.',
    formula: 'bid − theory if above, offer − theory if below, else 0',
    source: 'Common practice, no source',
    value: ({ row }) => row.gap,
    inputs: ({ row, expiry }) => {
      const sigma = row.theoryVolatility;
      const vega =
        sigma === null
          ? null
          : black76Vega({
              forward: expiry.forward,
              strike: row.strike,
              timeToExpiry: expiry.years,
              volatility: sigma,
              discountFactor: expiry.discountFactor,
            });
      return [
        { symbol: '', label: 'bid', value: row.bid, unit: 'premium', source: 'quote' },
        { symbol: '', label: 'offer', value: row.ask, unit: 'premium', source: 'quote' },
        { symbol: '', label: 'theory', value: row.theory, unit: 'premium', source: 'model' },
        {
          symbol: '',
          label: 'in volatility',
          value: row.gap !== null && vega ? row.gap / vega : null,
          unit: 'points',
          source: 'gap / vega',
        },
      ];
    },
  },
  greek({
    id: 'delta',
    label: 'delta',
    unit: 'delta',
    definition: 'Change of the value for a change of 1 of the underlying.',
  }),
  onForward({
    id: 'forwardDelta',
    label: 'forward delta',
    unit: 'delta',
    definition: 'Undiscounted delta on the forward; the delta axis of Skew.',
    formula: 'call N(d₁); put −N(−d₁)',
  }),
  greek({
    id: 'gamma',
    label: 'gamma',
    unit: 'greek',
    definition: 'Change of delta for a change of 1 of the underlying.',
  }),
  greek({
    id: 'theta',
    label: 'theta a day',
    unit: 'greek',
    definition: 'Change of the value in one calendar day, all else unchanged.',
  }),
  greek({
    id: 'vega',
    label: 'vega a point',
    unit: 'greek',
    definition: 'Change of the value for one volatility point.',
  }),
  greek({
    id: 'rho',
    label: 'rho a point',
    unit: 'greek',
    definition: 'Change of the value for one point of interest.',
  }),
  {
    id: 'probabilityItm',
    label: 'probability in the money',
    unit: 'probability',
    definition:
      'Risk-neutral probability that the option ends in the money. Under a smile it carries the slope of the smile at the strike: where volatility falls with the strike, prices above are likelier than one volatility says.',
    formula: 'call N(d₂) − √T K n(d₂) dσ/dK; put one less that; dσ/dK = 0 under any source but smile and borrowed',
    source:
      'Breeden, D. T. & Litzenberger, R. H. (1978). Prices of state-contingent claims implicit in option prices. Journal of Business 51(4), 621-651',
    value: ({ row }) => row.probabilityItm,
    inputs: (subject) => [
      ...forwardInputs(subject),
      {
        symbol: 'dσ/dK',
        label: 'slope of the smile at the strike',
        value: smileSlope(subject),
        unit: 'factor',
        source: 'smile in force',
      },
      {
        symbol: 'N(d₂)',
        label: 'by the volatility of this strike alone',
        value: subject.row.probabilityItmConstantVolatility,
        unit: 'probability',
        source: 'constant volatility',
      },
    ],
  },
  onForward({
    id: 'probabilityItmConstantVolatility',
    label: 'probability in the money, one volatility',
    unit: 'probability',
    definition:
      "Risk-neutral probability that the option ends in the money if the volatility of its strike were that of all strikes; the smile's slope is left out.",
    formula: 'call N(d₂); put N(−d₂)',
  }),
];
