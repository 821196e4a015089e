import type { Overview } from '../api/picture.ts';
import { formula, type LevelMeasure, type WorkingsInput } from './measure.ts';

const PRACTICE = 'Common practice, no source';

/** Variance that events add within 30 days, those that the quotes tell from nothing. */
function heldWithin30({ jumps }: Overview): number {
  return jumps.reduce((sum, e) => (e.years <= 30 / 365 ? sum + e.variance : sum), 0);
}

function exEvent30(picture: Overview): number | null {
  const { atm30 } = picture;
  return atm30 === null ? null : Math.sqrt(Math.max(0, atm30 ** 2 - (heldWithin30(picture) * 365) / 30));
}

function ratio30({ atm30, realized30 }: Overview): number | null {
  return atm30 === null || !realized30 ? null : atm30 / realized30.volatility;
}

/** The level without what is scheduled, and against what the underlying did. */
export const REALIZED_MEASURES: readonly LevelMeasure[] = [
  {
    id: 'exEvent30',
    label: 'at the money at 30 days without events',
    unit: 'volatility',
    definition:
      'What at-the-money volatility at 30 days would be without the scheduled events that the quotes tell from nothing.',
    absence: 'without a smile',
    derivation: formula('√(σ² − v / T)'),
    source: 'Dubinsky, Johannes, Kaeck & Seeger (2019). Review of Financial Studies 32(2), 646-687',
    value: ({ picture }) => exEvent30(picture),
    inputs: ({ picture }) => [
      {
        symbol: 'σ',
        label: 'at the money at 30 days',
        value: picture.atm30,
        unit: 'volatility',
        source: 'fitted smiles',
      },
      {
        symbol: 'v',
        label: 'variance of events within 30 days',
        value: heldWithin30(picture),
        unit: 'factor',
        source: 'term structure',
      },
      { symbol: 'T', label: 'time', value: 30 / 365, unit: 'years', source: '30 days' },
    ],
  },
  {
    id: 'realized30',
    label: 'realized volatility over 30 sessions',
    unit: 'volatility',
    definition: 'Of the last 30 sessions that have ended, from open, high, low and close, annualized by 252.',
    absence: 'without the bars of 31 sessions',
    derivation: formula('√(252 (o + k c + (1 − k) r)), k = 0.34 / (1.34 + (n + 1) / (n − 1))'),
    source: 'Yang, D. & Zhang, Q. (2000). Journal of Business 73(3), 477-491',
    value: ({ picture }) => picture.realized30?.volatility ?? null,
    inputs: ({ picture: { realized30 } }) => {
      const source = `daily bars to ${realized30?.until ?? 'none'}, dividends and splits taken out`;
      const part = (symbol: string, label: string, value: number | undefined): WorkingsInput => ({
        ...{ symbol, label, value: value ?? null, source },
        unit: 'factor',
      });
      return [
        { symbol: 'n', label: 'sessions', value: 30, unit: 'count', source: 'those that have ended' },
        part('o', 'variance of the night', realized30?.overnight),
        part('c', 'variance from open to close', realized30?.openToClose),
        part('r', 'variance within the session, Rogers & Satchell (1991)', realized30?.rogersSatchell),
        {
          symbol: '',
          label: 'standard error',
          value: realized30?.standardError ?? null,
          unit: 'volatility',
          source: 'spread of the sessions’ own variances',
        },
      ];
    },
  },
  {
    id: 'ratio30',
    label: 'implied over realized',
    unit: 'factor',
    definition:
      'At the money at 30 days over realized of 30 sessions: common practice takes above about 1.15 as high, below 1 as low.',
    absence: 'without realized volatility',
    derivation: formula('σ / ρ'),
    source: PRACTICE,
    value: ({ picture }) => ratio30(picture),
    inputs: ({ picture }) => [
      {
        symbol: 'σ',
        label: 'at the money at 30 days',
        value: picture.atm30,
        unit: 'volatility',
        source: 'fitted smiles',
      },
      {
        symbol: 'ρ',
        label: 'realized over 30 sessions',
        value: picture.realized30?.volatility ?? null,
        unit: 'volatility',
        source: `daily bars to ${picture.realized30?.until ?? 'none'}`,
      },
    ],
  },
];
