import { black76Price, black76Vega, impliedVolatility } from '@umwelt/core/pricing';
import { instantLabel } from '../ui/format.ts';
import type { Side } from '../api/quantity.ts';
import { reasonWords } from '../market/index.ts';
import { isAmerican } from '../theory/index.ts';
import { contractProcedure } from './contract-procedure.ts';
import { type EuropeanFigure, europeanFormula, forwardFormula } from './european-formulas.ts';
import {
  type Derivation,
  formula,
  none,
  type QuoteMeasure,
  type QuoteSubject,
  STORED,
  type WorkingsInput,
} from './measure.ts';
import { smileFormula, smileParameters, smileSource } from './smile-inputs.ts';
import {
  contractInputs,
  forwardInputs,
  methodNote,
  smileSlope,
  theoryInputs,
  theoryRequest,
  volatilityOrigin,
} from './quote-inputs.ts';

const MERTON = 'Merton, R. C. (1973). Theory of rational option pricing. Bell Journal of Economics 4(1), 141-183';
const BLACK = 'Black, F. (1976). The pricing of commodity contracts. Journal of Financial Economics 3(1-2), 167-179';
const LETS_BE_RATIONAL = "Jäckel, P. (2017). Let's be rational. Wilmott 2017(87), 40-53 (how the price is inverted)";

const KIM = 'Kim, I. J. (1990). The analytic valuation of American options. Review of Financial Studies 3(4), 547-572';
const COLLOCATION =
  'Andersen, L., Lake, M. & Offengenden, D. (2016). High-performance American option pricing. Journal of Computational Finance 20(1), 39-87';
const AMERICAN_SOURCE = `${KIM}; ${COLLOCATION}`;
const AMERICAN_VALUE = 'max over stopping times τ ≤ T of E[e^(−rτ) payoff(S at τ)]';

/** Part of a quoted price that the right to exercise early is worth on the market's own smile. */
function quotedPremium({ expiry, row }: QuoteSubject, name: 'bid' | 'mid' | 'ask'): number {
  const premium = expiry[row.side].earlyExercise[expiry.strikes.indexOf(row.strike)] ?? 0;
  // Where nothing is bid nothing can be taken off the bid.
  return name === 'mid' && row.bid === 0 ? 0.5 * premium : premium;
}

/** Volatility of a price, freed of what early exercise is worth. */
const impliedBy = (side: Side, hasPremium: boolean): Derivation => ({
  kind: 'procedure',
  text: hasPremium ? 'D · Black(F, K, σ√T) = V − E, solved for σ' : 'D · Black(F, K, σ√T) = V, solved for σ',
  core: 'impliedVolatility',
  settings: { side },
  run: (inputs) => {
    const result = impliedVolatility({
      side,
      forward: inputs.number('F'),
      strike: inputs.number('K'),
      timeToExpiry: inputs.number('T'),
      discountFactor: inputs.number('D'),
      price: inputs.number('V') - (hasPremium ? inputs.number('E') : 0),
    });
    return result.ok ? result.volatility : null;
  },
});

const impliedOf = (name: 'bid' | 'mid' | 'ask', label: string): QuoteMeasure => ({
  id: `${name}Volatility`,
  label: `implied volatility of the ${label}`,
  shortLabel: `${label} vol %`,
  unit: 'volatility',
  definition: `Volatility at which Black's price on the forward equals the ${label}, less what early exercise is worth where that is allowed.`,
  absence: 'where the price has none',
  derivation: ({ expiry, row }) => impliedBy(row.side, isAmerican(expiry)),
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
    ...(isAmerican(subject.expiry)
      ? [
          {
            symbol: 'E',
            label: 'early exercise',
            value: quotedPremium(subject, name),
            unit: 'premium',
            source:
              name === 'mid' && subject.row.bid === 0
                ? 'half of it, since nothing is bid; American less European value on the fitted smile'
                : 'American less European value on the fitted smile, as the quotes were freed of it',
          } as const,
        ]
      : []),
    ...contractInputs(subject),
  ],
  note: ({ row }) => (row.verdict ? `This quote is not used for the fit, ${reasonWords(row.verdict)}.` : undefined),
});

const quoted = (id: 'bid' | 'ask' | 'mid', label: string): QuoteMeasure => ({
  id,
  label,
  // Half way between two steps lies half a step.
  unit: id === 'mid' ? 'premium' : 'quote',
  definition:
    id === 'mid' ? 'Half way between bid and offer; the last trade is never used.' : `The ${label} as stored.`,
  derivation: id === 'mid' ? formula('(bid + offer) / 2') : STORED,
  source: 'Stored with the quotes',
  value: ({ row }) => row[id],
  inputs: ({ row, picture }) => [
    { symbol: 'bid', label: '', value: row.bid, unit: 'quote', source: instantLabel(picture.asOf) },
    { symbol: 'offer', label: '', value: row.ask, unit: 'quote', source: instantLabel(picture.asOf) },
    { symbol: '', label: 'last trade', value: row.last, unit: 'quote', source: 'not used' },
  ],
  note: ({ row }) => (row.verdict ? `Excluded, ${reasonWords(row.verdict)}.` : undefined),
});

type ListedGreek = 'delta' | 'gamma' | 'theta' | 'vega' | 'rho';
const PARTIALS: Record<ListedGreek, string> = {
  delta: '∂V / ∂S',
  gamma: '∂²V / ∂S²',
  theta: '∂V/∂t / 365',
  vega: '∂V/∂σ / 100',
  rho: '∂V/∂r / 100',
};

/** A figure of the contract as it is valued: a closed form, or core's valuation with early exercise. */
function valuedBy({ contract, row, expiry }: QuoteSubject, figure: EuropeanFigure, text: string): Derivation {
  const { side } = row;
  if (!contract) return none('the source in force has no volatility for this option');
  if (contract.exercise !== 'american') return formula(europeanFormula(figure, side, expiry.model));
  return contractProcedure(contract, text, (value) => (figure === 'theory' ? value.price : value[figure]));
}

/** A Greek of the contract as it is valued: of an American option its own, not those of its European equivalent. */
const greek = (
  o: Pick<QuoteMeasure, 'label' | 'shortLabel' | 'unit'> & { definition: string; id: ListedGreek },
): QuoteMeasure => ({
  ...o,
  derivation: (subject) => valuedBy(subject, o.id, `${PARTIALS[o.id]}, V = ${AMERICAN_VALUE}`),
  source: ({ contract }) => (contract?.exercise === 'american' ? AMERICAN_SOURCE : MERTON),
  value: ({ row }) => row[o.id],
  inputs: theoryInputs,
  note: methodNote,
  request: theoryRequest,
});

/** A figure of Black's formula on the forward, whatever the exercise. */
const onForward = (
  o: Pick<QuoteMeasure, 'label' | 'shortLabel' | 'unit' | 'definition'> & {
    id: 'forwardDelta' | 'probabilityItmConstantVolatility';
    forms: Record<Side, string>;
  },
): QuoteMeasure => ({
  ...o,
  derivation: ({ row }) => formula(forwardFormula(o.forms[row.side])),
  source: BLACK,
  value: ({ row }) => row[o.id],
  inputs: forwardInputs,
});

const moneynessOf = ({ expiry, row }: QuoteSubject) => Math.log(row.strike / expiry.forward);

/** Black's inputs of the European equivalent; undefined without a volatility. */
function onItsForward({ expiry, row }: QuoteSubject) {
  if (row.theoryVolatility === null) return undefined;
  return {
    side: row.side,
    forward: expiry.forward,
    strike: row.strike,
    timeToExpiry: expiry.years,
    volatility: row.theoryVolatility,
    discountFactor: expiry.discountFactor,
  };
}

function europeanValue(subject: QuoteSubject): number | null {
  const terms = onItsForward(subject);
  return terms ? black76Price(terms) : null;
}

/** The fitted smile at the strike. */
function smileAtStrike(subject: QuoteSubject): WorkingsInput[] {
  const { expiry } = subject;
  const shared = contractInputs(subject).filter((input) => input.symbol !== 'D');
  return [...shared, ...smileParameters(expiry, moneynessOf(subject))];
}

export const QUOTE_MEASURES: readonly QuoteMeasure[] = [
  quoted('bid', 'bid'),
  quoted('ask', 'offer'),
  quoted('mid', 'mid'),
  {
    id: 'last',
    label: 'last trade',
    shortLabel: 'last',
    unit: 'quote',
    definition: 'The last trade as stored; when it took place is not, so that nothing is computed of it.',
    derivation: STORED,
    source: 'Stored with the quotes',
    value: ({ row }) => row.last,
    inputs: () => [],
  },
  impliedOf('bid', 'bid'),
  impliedOf('mid', 'mid'),
  impliedOf('ask', 'offer'),
  {
    id: 'fitVolatility',
    label: 'fitted volatility',
    shortLabel: 'fit %',
    unit: 'volatility',
    definition: "The smile's volatility at this strike.",
    absence: 'without a smile',
    derivation: ({ expiry, row }) => smileFormula(expiry, 'k = ln(K / F)', Math.log(row.strike / expiry.forward)),
    source: ({ expiry }) => smileSource(expiry),
    value: ({ row }) => row.fitVolatility,
    inputs: smileAtStrike,
  },
  {
    id: 'theoryVolatility',
    label: 'volatility of theory',
    shortLabel: 'theory vol %',
    unit: 'volatility',
    definition: 'What the volatility source in force says for this option, of the forward.',
    absence: 'where the source in force has none for it',
    derivation: (subject) =>
      subject.context.volatilitySource === 'smile'
        ? smileFormula(subject.expiry, 'k = ln(K / F)', moneynessOf(subject))
        : { kind: 'stored', text: volatilityOrigin(subject) },
    source: ({ expiry, context }) =>
      context.volatilitySource === 'smile' ? smileSource(expiry) : 'The source in force',
    value: ({ row }) => row.theoryVolatility,
    inputs: smileAtStrike,
  },
  {
    id: 'theory',
    label: 'theoretical value',
    shortLabel: 'theory',
    unit: 'premium',
    definition:
      'Value of the option under the volatility source in force, on the forward of its expiry; with the right to exercise early where that is allowed.',
    absence: 'where the source in force has no volatility for it',
    derivation: (subject) => valuedBy(subject, 'theory', AMERICAN_VALUE),
    source: ({ contract }) =>
      contract?.exercise === 'american' ? AMERICAN_SOURCE : contract?.model === 'futures' ? BLACK : MERTON,
    value: ({ row }) => row.theory,
    inputs: (subject) => [
      ...theoryInputs(subject),
      {
        symbol: 'E',
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
    id: 'earlyExercise',
    label: 'early exercise in theory',
    shortLabel: 'exercise',
    unit: 'premium',
    definition:
      "Part of theory that the right to exercise early is worth: what it is above Black's value on the forward, 0 of a European option.",
    derivation: ({ contract }) =>
      contract?.exercise === 'american'
        ? formula('max(0, V − B)')
        : { kind: 'stored', text: '0: a European option has no such right' },
    source: KIM,
    value: ({ row }) => row.earlyExercise,
    inputs: (subject) => [
      { symbol: 'V', label: 'theory', value: subject.row.theory, unit: 'premium', source: 'American value' },
      {
        symbol: 'B',
        label: "Black's value on the forward",
        value: europeanValue(subject),
        unit: 'premium',
        source: 'at the volatility of theory',
      },
    ],
  },
  {
    id: 'gap',
    label: 'market against theory',
    unit: 'premium',
    definition:
      'Distance from theory to the nearer of bid and offer: above it the market is dear, below it cheap, 0 inside.',
    absence: 'unless bid and offer are good',
    derivation: formula('max(bid − V, 0) + min(offer − V, 0)'),
    source: 'Common practice, no source',
    value: ({ row }) => row.gap,
    inputs: (subject) => {
      const { row } = subject;
      const terms = onItsForward(subject);
      const vega = terms ? black76Vega(terms) : null;
      return [
        { symbol: 'bid', label: '', value: row.bid, unit: 'quote', source: 'quote' },
        { symbol: 'offer', label: '', value: row.ask, unit: 'quote', source: 'quote' },
        { symbol: 'V', label: 'theory', value: row.theory, unit: 'premium', source: 'model' },
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
    shortLabel: 'fwd delta',
    unit: 'delta',
    definition: 'Undiscounted delta on the forward; the delta axis of Skew.',
    forms: { call: 'N(d₁)', put: '−N(−d₁)' },
  }),
  greek({
    id: 'gamma',
    label: 'gamma',
    unit: 'gamma',
    definition: 'Change of delta for a change of 1 of the underlying.',
  }),
  greek({
    id: 'theta',
    label: 'theta a day',
    shortLabel: 'theta/day',
    unit: 'sensitivity',
    definition: 'Change of the value in one calendar day, all else unchanged.',
  }),
  greek({
    id: 'vega',
    label: 'vega a point',
    shortLabel: 'vega/pt',
    unit: 'sensitivity',
    definition: 'Change of the value for one volatility point.',
  }),
  greek({
    id: 'rho',
    label: 'rho a point',
    shortLabel: 'rho/pt',
    unit: 'sensitivity',
    definition: 'Change of the value for one point of interest.',
  }),
  {
    id: 'probabilityItm',
    label: 'chance in the money',
    shortLabel: 'in the money',
    unit: 'probability',
    definition:
      'Risk-neutral probability that the option ends in the money. Under a smile it carries the slope of the smile at the strike: where volatility falls with the strike, prices above are likelier than one volatility says.',
    derivation: ({ row }) =>
      formula(forwardFormula(row.side === 'call' ? 'N(d₂) − √T K n(d₂) dσ/dK' : 'N(−d₂) + √T K n(d₂) dσ/dK')),
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
        source:
          subject.context.volatilitySource === 'smile' || subject.context.volatilitySource === 'borrowed'
            ? 'smile in force'
            : 'one volatility for all strikes',
      },
      {
        symbol: '',
        label: 'the same at one volatility for all strikes',
        value: subject.row.probabilityItmConstantVolatility,
        unit: 'probability',
        source: 'N(d₂) of a call, N(−d₂) of a put',
      },
    ],
  },
  onForward({
    id: 'probabilityItmConstantVolatility',
    label: 'chance in the money, one volatility',
    unit: 'probability',
    definition:
      "Risk-neutral probability that the option ends in the money if the volatility of its strike were that of all strikes; the smile's slope is left out.",
    forms: { call: 'N(d₂)', put: 'N(−d₂)' },
  }),
];
