import type { ChainRow } from '../../api/chain-row.ts';
import type { ExpiryPicture } from '../../api/picture.ts';

/** Which quotes of an expiry are shown. */
export const CHAIN_FILTERS = ['all', 'within3', 'within2', 'traded', 'excluded'] as const;
export type ChainFilter = (typeof CHAIN_FILTERS)[number];

export const FILTER_WORDS: Readonly<Record<ChainFilter, string>> = {
  all: 'all',
  within3: '±3 dev',
  within2: '±2 dev',
  traded: 'traded',
  excluded: 'excluded',
};

/** Said where a filter leaves nothing. */
export const NOTHING_WORDS: Readonly<Record<ChainFilter, string>> = {
  all: 'Nothing is quoted of this expiry.',
  within3: 'No strike lies within three deviations of the forward.',
  within2: 'No strike lies within two deviations of the forward.',
  traded: 'None of these options was traded in the session so far.',
  excluded: 'No quote of these is excluded.',
};

const DEVIATIONS: Partial<Record<ChainFilter, number>> = { within3: 3, within2: 2 };

/**
 * The rows of a filter. Deviations are of the logarithm of the price until expiry, at the money; without a level there all are
 * within. A strike stays whole: where one of its options is wanted, its other side is shown as well if it is listed.
 */
export function filteredRows(
  rows: readonly ChainRow[],
  filter: ChainFilter,
  { forward, atm, years }: Pick<ExpiryPicture, 'forward' | 'atm' | 'years'>,
): ChainRow[] {
  const most = DEVIATIONS[filter];
  const deviation = (atm ?? Infinity) * Math.sqrt(years);
  const isWanted = (row: ChainRow): boolean => {
    if (most !== undefined) return Math.abs(Math.log(row.strike / forward)) <= most * deviation;
    if (filter === 'traded') return (row.volume ?? 0) > 0;
    return filter === 'all' || row.verdict !== null;
  };
  const strikes = new Set(rows.filter(isWanted).map((row) => row.strike));
  return rows.filter((row) => strikes.has(row.strike));
}
