import type { ForecastRecord, ForecastRecordRow, Level, LevelBand, LevelExpiry, Place } from '../api/level.ts';
import { formula, type Measure, STORED, type Unit, type WorkingsInput } from './measure.ts';
import { explain, type Workings } from './workings.ts';

/** Implied volatility against its past and against what the underlying did, as it stands at an instant. */
interface PastSubject {
  level: Level;
  /** What is taken for implied volatility, and how realized is estimated, in words */
  words: { implied: string; realized: string };
  record: ForecastRecord | undefined;
}
interface BandSubject extends PastSubject {
  band: LevelBand;
}
interface RecordSubject extends PastSubject {
  row: ForecastRecordRow;
}
interface ExpiryPastSubject extends PastSubject {
  expiry: LevelExpiry;
}

const PRACTICE = 'Common practice, no source';
const CORE = 'core/volatility';

/** Identifier of a figure of Level: measure, then the band, model or expiry that it is of. */
export function pastFigure(measure: string, of?: string | number): string {
  return ['level', measure, of].filter((part) => part !== undefined).join('~');
}

const given = (symbol: string, label: string, value: number | null, unit: Unit, source: string): WorkingsInput => ({
  symbol,
  label,
  value,
  unit,
  source,
});

function placeInputs(place: Place | null, unit: Unit, now: number | null, label: string): WorkingsInput[] {
  return [
    given('σ', label, now, unit, 'at this instant'),
    given('low', 'lowest of the past', place?.low ?? null, unit, place ? `session ${place.lowSession}` : ''),
    given('high', 'highest of the past', place?.high ?? null, unit, place ? `session ${place.highSession}` : ''),
    given('n', 'sessions before with one', place?.count ?? null, 'count', 'stored measures'),
    given('c', 'of them lower', place?.below ?? null, 'count', 'stored measures'),
  ];
}

const impliedInput = ({ level, words }: PastSubject): WorkingsInput =>
  given('σ', words.implied, level.now, 'volatility', 'fitted smiles at this instant');
const realizedInput = ({ level, words }: PastSubject): WorkingsInput =>
  given('ρ', `realized, ${words.realized}`, level.realizedNow.volatility, 'volatility', untilText(level));

function untilText({ realizedNow }: Level): string {
  const { until, isTodayLeftOut, eventSessions } = realizedNow;
  const events = eventSessions > 0 ? `, ${eventSessions} event sessions left out` : '';
  return `daily bars to ${until ?? 'none'}${isTodayLeftOut ? '; the session under way is left out' : ''}${events}`;
}

/** Figures of the level as a whole. */
const PAST_MEASURES: readonly Measure<PastSubject>[] = [
  {
    id: 'implied',
    label: 'implied volatility',
    unit: 'volatility',
    definition: 'What Level takes for implied volatility, at this instant.',
    absence: 'where no smile reaches it',
    derivation: { kind: 'fit', text: 'read from the fitted surface', core: 'core/surface: VolatilitySurface' },
    source: PRACTICE,
    value: ({ level }) => level.now,
    inputs: ({ words }) => [given('', words.implied, null, 'volatility', 'fitted smiles')],
  },
  {
    id: 'percentile',
    label: 'percentile of implied',
    unit: 'percentile',
    definition: 'Share of the sessions before in which it was lower.',
    absence: 'of fewer than two sessions',
    derivation: formula('c / n'),
    source: PRACTICE,
    value: ({ level }) => level.place?.percentile ?? null,
    inputs: ({ level, words }) => placeInputs(level.place, 'volatility', level.now, words.implied),
  },
  {
    id: 'rank',
    label: 'rank of implied',
    unit: 'share',
    definition: 'How far it stands from its lowest to its highest of the sessions before: one spike moves it.',
    absence: 'where it never moved',
    derivation: formula('(σ − low) / (high − low)'),
    source: PRACTICE,
    value: ({ level }) => level.place?.rank ?? null,
    inputs: ({ level, words }) => placeInputs(level.place, 'volatility', level.now, words.implied),
  },
  {
    id: 'low',
    label: 'lowest implied',
    unit: 'volatility',
    definition: 'Lowest of the sessions before and this instant.',
    derivation: STORED,
    source: PRACTICE,
    value: ({ level }) => level.place?.low ?? null,
    inputs: ({ level, words }) => placeInputs(level.place, 'volatility', level.now, words.implied),
  },
  {
    id: 'high',
    label: 'highest implied',
    unit: 'volatility',
    definition: 'Highest of the sessions before and this instant.',
    derivation: STORED,
    source: PRACTICE,
    value: ({ level }) => level.place?.high ?? null,
    inputs: ({ level, words }) => placeInputs(level.place, 'volatility', level.now, words.implied),
  },
  {
    id: 'realized',
    label: 'realized volatility',
    unit: 'volatility',
    definition: ({ words }) => `Of the sessions that have ended, ${words.realized}, annualized by 252.`,
    absence: 'where a session of the window has no bar',
    derivation: {
      kind: 'fit',
      text: 'of daily bars, dividends and splits taken out',
      core: `${CORE}: realizedVolatility`,
    },
    source:
      'Parkinson (1980), Garman & Klass (1980), Rogers & Satchell (1991), Yang & Zhang (2000); RiskMetrics Technical Document (1996)',
    value: ({ level }) => level.realizedNow.volatility,
    inputs: ({ level }) => [
      given('n', 'sessions', level.choice.window, 'count', untilText(level)),
      given(
        '',
        'standard error',
        level.realizedNow.standardError,
        'volatility',
        'spread of the sessions’ own variances',
      ),
    ],
    note: ({ level }) =>
      level.realizedNow.overnightShare === null
        ? undefined
        : `${Math.round(100 * level.realizedNow.overnightShare)} % of the squared moves came overnight.`,
  },
  {
    id: 'ratio',
    label: 'implied over realized',
    unit: 'factor',
    definition:
      'Common practice takes above about 1.15 as high and below 1 as low; what is usual for the underlying its own past tells.',
    absence: 'without realized volatility',
    derivation: formula('σ / ρ'),
    source: PRACTICE,
    value: ({ level }) => level.ratioNow,
    inputs: (subject) => [impliedInput(subject), realizedInput(subject)],
  },
  {
    id: 'ratioPercentile',
    label: 'percentile of implied over realized',
    unit: 'percentile',
    definition: 'Share of the sessions before in which the ratio was lower.',
    absence: 'of fewer than two sessions',
    derivation: formula('c / n'),
    source: PRACTICE,
    value: ({ level }) => level.ratioPlace?.percentile ?? null,
    inputs: ({ level }) => placeInputs(level.ratioPlace, 'factor', level.ratioNow, 'implied over realized'),
  },
  {
    id: 'difference',
    label: 'implied less realized',
    unit: 'points',
    definition: 'Implied volatility less what was realized.',
    absence: 'without realized volatility',
    derivation: formula('σ − ρ'),
    source: PRACTICE,
    value: ({ level }) =>
      level.now === null || level.realizedNow.volatility === null ? null : level.now - level.realizedNow.volatility,
    inputs: (subject) => [impliedInput(subject), realizedInput(subject)],
  },
  {
    id: 'dailyMove',
    label: 'implied daily move',
    unit: 'share',
    definition: 'One standard deviation of a session’s return at the implied volatility.',
    derivation: formula('σ / √252'),
    source: PRACTICE,
    value: ({ level }) => level.dailyMove,
    inputs: (subject) => [impliedInput(subject)],
  },
  {
    id: 'jumpShare',
    label: 'share of jumps',
    unit: 'share',
    definition:
      'Share of the variance within sessions that neighboring quarters of an hour do not explain; not cut at 0. Within two standard errors it is noise.',
    absence: 'without bars within sessions',
    derivation: { kind: 'fit', text: '1 − bipower variation / realized variance', core: `${CORE}: jumpShare` },
    source: 'Barndorff-Nielsen, O. E. & Shephard, N. (2004). Journal of Financial Econometrics 2(1), 1-37',
    value: ({ level }) => level.jumps?.share ?? null,
    inputs: ({ level }) => [
      given('', 'standard error without jumps', level.jumps?.standardError ?? null, 'share', 'quadpower quarticity'),
      given('', 'sessions', level.jumps?.sessions ?? null, 'count', 'bars within sessions'),
    ],
  },
];

/** Figures of what came after, by band of the past's percentiles. */
const BAND_MEASURES: readonly Measure<BandSubject>[] = (
  [
    ['mean', 'mean of implied less what came', 'points', 'Mean over the sessions of the band.'],
    ['median', 'median of implied less what came', 'points', 'Middle of the sessions of the band.'],
    ['worst', 'worst of implied less what came', 'points', 'Least of the sessions of the band.'],
    ['positive', 'share above what came', 'share', 'Share of the sessions in which implied was above what came.'],
    ['sessions', 'sessions of the band', 'count', 'Sessions whose later sessions have all come.'],
    ['independent', 'sessions apart', 'count', 'The most of them whose later sessions do not overlap.'],
  ] as const
).map(([id, label, unit, definition]) => ({
  id,
  label,
  unit,
  definition,
  absence: 'where implied never stood there',
  derivation: {
    kind: 'fit',
    text: 'over stored sessions, blocks of them drawn anew for the interval',
    core: `${CORE}: premiumByBand`,
  },
  source: 'Interval: Künsch, H. R. (1989). Annals of Statistics 17(3), 1217-1241',
  value: ({ band }) => band[id],
  inputs: ({ band, level }) => [
    given('', 'from percentile', band.from, 'share', 'of the 252 sessions before each'),
    given('', 'to percentile', band.to, 'share', ''),
    given('h', 'sessions that came after', level.horizon, 'count', 'as long as implied speaks of'),
    given('', '95 % interval of the mean, from', band.interval?.[0] ?? null, 'points', 'block bootstrap'),
    given('', 'to', band.interval?.[1] ?? null, 'points', 'block bootstrap'),
  ],
}));

/** Figures of how a forecast served. */
const RECORD_MEASURES: readonly Measure<RecordSubject>[] = (
  [
    ['qlike', 'QLIKE', 'factor', 'Mean loss of variance forecasts; 0 were perfect.'],
    ['bias', 'forecast less what came', 'points', 'Mean of forecast minus realized: above 0 it expects too much.'],
  ] as const
).map(([id, label, unit, definition]) => ({
  id,
  label,
  unit,
  definition,
  absence: 'where no forecast could be judged yet',
  derivation: {
    kind: 'fit',
    text: 'out of sample, parameters fitted every 21 sessions on what was known then',
    core: `${CORE}: judgeForecasts`,
  },
  source:
    'Patton, A. J. (2011). Journal of Econometrics 160(1), 246-256; Diebold & Mariano (1995); Harvey, Leybourne & Newbold (1997)',
  value: ({ row }) => row[id],
  inputs: ({ row, record }) => [
    given('h', 'sessions ahead', record?.horizon ?? null, 'count', ''),
    given('', 'forecasts judged', row.count, 'count', `${record?.from ?? ''} to ${record?.to ?? ''}`),
    given('', 'of them that do not overlap', row.independent, 'count', ''),
    given(
      '',
      'chance of as much if it were no better than last month again',
      row.versusNaive?.probability ?? null,
      'share',
      'Diebold & Mariano',
    ),
  ],
  note: () =>
    'The stand-in for variance is Garman & Klass (1980) with the night before, from daily bars: highs and lows of few trades make it small.',
}));

/** Figures of an expiry against the past. */
const EXPIRY_PAST_MEASURES: readonly Measure<ExpiryPastSubject>[] = [
  {
    id: 'expiryRatio',
    label: 'implied over realized',
    unit: 'factor',
    definition: 'At the money over what was realized in as many sessions as are left.',
    absence: 'of fewer than five sessions, or without the bars',
    derivation: formula('σ / ρ'),
    source: PRACTICE,
    value: ({ expiry }) => expiry.ratio,
    inputs: ({ expiry, level }) => [
      given('σ', 'at the money', expiry.atm, 'volatility', 'fitted smile'),
      given('ρ', `realized over ${expiry.sessions} sessions`, expiry.realized, 'volatility', untilText(level)),
    ],
  },
  {
    id: 'coneShare',
    label: 'place among windows',
    unit: 'share',
    definition: 'Share of past windows of as many sessions with a lower realized volatility.',
    absence: 'of fewer than eight windows apart',
    derivation: { kind: 'fit', text: 'count over past windows', core: `${CORE}: realizedSeries` },
    source: 'Hodges, S. & Tompkins, R. (2002). Journal of Derivatives 10(1), 27-42',
    value: ({ expiry }) => expiry.coneShare,
    inputs: ({ expiry }) => [given('σ', 'at the money', expiry.atm, 'volatility', 'fitted smile')],
  },
  {
    id: 'forecast',
    label: 'HAR forecast',
    unit: 'volatility',
    definition: 'Volatility expected to the expiry from the variances of the last day, week and month.',
    absence: 'of too short a history',
    derivation: { kind: 'fit', text: 'least squares on what was known by the last session', core: `${CORE}: fitHar` },
    source: 'Corsi, F. (2009). Journal of Financial Econometrics 7(2), 174-196',
    value: ({ expiry }) => expiry.forecast,
    inputs: ({ expiry }) => [given('h', 'sessions ahead', expiry.sessions, 'count', 'to the expiry')],
  },
];

/** Workings of a figure of Level by its identifier; undefined when there is none. */
export function explainPastFigure(subject: PastSubject, id: string): Workings | undefined {
  const [, name, of] = id.split('~');
  const { symbol } = subject.level;
  const plain = PAST_MEASURES.find((m) => m.id === name);
  if (plain && of === undefined) return explain(plain, subject, id, symbol);
  const band = subject.level.bands[Number(of)];
  const ofBand = BAND_MEASURES.find((m) => m.id === name);
  if (ofBand && band)
    return explain(ofBand, { ...subject, band }, id, `${symbol}, ${100 * band.from} to ${100 * band.to} %`);
  const row = subject.record?.records.find((r) => r.model === of);
  const ofRecord = RECORD_MEASURES.find((m) => m.id === name);
  if (ofRecord && row) return explain(ofRecord, { ...subject, row }, id, `${symbol}, ${row.model}`);
  const expiry = subject.level.expiries.find((e) => e.date === of);
  const ofExpiry = EXPIRY_PAST_MEASURES.find((m) => m.id === name);
  return ofExpiry && expiry && explain(ofExpiry, { ...subject, expiry }, id, `${symbol} ${expiry.date}`);
}
