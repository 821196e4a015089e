import { forwardOfPairs, type ImpliedForwardResult, pairsOf } from '@umwelt/core/surface';
import { instantLabel, numberText } from '../ui/format.ts';
import { carryNote } from './carry-measures.ts';
import {
  type Derivation,
  type ExpiryMeasure,
  type ExpirySubject,
  formula,
  STORED,
  type WorkingsInput,
} from './measure.ts';
import { pairSeries } from './quoted-series.ts';
import { timeInput } from './time-input.ts';

const PARITY =
  'Stoll, H. R. (1969). The relationship between put and call option prices. Journal of Finance 24(5), 801-824';

const SEN =
  'Sen, P. K. (1968). Estimates of the regression coefficient based on Kendall’s tau. JASA 63(324), 1379-1389';

const parityInputs = ({ picture, expiry }: ExpirySubject): WorkingsInput[] => [
  {
    symbol: 'n',
    label: 'pairs of call and put in the fit',
    value: expiry.pairsUsed,
    unit: 'count',
    source: 'quotes without a fault',
  },
  {
    symbol: '',
    label: 'pairs left out as outliers',
    value: expiry.pairsLeftOut.length,
    unit: 'count',
    source: expiry.pairsLeftOut.join(', ') || 'none',
  },
  {
    symbol: 's(F)',
    label: 'standard deviation of the fitted forward',
    value: expiry.forwardError,
    unit: 'price',
    source: 'weighted residuals',
  },
  {
    symbol: 'S',
    label: 'price of the underlying',
    value: expiry.underlyingPrice,
    unit: 'price',
    source: instantLabel(picture.asOf),
  },
];

/** Deviations on either side of a 90 % interval. */
const NINETY = 1.645;

/** Whether the pairs of all expiries together were looked at, with what they imply of the carry. */
const isJoint = ({ picture, expiry }: ExpirySubject) =>
  picture.carry.source === 'inferred' && expiry.exercisedInto?.kind === 'spot';

const PARITY_LINE = 'call − put = D (F − K) over all strikes';

/** By core's `forwardOfPairs` from the pairs, and what else is known of the discount factor. */
const ofPairs = (
  text: string,
  figure: (implied: Extract<ImpliedForwardResult, { ok: true }>) => number,
): Derivation => ({
  kind: 'procedure',
  text,
  core: 'forwardOfPairs',
  settings: {},
  run: (inputs) => {
    const pairs = pairsOf({ strike: inputs.column('K'), gap: inputs.column('g'), width: inputs.column('u') });
    const prior = inputs.has('D₂') ? { discountFactor: inputs.number('D₂'), error: inputs.number('s₂') } : undefined;
    const implied = forwardOfPairs(pairs, prior && { prior });
    return implied.ok ? figure(implied) : null;
  },
});
const jointly = (text: string): Derivation => ({
  kind: 'fit',
  text: `${text} of all expiries together, with rate, borrow and dividends`,
  core: 'deriveSurface',
});

/** The carried one, that of the expiry's own pairs, or with what the quotes of all expiries together imply of the carry. */
function forwardDerivation(subject: ExpirySubject): Derivation {
  if (subject.expiry.forwardSource === 'carry') return formula('F′');
  if (isJoint(subject)) return jointly(PARITY_LINE);
  return ofPairs(
    `${PARITY_LINE}, least squares weighted with 1 / u², D with what is known of it besides`,
    ({ forward }) => forward,
  );
}

/** What is known of the discount factor besides the pairs. */
const priorInputs = (subject: ExpirySubject) =>
  factorInputs(subject).filter(({ symbol }) => symbol === 'D₂' || symbol === 's₂');

/** Forward and discount factor of an expiry, and the rate and yield that they stand for. */
export const FORWARD_MEASURES: readonly ExpiryMeasure[] = [
  {
    id: 'forward',
    label: 'forward',
    unit: 'price',
    definition: 'The price for delivery at expiry that the options themselves imply.',
    derivation: forwardDerivation,
    source: PARITY,
    value: ({ expiry }) => expiry.forward,
    inputs: (subject) => [
      ...parityInputs(subject),
      timeInput(subject),
      ...priorInputs(subject),
      {
        symbol: 'F′',
        label: 'carry forward (spot and curve, no yield)',
        value: subject.expiry.carryForward,
        unit: 'price',
        source: subject.expiry.curveRate === null ? 'no rate curve is stored' : 'rate curve',
      },
      {
        symbol: 'q',
        label: 'yield that explains the difference',
        value: subject.expiry.impliedYield,
        unit: 'rate',
        source: 'implied',
      },
    ],
    series: ({ expiry }) => pairSeries(expiry),
    needsQuotes: true,
    note: (subject) => forwardNote(subject.expiry.forwardReason) ?? carryNote(subject),
  },
  {
    id: 'pairsUsed',
    label: 'pairs that the forward is fitted to',
    shortLabel: 'pairs',
    unit: 'count',
    definition: 'Strikes whose call and put are both usable and do not contradict the other pairs.',
    absence: 'where the forward is carried',
    derivation: (subject) =>
      isJoint(subject)
        ? jointly('count of the pairs in line')
        : ofPairs('count of the pairs within 4 robust deviations of the line', (implied) => implied.strikesUsed.length),
    source: SEN,
    value: ({ expiry }) => (expiry.forwardSource === 'parity' ? expiry.pairsUsed : null),
    inputs: priorInputs,
    series: ({ expiry }) => pairSeries(expiry),
    needsQuotes: true,
  },
  {
    id: 'forwardInterval',
    label: 'half of the 90 % interval of the forward',
    shortLabel: '± 90 %',
    unit: 'width',
    definition:
      'The forward lies within as much on either side in nine of ten cases, if the errors of the pairs are normal.',
    absence: 'where the forward has no error: no pair of call and put, or a carried one',
    derivation: formula('1.645 s'),
    source: 'The 95 % quantile of the normal distribution, to three decimals',
    value: ({ expiry }) => (expiry.forwardError === null ? null : NINETY * expiry.forwardError),
    inputs: ({ expiry }) => [
      {
        symbol: 's',
        label: 'standard deviation of the fitted forward',
        value: expiry.forwardError,
        unit: 'width',
        source: 'weighted residuals',
      },
    ],
    note: carryNote,
  },
  {
    id: 'discountFactor',
    label: 'discount factor',
    shortLabel: 'discount factor',
    unit: 'factor',
    definition:
      'Value today of 1 paid at expiry: what the pairs of call and put say, weighed with what curve and other expiries do.',
    derivation: ({ expiry }) => factorFormula(expiry),
    source: PARITY,
    value: ({ expiry }) => expiry.discountFactor,
    inputs: (subject) => [...factorInputs(subject), ...parityInputs(subject)],
    note: ({ expiry }) => forwardNote(expiry.forwardReason) ?? factorNote(expiry),
  },
  {
    id: 'impliedRate',
    label: 'implied rate',
    shortLabel: 'rate %',
    unit: 'rate',
    definition: 'Interest that the discount factor stands for, continuously compounded.',
    derivation: formula('r = −ln(D) / T'),
    source: PARITY,
    value: ({ expiry }) => expiry.impliedRate,
    inputs: (subject) => [
      {
        symbol: 'D',
        label: 'discount factor',
        value: subject.expiry.discountFactor,
        unit: 'factor',
        source: subject.expiry.forwardSource,
      },
      timeInput(subject),
      {
        symbol: 's(r)',
        label: 'standard deviation of the rate',
        value: subject.expiry.rateError,
        unit: 'rate',
        source: subject.expiry.rateError === null ? 'none: taken as it is' : 'of both sides together',
      },
      {
        symbol: 'r′',
        label: 'rate of the curve',
        value: subject.expiry.curveRate,
        unit: 'rate',
        source: subject.expiry.curveRate === null ? 'no rate curve is stored' : 'rate curve',
      },
      ...factorInputs(subject).slice(1),
    ],
    note: (subject) => factorNote(subject.expiry) ?? carryNote(subject),
  },
  {
    id: 'impliedYield',
    label: 'implied yield',
    shortLabel: 'yield %',
    unit: 'rate',
    definition: 'Dividend yield, foreign rate or borrow cost that joins spot and forward.',
    derivation: formula('q = r − ln(F / S) / T'),
    source: PARITY,
    value: ({ expiry }) => expiry.impliedYield,
    inputs: (subject) => [
      {
        symbol: 'r',
        label: 'implied rate',
        value: subject.expiry.impliedRate,
        unit: 'rate',
        source: 'discount factor',
      },
      {
        symbol: 'F',
        label: 'forward',
        value: subject.expiry.forward,
        unit: 'price',
        source: subject.expiry.forwardSource,
      },
      {
        symbol: 'S',
        label: 'price of the underlying',
        value: subject.expiry.underlyingPrice,
        unit: 'price',
        source: instantLabel(subject.picture.asOf),
      },
      timeInput(subject),
    ],
  },
];

/** What is known besides alone, or weighed with what the pairs say. */
function factorFormula({ factorSides: { parity, known } }: ExpirySubject['expiry']): Derivation {
  if (parity && known) return formula('D = p D₁ + (1 − p) D₂');
  return parity ? formula('D₁') : known ? formula('D₂') : STORED;
}

/** What the discount factor was weighed from: the pairs of the expiry, and what is known besides. */
function factorInputs({ expiry }: ExpirySubject): WorkingsInput[] {
  const { parity, known, parityShare } = expiry.factorSides;
  const side = (n: string, label: string, estimate: typeof parity, source: string): WorkingsInput[] =>
    estimate
      ? [
          { symbol: `D${n}`, label, value: estimate.discountFactor, unit: 'factor', source },
          { symbol: `s${n}`, label: 'its standard deviation', value: estimate.error, unit: 'factor', source },
        ]
      : [];
  return [
    { symbol: 'p', label: 'share of the pairs in it', value: parityShare, unit: 'share', source: 'by their errors' },
    ...side('₁', 'of the pairs alone', parity, 'slope of call less put'),
    ...side(
      '₂',
      'known besides',
      known,
      expiry.curveRate === null
        ? 'farther expiries, and what rates usually are: 3 ± 4 %'
        : 'curve, with the spread over it of the farther expiries',
    ),
  ];
}

/** A rate that its own few quotes hardly tell is not known, however many digits it has. */
function factorNote({ rateError }: ExpirySubject['expiry']): string | undefined {
  return rateError !== null && rateError > LARGE_RATE_ERROR
    ? `The rate is hardly known: its standard deviation is ${numberText(rateError * 100, 2)} points.`
    : undefined;
}

/** Standard deviation of a rate above which it says little. */
const LARGE_RATE_ERROR = 0.005;

function forwardNote(reason: ExpirySubject['expiry']['forwardReason']): string | undefined {
  switch (reason) {
    case 'too-few-pairs':
      return 'Too few strikes quote both sides, so the carry forward stands in.';
    case 'not-a-line':
      return 'Call minus put does not fall with the strike, so the carry forward stands in.';
    case 'not-settled':
      return 'Freeing the quotes of early exercise did not settle on a forward, so the carry forward stands in.';
    case 'chosen':
      return 'The carry forward is chosen in the assumptions.';
    case null:
      return undefined;
  }
}
