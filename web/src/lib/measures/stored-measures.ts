import { finiteOrNull } from '../api/finite-or-null.ts';
import { TENOR_DAYS } from '../market/index.ts';
import { fixedFigure } from './level-measures.ts';

/** Figures that are kept of a derived instant, as the database has them. */
export interface StoredFigures {
  underlyingPrice: number;
  /** At the money at the days that are kept of the past; NaN for none */
  atmByTenor: ArrayLike<number>;
  index30: number | null;
  exEvent30: number | null;
  riskReversal25: number | null;
  butterfly25: number | null;
  impliedFinancing: number | null;
  impliedBorrow: number | null;
}

const atDays = (days: number) => (stored: StoredFigures) => finiteOrNull(stored.atmByTenor[TENOR_DAYS.indexOf(days)]);

/** What is kept of each measure, by its identifier in the catalogue. */
const STORED: readonly (readonly [id: string, of: (stored: StoredFigures) => number | null])[] = [
  ['price', ({ underlyingPrice }) => underlyingPrice],
  ['atm30', atDays(30)],
  ...TENOR_DAYS.map((days) => [fixedFigure('atm', days), atDays(days)] as const),
  ['index30', ({ index30 }) => index30],
  ['exEvent30', ({ exEvent30 }) => exEvent30],
  ['riskReversal30', ({ riskReversal25 }) => riskReversal25],
  ['butterfly30', ({ butterfly25 }) => butterfly25],
  ['implied-financing', ({ impliedFinancing }) => impliedFinancing],
  ['implied-borrow', ({ impliedBorrow }) => impliedBorrow],
];

/** The measures that are kept of the past, by identifier. */
export const STORED_MEASURES: readonly string[] = STORED.map(([id]) => id);

/** Values of an instant under the identifiers of their measures. */
export function storedValues(stored: StoredFigures): Record<string, number | null> {
  return Object.fromEntries(STORED.map(([id, of]) => [id, of(stored)]));
}
