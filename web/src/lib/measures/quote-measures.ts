import { black76Vega } from '@umwelt/core/pricing';
import type { QuoteMeasure, QuoteSubject, WorkingsInput } from './measure.ts';

const MERTON = 'Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183';
const BLACK = 'Black, F. (1976). The pricing of commodity contracts. Journal of Financial Economics 3(1-2), 167-179';
const LETS_BE_RATIONAL = "Jäckel, P. (2017). Let's be rational. Wilmott 2017(87), 40-53 (how the price is inverted)";

/** Where the volatility of theory comes from. */
function volatilityOrigin({ expiry, context }: QuoteSubject): string {
  switch (context.volatilitySource) {
    case 'smile':
      return 'fitted smile at the strike';
    case 'own':
      return "the quote's own mid";
    case 'atm':
      return 'at the money of the expiry';
    case 'borrowed':
      return 'borrowed smile at the strike';
    case 'index':
      return 'model-free 30-day volatility of the underlying';
    case 'realized':
      return `close to close over the last ${expiry.realized?.sessions ?? 0} sessions, as many as the expiry has left`;
    case 'typed':
      return 'typed';
  }
}

function contractInputs({ expiry, row }: QuoteSubject): WorkingsInput[] {
  return [
    {
      symbol: 'F',
      label: 'forward',
      value: expiry.forward,
      unit: 'price',
      source: `${expiry.forwardSource}, ${expiry.pairsUsed} pairs`,
    },
    { symbol: 'K', label: 'strike', value: row.strike, unit: 'price', source: 'contract' },
    {
      symbol: 'T',
      label: 'time to expiry',
      value: expiry.years,
      unit: 'years',
      source: 'calendar, ACT/365 by minutes',
    },
    {
      symbol: 'D',
      label: 'discount factor',
      value: expiry.discountFactor,
      unit: 'factor',
      source: expiry.forwardSource,
    },
  ];
}

function theoryInputs(subject: QuoteSubject): WorkingsInput[] {
  const { expiry, row } = subject;
  const sigma = row.theoryVolatility;
  const deviation = sigma === null ? NaN : sigma * Math.sqrt(expiry.years);
  const d1 = Math.log(expiry.forward / row.strike) / deviation + 0.5 * deviation;
  const or = (value: number) => (Number.isFinite(value) ? value : null);
  return [
    ...contractInputs(subject),
    { symbol: 'σ', label: 'volatility', value: sigma, unit: 'volatility', source: volatilityOrigin(subject) },
    { symbol: 'd₁', label: 'ln(F / K) / (σ√T) + σ√T / 2', value: or(d1), unit: 'factor', source: 'computed' },
    { symbol: 'd₂', label: 'd₁ − σ√T', value: or(d1 - deviation), unit: 'factor', source: 'computed' },
  ];
}

const impliedOf = (name: 'bid' | 'mid' | 'ask', label: string): QuoteMeasure => ({
  id: `${name}Volatility`,
  label: `implied volatility of the ${label}`,
  unit: 'volatility',
  definition: `Volatility at which the model's price equals the ${label}.`,
  formula: 'D · Black(F, K, σ√T) = price, solved for σ',
  source: LETS_BE_RATIONAL,
  value: ({ row }) => row[`${name}Volatility`],
  inputs: (subject) => [
    { symbol: 'V', label, value: subject.row[name], unit: 'premium', source: `quoted ${subject.picture.asOf}` },
    ...contractInputs(subject),
  ],
  note: ({ row }) => (row.verdict ? `This quote is not used for the fit: ${row.verdict}.` : undefined),
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
    { symbol: '', label: 'bid', value: row.bid, unit: 'premium', source: picture.asOf },
    { symbol: '', label: 'offer', value: row.ask, unit: 'premium', source: picture.asOf },
    { symbol: '', label: 'last trade', value: row.last, unit: 'premium', source: 'not used' },
  ],
  note: ({ row }) => (row.verdict ? `Judged ${row.verdict}.` : undefined),
});

const greek = (
  o: Pick<QuoteMeasure, 'label' | 'definition' | 'formula' | 'unit'> & {
    id: 'delta' | 'gamma' | 'theta' | 'vega' | 'rho' | 'forwardDelta' | 'probabilityItmConstantVolatility';
  },
): QuoteMeasure => ({
  ...o,
  source: MERTON,
  value: ({ row }) => row[o.id],
  inputs: theoryInputs,
});

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
    definition:
      'Value of the option under the volatility source in force, on the forward of its expiry, with what early exercise adds.',
    formula: 'call D (F N(d₁) − K N(d₂)) + e; put D (K N(−d₂) − F N(−d₁)) + e',
    source: BLACK,
    value: ({ row }) => row.theory,
    inputs: (subject) => [
      ...theoryInputs(subject),
      {
        symbol: 'e',
        label: 'early exercise',
        value: subject.row.earlyExercise,
        unit: 'premium',
        source:
          subject.picture.underlying.exercise === 'american'
            ? 'American less European value at the volatility of theory'
            : 'none: European',
      },
    ],
    note: ({ picture }) =>
      picture.underlying.exercise === 'american'
        ? 'The Greeks beside it are those of the European equivalent; Pricer has those of the American option.'
        : undefined,
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
    formula: 'call e^(−qT) N(d₁); put −e^(−qT) N(−d₁)',
  }),
  greek({
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
    formula: 'e^(−qT) n(d₁) / (S σ√T)',
  }),
  greek({
    id: 'theta',
    label: 'theta a day',
    unit: 'greek',
    definition: 'Change of the value in one calendar day, all else unchanged.',
    formula: '∂V/∂t / 365',
  }),
  greek({
    id: 'vega',
    label: 'vega a point',
    unit: 'greek',
    definition: 'Change of the value for one volatility point.',
    formula: 'S e^(−qT) n(d₁) √T / 100',
  }),
  greek({
    id: 'rho',
    label: 'rho a point',
    unit: 'greek',
    definition: 'Change of the value for one point of interest.',
    formula: '± K T D N(± d₂) / 100',
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
      ...theoryInputs(subject),
      {
        symbol: 'N(d₂)',
        label: 'by the volatility of this strike alone',
        value: subject.row.probabilityItmConstantVolatility,
        unit: 'probability',
        source: 'constant volatility',
      },
    ],
  },
  greek({
    id: 'probabilityItmConstantVolatility',
    label: 'probability in the money, one volatility',
    unit: 'probability',
    definition:
      "Risk-neutral probability that the option ends in the money if the volatility of its strike were that of all strikes; the smile's slope is left out.",
    formula: 'call N(d₂); put N(−d₂)',
  }),
];
