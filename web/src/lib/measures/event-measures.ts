import { eventVariances } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import { dateText } from '../ui/format.ts';
import { subscript } from './formula.ts';
import { type ExpiryMeasure, type ExpirySubject, formula, type InputSeries, type WorkingsInput } from './measure.ts';
import { timeInput } from './time-input.ts';

const EVENTS =
  'Dubinsky, A., Johannes, M., Kaeck, A. & Seeger, N. (2019). Option pricing of earnings announcement risks. Review of Financial Studies 32(2), 646-687';

const eventsBefore = ({ picture, expiry }: ExpirySubject) => picture.events.filter((e) => e.instant < expiry.expiry);

/** What comes between now and the expiry at a time of its own, with the variance that the term structure gives it. */
function eventInputs(subject: ExpirySubject): WorkingsInput[] {
  const { picture, expiry } = subject;
  const scheduled = eventsBefore(subject).map(({ label, implied }) => {
    const percent = (move: number) => (move * 100).toFixed(1);
    const [low, high] = implied?.interval ?? [0, 0];
    // What could as well be nothing explains nothing.
    return {
      label,
      variance: implied && low > 0 ? implied.variance : null,
      source: !implied
        ? 'not identifiable from these expiries, and left in'
        : `a move of ${percent(implied.move)} %, 95 % interval ${percent(low)} to ${percent(high)} %${low > 0 ? '' : ': it may be nothing, and is left in'}`,
    };
  });
  const unexplained = picture.unexplained
    .filter((u) => u.expiry <= expiry.date)
    .map((u) => ({
      label: `hump at ${dateText(u.expiry, picture.asOf)}`,
      variance: u.variance,
      source: 'explained by no scheduled event',
    }));
  let place = 0;
  return [
    { symbol: 'σ', label: 'at the money', value: expiry.atm, unit: 'volatility', source: 'fitted smile' },
    timeInput(subject),
    ...[...scheduled, ...unexplained].map(({ label, variance, source }): WorkingsInput => ({
      symbol: variance === null ? '' : `v${subscript(++place)}`,
      label,
      value: variance,
      unit: 'factor',
      source,
    })),
  ];
}

/** The expiries and events that the course of variance and the events' own are fitted to. */
function termSeries({ picture }: ExpirySubject): InputSeries[] {
  const now = Date.parse(picture.asOf);
  const kinds = [...new Set(picture.events.map((e) => e.kind))];
  const volatility = { symbol: 'σ', label: 'at the money', unit: 'volatility' } as const;
  return [
    {
      label: 'expiries',
      source: 'fitted smiles, those out of line left out',
      columns: [{ symbol: 'T', label: 'time to expiry', unit: 'years' }, volatility],
      rows: picture.expiries.filter((e) => e.atm !== null && !e.outlier).map((e) => [e.years, e.atm]),
    },
    {
      label: 'scheduled events',
      source: `one variance for all of a kind: ${kinds.map((kind, i) => `${i + 1} ${kind}`).join(', ')}`,
      columns: [
        { symbol: 't', label: 'time to it', unit: 'years' },
        { symbol: 'kind', label: 'number of its kind', unit: 'count' },
      ],
      rows: picture.events.map((e) => [calendarYears(now, Date.parse(e.instant)), kinds.indexOf(e.kind) + 1]),
    },
  ];
}

const WITHOUT = '√(max(0, σ² T − Σ vⱼ) / T)';

/** What the scheduled events before an expiry are worth. */
export const EVENT_MEASURES: readonly ExpiryMeasure[] = [
  {
    id: 'exEvent',
    label: 'volatility without events',
    shortLabel: 'ex event %',
    unit: 'volatility',
    definition: 'At-the-money volatility of the expiry without the variance of the events before it.',
    absence: 'of an expiry out of line with the others',
    derivation: formula(WITHOUT),
    source: EVENTS,
    value: ({ expiry }) => expiry.exEvent,
    inputs: eventInputs,
  },
  {
    id: 'eventPoints',
    label: 'points that the events account for',
    shortLabel: 'event pts',
    unit: 'points',
    definition: 'At-the-money volatility less what it would be without the events before the expiry.',
    derivation: formula(`σ − ${WITHOUT}`),
    source: EVENTS,
    value: ({ expiry }) => (expiry.atm === null || expiry.exEvent === null ? null : expiry.atm - expiry.exEvent),
    inputs: eventInputs,
  },
  {
    id: 'eventMove',
    label: 'implied event move',
    shortLabel: 'event move %',
    unit: 'share',
    definition:
      'Move of one standard deviation at the last scheduled event before the expiry, from the term structure.',
    derivation: (subject) => ({
      kind: 'procedure',
      text: '√v; w(T) = σ∞² T + (σ₀² − σ∞²)(1 − e^(−sT)) / s + Σ vⱼ fitted to the expiries',
      core: 'eventVariances',
      settings: { event: eventsBefore(subject).length },
      run: (inputs) => {
        const volatilities = inputs.column('σ');
        const points = Array.from(inputs.column('T'), (timeToExpiry, i) => ({
          timeToExpiry,
          volatility: volatilities[i],
        }));
        if (points.length < 2) return null;
        const kinds = inputs.column('kind');
        const events = Array.from(inputs.column('t'), (time, i) => ({ time, kind: String(kinds[i]) }));
        const event = eventVariances(points, events).events.at(eventsBefore(subject).length - 1);
        return event?.ok ? event.move : null;
      },
    }),
    source: EVENTS,
    value: (subject) => eventsBefore(subject).at(-1)?.implied?.move ?? null,
    inputs: () => [],
    series: termSeries,
  },
];
