import { logMoneynessAtDelta, smileVolatility } from '@umwelt/core/surface';
import { finiteOrNull } from '../api/finite-or-null.ts';
import { expirySmile } from '../theory/index.ts';
import { dateText } from '../ui/format.ts';
import { expiryBefore, forwardStepInto, forwardVolatilityInto, shownExpiries, TENOR_DAYS } from '../market/index.ts';
import { standingInputs } from './standing-inputs.ts';
import { EVENT_MEASURES } from './event-measures.ts';
import { IMPLIED_DIVIDEND } from './carry-measures.ts';
import { FIT_MEASURES } from './fit-measures.ts';
import { FORWARD_MEASURES } from './forward-measures.ts';
import { type ExpiryMeasure, type ExpirySubject, formula, type WorkingsInput } from './measure.ts';
import { smileFormula, smileParameters, smileSource } from './smile-inputs.ts';
import { timeInput } from './time-input.ts';

const DELTA_QUOTES = 'Common practice, no source; on undiscounted forward delta';

/** The smile at the money. */
function smileInputs(subject: ExpirySubject): WorkingsInput[] {
  const { forward, forwardSource } = subject.expiry;
  return [
    timeInput(subject),
    { symbol: 'F', label: 'forward', value: forward, unit: 'price', source: forwardSource },
    ...smileParameters(subject.expiry, 0),
  ];
}

/** Volatilities at the deltas of a risk reversal or butterfly. */
function deltaInputs(subject: ExpirySubject, delta: number): WorkingsInput[] {
  const smile = expirySmile(subject.expiry);
  const name = Math.round(delta * 100);
  const inputs = (['call', 'put'] as const).flatMap((side): WorkingsInput[] => {
    const k = smile ? logMoneynessAtDelta(smile, side, delta) : NaN;
    const strike = subject.expiry.forward * Math.exp(k);
    const letter = side === 'call' ? 'C' : 'P';
    return [
      {
        symbol: `σ${letter}`,
        label: `${name}-delta ${side} volatility`,
        value: smile ? finiteOrNull(smileVolatility(smile, k)) : null,
        unit: 'volatility',
        source: 'fitted smile',
      },
      {
        symbol: `K${letter}`,
        label: 'its strike',
        value: finiteOrNull(strike),
        unit: 'price',
        source: 'where the forward delta is reached',
      },
    ];
  });
  return [
    ...inputs,
    { symbol: 'σ', label: 'at the money', value: subject.expiry.atm, unit: 'volatility', source: 'fitted smile' },
  ];
}

const riskReversal = (delta: 10 | 25): ExpiryMeasure => ({
  id: `riskReversal${delta}`,
  label: `${delta}-delta risk reversal`,
  shortLabel: `RR ${delta}`,
  unit: 'points',
  definition: `Volatility of the ${delta}-delta call minus that of the ${delta}-delta put: negative when the downside is dearer.`,
  absence: 'of a level, which has no shape',
  derivation: formula('RR = σC − σP'),
  source: DELTA_QUOTES,
  value: ({ expiry }) => (delta === 25 ? expiry.riskReversal25 : expiry.riskReversal10),
  note: levelNote,
  inputs: (subject) => deltaInputs(subject, delta / 100),
});

const butterfly = (delta: 10 | 25): ExpiryMeasure => ({
  id: `butterfly${delta}`,
  label: `${delta}-delta butterfly`,
  shortLabel: `BF ${delta}`,
  unit: 'points',
  definition: `How far the ${delta}-delta wings stand above the money, on average.`,
  absence: 'of a level, which has no shape',
  derivation: formula('BF = (σC + σP) / 2 − σ'),
  source: DELTA_QUOTES,
  value: ({ expiry }) => (delta === 25 ? expiry.butterfly25 : expiry.butterfly10),
  note: levelNote,
  inputs: (subject) => deltaInputs(subject, delta / 100),
});

const [NEAREST_TENOR, FARTHEST_TENOR] = [TENOR_DAYS[0], TENOR_DAYS[TENOR_DAYS.length - 1]];

/** The fitted expiry before, from which a forward volatility runs; 0 before the first. */
/** Expiries between which a step goes: those that are shown. */
const stepsOf = ({ picture, context }: ExpirySubject) => shownExpiries(picture, context);

function expiryBeforeInputs(subject: ExpirySubject): WorkingsInput[] {
  const { picture, expiry } = subject;
  const before = expiryBefore(stepsOf(subject), expiry);
  const source = before ? dateText(before.date, picture.asOf) : 'no expiry is fitted before';
  return [
    { symbol: 'σ₀', label: 'at the money before', value: before?.atm ?? 0, unit: 'volatility', source },
    { symbol: 'T₀', label: 'time to it', value: before?.years ?? 0, unit: 'years', source },
  ];
}

export const EXPIRY_MEASURES: readonly ExpiryMeasure[] = [
  ...FORWARD_MEASURES,
  IMPLIED_DIVIDEND,
  {
    id: 'atm',
    label: 'at-the-money volatility',
    shortLabel: 'at the money %',
    unit: 'volatility',
    definition: 'Fitted volatility where the strike equals the forward.',
    absence: 'without a smile',
    derivation: ({ expiry }) => smileFormula(expiry, 'k = 0', 0),
    source: ({ expiry }) => smileSource(expiry),
    value: ({ expiry }) => expiry.atm,
    inputs: smileInputs,
    note: levelNote,
  },
  riskReversal(25),
  butterfly(25),
  riskReversal(10),
  butterfly(10),
  {
    id: 'expiryPercentile',
    label: 'percentile of this volatility',
    shortLabel: 'pct',
    unit: 'percentile',
    definition: ({ expiry }) =>
      `Share of the stored sessions of the past year with a lower volatility at ${
        expiry.days < NEAREST_TENOR
          ? `${NEAREST_TENOR} days, the shortest that is kept of the past`
          : expiry.days > FARTHEST_TENOR
            ? `${FARTHEST_TENOR} days, the longest that is kept of the past`
            : 'the same time to expiry, between the fixed days that are kept of it'
      }.`,
    derivation: formula('c / n'),
    source: 'Common practice, no source',
    value: ({ expiry }) => expiry.standing?.percentile ?? null,
    inputs: ({ expiry }) => standingInputs(expiry.standing, 'at the money now', expiry.atm),
  },
  {
    id: 'expiryRank',
    label: 'rank of this volatility',
    shortLabel: 'rank',
    unit: 'percentile',
    definition:
      'Where this volatility stands between the lowest and the highest of the past year at as many days to expiry.',
    derivation: formula('(σ − low) / (high − low)'),
    source: 'Common practice, no source',
    value: ({ expiry }) => expiry.standing?.rank ?? null,
    inputs: ({ expiry }) => standingInputs(expiry.standing, 'at the money now', expiry.atm),
  },
  {
    id: 'forwardVolatility',
    label: 'forward volatility',
    shortLabel: 'forward vol %',
    unit: 'volatility',
    definition: (subject) => {
      const { picture, expiry } = subject;
      const before = expiryBefore(stepsOf(subject), expiry);
      const from = before ? dateText(before.date, picture.asOf) : 'the instant';
      return `Volatility from ${from} to ${dateText(expiry.date, picture.asOf)} that both total variances imply: between expiries that are shown.`;
    },
    absence: 'where total variance falls, or from one delivery of a future to another',
    derivation: formula('√((σ² T − σ₀² T₀) / (T − T₀))'),
    source: 'Total variance is additive in time: Gatheral, J. (2006). The Volatility Surface, chapter 1',
    value: (subject) => forwardVolatilityInto(stepsOf(subject), subject.expiry),
    inputs: (subject) => [
      { symbol: 'σ', label: 'at the money', value: subject.expiry.atm, unit: 'volatility', source: 'fitted smile' },
      timeInput(subject),
      ...expiryBeforeInputs(subject),
    ],
    note: (subject) => {
      const step = forwardStepInto(stepsOf(subject), subject.expiry);
      if (step.ok || step.reason === 'no-smile') return undefined;
      return step.reason === 'other-delivery'
        ? 'The expiry before is on another delivery month: between two there is no forward volatility.'
        : 'Total variance falls from the expiry before to this one: there is no forward volatility.';
    },
  },
  ...FIT_MEASURES,
  ...EVENT_MEASURES,
];

/** Why a smile has no shape, and with it no skew. */
function levelNote({ expiry }: ExpirySubject): string | undefined {
  switch (expiry.smile?.levelReason) {
    case 'too-few-points':
      return 'Fewer than five quotes: a level, and no shape.';
    case 'not-converged':
      return 'No smile could be fitted to these quotes: the search for one did not converge, so a level stands in.';
    default:
      return undefined;
  }
}
