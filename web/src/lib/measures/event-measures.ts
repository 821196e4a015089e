import type { ExpiryMeasure, ExpirySubject, WorkingsInput } from './measure.ts';
import { timeInput } from './time-input.ts';

const EVENTS =
  'Dubinsky, A., Johannes, M., Kaeck, A. & Seeger, N. (2019). Option pricing of earnings announcement risks. Review of Financial Studies 32(2), 646-687';

const eventsBefore = ({ picture, expiry }: ExpirySubject) => picture.events.filter((e) => e.instant < expiry.expiry);

function eventInputs(subject: ExpirySubject): WorkingsInput[] {
  return [
    { symbol: 'σ', label: 'at the money', value: subject.expiry.atm, unit: 'volatility', source: 'fitted smile' },
    timeInput(subject),
    ...eventsBefore(subject).map((e, j): WorkingsInput => ({
      symbol: `√v${j + 1}`,
      label: e.label,
      value: e.implied?.move ?? null,
      unit: 'share',
      source: e.implied
        ? `95 % interval ${(e.implied.interval[0] * 100).toFixed(1)} to ${(e.implied.interval[1] * 100).toFixed(1)} %`
        : 'not identifiable from these expiries',
    })),
  ];
}

/** What the scheduled events before an expiry are worth. */
export const EVENT_MEASURES: readonly ExpiryMeasure[] = [
  {
    id: 'exEvent',
    label: 'volatility without events',
    unit: 'volatility',
    definition: 'At-the-money volatility of the expiry without the variance of the scheduled events before it.',
    formula: '√((σ² T − Σ vⱼ) / T)',
    source: EVENTS,
    value: ({ expiry }) => expiry.exEvent,
    inputs: eventInputs,
  },
  {
    id: 'eventPoints',
    label: 'points that the events account for',
    unit: 'points',
    definition: 'At-the-money volatility less what it would be without the scheduled events before the expiry.',
    formula: 'σ − √((σ² T − Σ vⱼ) / T)',
    source: EVENTS,
    value: ({ expiry }) => (expiry.atm === null || expiry.exEvent === null ? null : expiry.atm - expiry.exEvent),
    inputs: eventInputs,
  },
  {
    id: 'eventMove',
    label: 'implied event move',
    unit: 'share',
    definition:
      'Move of one standard deviation at the last scheduled event before the expiry, from the term structure.',
    formula: '√v; w(T) = σ∞² T + (σ₀² − σ∞²)(1 − e^(−sT)) / s + Σ vⱼ fitted to the expiries',
    source: EVENTS,
    value: (subject) => eventsBefore(subject).at(-1)?.implied?.move ?? null,
    inputs: eventInputs,
  },
];
