import { QUOTE_MEASURES } from '../../measures/index.ts';

/** A column that the ladder can show beside strike and side. */
export interface ChainColumn {
  id: string;
  label: string;
  /** Pixels; fixed, so that the browser need not measure every cell to place one */
  width: number;
  isUsual: boolean;
}

const column = <T extends string>(id: T, label: string, width: number, isUsual = false) => ({
  id,
  label,
  width,
  isUsual,
});

/** A column of one measure, headed as the catalogue says. */
function measured<T extends string>(id: T, width: number, isUsual = false) {
  const measure = QUOTE_MEASURES.find((m) => m.id === id);
  return column(id, measure?.shortLabel ?? measure?.label ?? id, width, isUsual);
}

/** In the order in which they stand unless it is changed. */
export const CHAIN_COLUMNS = [
  measured('bid', 56, true),
  measured('ask', 56, true),
  measured('theory', 60, true),
  column('standing', 'dear, cheap', 112, true),
  column('market', 'volatility, bid to offer and fit', 190, true),
  measured('fitVolatility', 48, true),
  measured('delta', 52, true),
  measured('theta', 64, true),
  measured('vega', 56, true),
  measured('probabilityItm', 60, true),
  column('openInterest', 'open', 58, true),
  column('volume', 'traded', 58),
  measured('mid', 56),
  measured('last', 56),
  measured('bidVolatility', 60),
  measured('midVolatility', 60),
  measured('askVolatility', 66),
  measured('theoryVolatility', 72),
  measured('earlyExercise', 58),
  measured('gamma', 62),
  measured('rho', 56),
  measured('forwardDelta', 62),
] as const satisfies readonly ChainColumn[];

export type ChainColumnId = (typeof CHAIN_COLUMNS)[number]['id'];
export const USUAL_COLUMNS: readonly ChainColumnId[] = CHAIN_COLUMNS.filter((c) => c.isUsual).map((c) => c.id);

const byId = new Map<string, (typeof CHAIN_COLUMNS)[number]>(CHAIN_COLUMNS.map((c) => [c.id, c]));

export function chainColumn(id: ChainColumnId): ChainColumn & { id: ChainColumnId } {
  return byId.get(id) as ChainColumn & { id: ChainColumnId };
}

/** Columns of a stored list that still exist, each once; the usual ones when none is left. */
export function knownColumns(stored: readonly string[]): ChainColumnId[] {
  const known = [...new Set(stored)].filter((id): id is ChainColumnId => byId.has(id));
  return known.length > 0 ? known : [...USUAL_COLUMNS];
}

/** The list with a column one place further to the front or to the back. */
export function movedColumn(columns: readonly ChainColumnId[], id: ChainColumnId, step: 1 | -1): ChainColumnId[] {
  const at = columns.indexOf(id);
  const to = at + step;
  if (at < 0 || to < 0 || to >= columns.length) return [...columns];
  const next = [...columns];
  [next[at], next[to]] = [next[to], next[at]];
  return next;
}
