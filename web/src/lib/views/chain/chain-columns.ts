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

/** In the order in which they stand unless it is changed. */
export const CHAIN_COLUMNS = [
  column('bid', 'bid', 56, true),
  column('ask', 'offer', 56, true),
  column('theory', 'theory', 60, true),
  column('standing', 'dear, cheap', 112, true),
  column('market', 'volatility, bid to offer and fit', 190, true),
  column('fitVolatility', 'fit %', 48, true),
  column('delta', 'delta', 52, true),
  column('theta', 'theta/day', 64, true),
  column('vega', 'vega/pt', 56, true),
  column('probabilityItm', 'in money', 60, true),
  column('openInterest', 'open', 58, true),
  column('volume', 'traded', 58),
  column('mid', 'mid', 56),
  column('last', 'last', 56),
  column('bidVolatility', 'bid vol %', 60),
  column('midVolatility', 'mid vol %', 60),
  column('askVolatility', 'offer vol %', 66),
  column('theoryVolatility', 'theory vol %', 72),
  column('earlyExercise', 'early ex', 58),
  column('gamma', 'gamma', 62),
  column('rho', 'rho/pt', 56),
  column('forwardDelta', 'fwd delta', 62),
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
