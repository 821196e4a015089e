import { maturityAt } from '../market/index.ts';
import { dateText, instantLabel } from '../ui/format.ts';
import type { ExpiryOverview, Overview } from '../api/picture.ts';
import type { Maturity } from '../api/surface-resource.ts';
import { CARRY_MEASURES } from './carry-measures.ts';
import { pastInputs, standingInputs } from './standing-inputs.ts';
import { REALIZED_MEASURES } from './realized-measures.ts';
import { subscript } from './formula.ts';
import {
  type Derivation,
  formula,
  none,
  type LevelMeasure,
  type LevelSubject,
  STORED,
  type WorkingsInput,
} from './measure.ts';

const PRACTICE = 'Common practice, no source';

/** At-the-money volatilities of the expiries around a number of days, and the share of the variance between them. */
function aroundInputs(picture: Overview, maturity: Maturity | null | undefined): WorkingsInput[] {
  if (!maturity) return [];
  const { near, far, share, days } = maturity;
  const inputs = [near, far]
    .filter((date) => date !== null)
    .flatMap((date, i): WorkingsInput[] => {
      const place = i + 1;
      const expiry = picture.expiries.find((e) => e.date === date);
      if (!expiry) return [];
      const name = dateText(expiry.date, picture.asOf);
      return [
        {
          symbol: `σ${subscript(place)}`,
          label: `at the money ${name}`,
          value: expiry.atm,
          unit: 'volatility',
          source: 'fitted smile',
        },
        {
          symbol: `T${subscript(place)}`,
          label: 'time to it',
          value: expiry.years,
          unit: 'years',
          source: 'calendar, ACT/365',
        },
      ];
    });
  const hasEvents = picture.events.some((e) => e.implied && e.implied.interval[0] > 0);
  return [
    ...inputs,
    {
      symbol: 's',
      label: near === null ? 'share of its variance by then' : 'share of the variance between them by then',
      value: share,
      unit: 'factor',
      source: hasEvents ? 'calendar time, with the steps of the scheduled events' : 'calendar time',
    },
    { symbol: 'T', label: 'time', value: days / 365, unit: 'years', source: `${days} days` },
  ];
}

/** Total variance mixed between the expiries around; from nothing to the first where none is nearer. */
function between(maturity: Maturity | null | undefined): Derivation {
  if (!maturity) return none('no expiries lie around it');
  return formula(
    maturity.near === null ? 'σ = √(s σ₁² T₁ / T)' : 'σ = √((w₁ + s (w₂ − w₁)) / T), w₁ = σ₁² T₁, w₂ = σ₂² T₂',
  );
}

/** Volatilities of the wings and at the money of the surface at some days. */
function wingInputs(maturity: Maturity | null | undefined): WorkingsInput[] {
  const source = 'the surface at these days, total variance of both expiries mixed by s';
  const wing = (symbol: string, label: string, value: number | null | undefined): WorkingsInput => ({
    symbol,
    label,
    value: value ?? null,
    unit: 'volatility',
    source,
  });
  return [
    wing('σC', '25-delta call volatility', maturity?.callVolatility25),
    wing('σP', '25-delta put volatility', maturity?.putVolatility25),
    wing('σ', 'at the money', maturity?.atm),
  ];
}

/** The expiries around a time, the nearest one where it lies outside them. */
function around<T extends { years: number }>(years: number, expiries: readonly T[]): readonly T[] {
  const far = expiries.findIndex((e) => e.years >= years);
  return far < 0 ? expiries.slice(-1) : expiries.slice(Math.max(0, far - 1), far + 1);
}

/** Model-free volatilities of the expiries around 30 days. */
function indexInputs(
  picture: Overview,
  of: (expiry: ExpiryOverview) => number | null,
  source: string,
): WorkingsInput[] {
  const { expiries, asOf } = picture;
  const known = expiries.filter((e) => e.outlier === null && of(e) !== null);
  return around(30 / 365, known).flatMap((e, i): WorkingsInput[] => [
    {
      symbol: `σ${subscript(i + 1)}`,
      label: `model-free ${dateText(e.date, asOf)}`,
      value: of(e),
      unit: 'volatility',
      source,
    },
    { symbol: `T${subscript(i + 1)}`, label: 'time to it', value: e.years, unit: 'years', source: 'calendar, ACT/365' },
  ]);
}

/** Total variance linear in time between the expiries around 30 days. */
function indexBetween(picture: Overview, of: (expiry: ExpiryOverview) => number | null): Derivation {
  const count = indexInputs(picture, of, '').length / 2;
  if (count === 0) return none('no expiry has one');
  return formula(
    count === 1 ? 'σ₁' : 'σ = √((w₁ + (w₂ − w₁) (T − T₁) / (T₂ − T₁)) / T), w₁ = σ₁² T₁, w₂ = σ₂² T₂, T = 30 / 365',
  );
}

/** A figure of the smile at 30 days, and its percentile in the year before. */
function ofMonth(name: 'riskReversal' | 'butterfly', o: { label: string; formula: string }): LevelMeasure[] {
  const placed = ({ picture }: LevelSubject) => picture.shape?.[`${name}25`];
  const inputs = (subject: LevelSubject) =>
    pastInputs(placed(subject)?.standing ?? null, 'points', { low: '', high: '' });
  return [
    {
      id: `${name}30`,
      label: `${o.label} at 30 days`,
      unit: 'points',
      definition: 'Of the surface at 30 days, on undiscounted forward deltas of 25.',
      derivation: formula(o.formula),
      source: PRACTICE,
      value: (subject) => placed(subject)?.value ?? null,
      inputs: ({ picture }) => wingInputs(picture.month),
    },
    {
      id: `${name}30Percentile`,
      label: `percentile of the ${o.label} at 30 days`,
      unit: 'percentile',
      definition: 'Share of the stored sessions of the past year on which it was lower.',
      derivation: formula('c / n'),
      source: PRACTICE,
      value: (subject) => placed(subject)?.standing?.percentile ?? null,
      inputs,
    },
  ];
}

/** Identifier of a figure of the surface at fixed days. */
export function fixedFigure(name: 'atm' | 'riskReversal25' | 'butterfly25', days: number): string {
  return `${name}At${days}`;
}

const AT_DAYS = [
  ['atm', 'at the money', 'volatility', between],
  ['riskReversal25', 'risk reversal', 'points', () => formula('RR = σC − σP')],
  ['butterfly25', 'butterfly', 'points', () => formula('BF = (σC + σP) / 2 − σ')],
] as const;

/** Level, tilt or bend of the surface at any number of days, by the identifier of the figure. */
export function fixedMeasure(id: string): LevelMeasure | undefined {
  const [, wanted, text] = /^(\w+)At(\d+)$/.exec(id) ?? [];
  const known = AT_DAYS.find(([name]) => name === wanted);
  if (!known) return undefined;
  const [name, label, unit, derivation] = known;
  const days = Number(text);
  return {
    id,
    label: `${label} at ${days} days`,
    unit,
    definition: `Of the surface ${days} days out, between the expiries around it.`,
    derivation: ({ picture }) => derivation(maturityAt(picture, days)),
    source:
      'Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71',
    value: ({ picture }) => maturityAt(picture, days)?.[name] ?? null,
    inputs: ({ picture }) => {
      const maturity = maturityAt(picture, days);
      return name === 'atm' ? aroundInputs(picture, maturity) : wingInputs(maturity);
    },
  };
}

const STRIP = 'strip of its quotes';

/** Where the model-free volatility stands in its own past. */
const ofIndexStanding: readonly LevelMeasure[] = [
  {
    id: 'index30Percentile',
    label: 'percentile of model-free volatility at 30 days',
    unit: 'percentile',
    definition: 'Share of the stored sessions of the past year with a lower model-free volatility at 30 days.',
    derivation: formula('c / n'),
    source: PRACTICE,
    value: ({ picture }) => picture.indexStanding?.percentile ?? null,
    inputs: ({ picture }) =>
      standingInputs(picture.indexStanding, 'model-free at 30 days, now', picture.index30, STRIP),
    note: ({ picture }) => (picture.indexStanding ? shortPast(picture.indexStanding.count) : undefined),
  },
  {
    id: 'index30Rank',
    label: 'rank of model-free volatility at 30 days',
    unit: 'share',
    definition:
      'Where the model-free volatility at 30 days stands between the lowest and the highest of the past year.',
    derivation: formula('(σ − low) / (high − low)'),
    source: PRACTICE,
    value: ({ picture }) => picture.indexStanding?.rank ?? null,
    inputs: ({ picture }) =>
      standingInputs(picture.indexStanding, 'model-free at 30 days, now', picture.index30, STRIP),
    note: ({ picture }) => (picture.indexStanding ? shortPast(picture.indexStanding.count) : undefined),
  },
];

export const LEVEL_MEASURES: readonly LevelMeasure[] = [
  ...CARRY_MEASURES,
  {
    id: 'price',
    label: 'price of the underlying',
    unit: 'price',
    definition: 'The underlying as it stood with these quotes.',
    derivation: STORED,
    source: 'Stored with the quotes',
    value: ({ picture }) => picture.price,
    inputs: () => [],
  },
  {
    id: 'priceChange',
    label: 'change of the underlying',
    unit: 'share',
    definition: 'Price against the last stored instant of the session before.',
    derivation: formula('S / S₀ − 1'),
    source: PRACTICE,
    value: ({ picture }) => (picture.previousPrice === null ? null : picture.price / picture.previousPrice - 1),
    inputs: ({ picture }) => [
      { symbol: 'S', label: 'price now', value: picture.price, unit: 'price', source: instantLabel(picture.asOf) },
      {
        symbol: 'S₀',
        label: 'price before',
        value: picture.previousPrice,
        unit: 'price',
        source: picture.previousSession ? instantLabel(picture.previousSession) : 'no session is stored before',
      },
    ],
  },
  {
    id: 'atm30',
    label: 'at-the-money volatility at 30 days',
    unit: 'volatility',
    definition: 'At-the-money volatility 30 days out, between the expiries around it.',
    absence: 'without a smile',
    derivation: ({ picture }) => between(picture.month),
    source: 'Total variance is additive in time: Gatheral, J. (2006). The Volatility Surface, chapter 1',
    value: ({ picture }) => picture.atm30,
    inputs: ({ picture }) => aroundInputs(picture, picture.month),
  },
  {
    id: 'index30',
    label: 'model-free volatility at 30 days',
    unit: 'volatility',
    definition:
      'Variance of the strip of quoted out-of-the-money options over the two expiries around 30 days, as a volatility; excluded quotes are left out. What lies beyond the last strikes is not in it.',
    absence: 'unless expiries lie on both sides of 30 days',
    derivation: ({ picture }) => indexBetween(picture, (e) => e.index),
    source:
      'Demeterfi, Derman, Kamal & Zou (1999). More than you ever wanted to know about volatility swaps; strike rules of the publicly documented index methodology (2009)',
    value: ({ picture }) => picture.index30,
    inputs: ({ picture }) => indexInputs(picture, (e) => e.index, STRIP),
  },
  {
    id: 'index30Completed',
    label: 'model-free volatility at 30 days, completed',
    unit: 'volatility',
    definition:
      'Variance of the whole fitted smiles of the two expiries around 30 days, as a volatility: all strikes, also beyond the quotes. Empty where more than 15 % of an expiry lies beyond them.',
    absence: 'where over 15 % of it lies beyond the quotes',
    derivation: ({ picture }) => indexBetween(picture, (e) => e.indexCompleted?.volatility ?? null),
    source: 'Gatheral, J. (2006). The Volatility Surface, chapter 11, equation 11.5',
    value: ({ picture }) => picture.index30Completed,
    inputs: ({ picture }) =>
      indexInputs(picture, (e) => e.indexCompleted?.volatility ?? null, 'its whole fitted smile'),
    note: ({ picture }) => {
      const beyond = around(
        30 / 365,
        picture.expiries.filter((e) => e.indexCompleted !== null),
      ).map((e) => Math.round(100 * (e.indexCompleted?.beyond ?? 0)));
      return beyond.length > 0 ? `Beyond the quotes lie ${beyond.join(' and ')} % of the variance.` : undefined;
    },
  },
  {
    id: 'percentile',
    label: 'percentile of at-the-money volatility at 30 days',
    unit: 'percentile',
    definition: 'Share of the stored sessions of the past year with a lower volatility at the money at 30 days.',
    derivation: formula('c / n'),
    source: PRACTICE,
    value: ({ picture }) => picture.standing?.percentile ?? null,
    inputs: ({ picture }) => standingInputs(picture.standing, 'at the money at 30 days, now', picture.atm30),
    note: ({ picture }) => (picture.standing ? shortPast(picture.standing.count) : undefined),
  },
  {
    id: 'rank',
    label: 'rank of at-the-money volatility at 30 days',
    unit: 'share',
    definition: 'Where volatility at the money at 30 days stands between the lowest and the highest of the past year.',
    derivation: formula('(σ − low) / (high − low)'),
    source: PRACTICE,
    value: ({ picture }) => picture.standing?.rank ?? null,
    inputs: ({ picture }) => standingInputs(picture.standing, 'at the money at 30 days, now', picture.atm30),
    note: ({ picture }) => (picture.standing ? shortPast(picture.standing.count) : undefined),
  },
  ...ofIndexStanding,
  ...REALIZED_MEASURES,
  ...ofMonth('riskReversal', { label: 'risk reversal', formula: 'RR = σC − σP' }),
  ...ofMonth('butterfly', {
    label: 'butterfly',
    formula: 'BF = (σC + σP) / 2 − σ',
  }),
  {
    id: 'termSlope',
    label: 'slope of the term structure',
    unit: 'points',
    definition: 'At-the-money volatility at 90 days minus that at 30 days.',
    derivation: formula('σ₉₀ − σ₃₀'),
    source: PRACTICE,
    value: ({ picture }) => picture.term?.slope ?? null,
    inputs: ({ picture }) =>
      [30, 90].map((days): WorkingsInput => ({
        symbol: `σ${subscript(days)}`,
        label: `at the money at ${days} days`,
        value: atDays(picture, days),
        unit: 'volatility',
        source: 'the surface',
      })),
    note: () => 'Flat within 0.5 points; humped when an inner expiry stands more than 1 point above both neighbours.',
  },
];

/** Of the surface at fixed days. */
function atDays(picture: Overview, days: number): number | null {
  return picture.maturities.find((m) => m.days === days)?.atm ?? (days === 30 ? (picture.month?.atm ?? null) : null);
}

/** A year has about 252 sessions; with fewer the past is shorter than the name says. */
function shortPast(count: number): string | undefined {
  return count < 240 ? `Only ${count} instants are stored within the past year.` : undefined;
}
