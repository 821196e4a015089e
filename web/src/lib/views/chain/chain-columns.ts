import { QUOTE_MEASURES } from '../../measures/index.ts';

/** A column that the ladder can show beside strike and side. */
export interface ChainColumn {
  id: string;
  head: string;
  label: string;
  definition?: string;
  /** Pixels; fixed, so that the browser need not measure every cell to place one */
  width: number;
  isExtra: boolean;
}

const column = <T extends string>(id: T, head: string, width: number, o: Partial<ChainColumn> = {}) => ({
  label: head,
  isExtra: true,
  ...o,
  id,
  head,
  width,
});
const USUAL = { isExtra: false };

/** A column of one measure, as the catalogue tells it. */
function measured<T extends string>(id: T, width: number, o: Partial<ChainColumn> = {}) {
  const measure = QUOTE_MEASURES.find((m) => m.id === id);
  const told = measure && {
    label: measure.label,
    definition: typeof measure.definition === 'string' ? measure.definition : undefined,
  };
  return column(id, measure?.shortLabel ?? measure?.label ?? id, width, { ...told, ...o });
}

/** In the order in which they stand unless it is changed. */
export const CHAIN_COLUMNS = [
  measured('bid', 56, USUAL),
  measured('ask', 56, USUAL),
  measured('theory', 60, USUAL),
  column('standing', 'dear, cheap', 112, {
    ...USUAL,
    definition:
      'Ticks and volatility points from theory to the nearer of bid and offer; a filled triangle: more than the width of the quote.',
  }),
  column('market', 'volatility, bid to offer and fit', 190, {
    ...USUAL,
    definition:
      'Volatility from bid to offer as a line, dashed for a put; the fitted one as a diamond, filled for a call.',
  }),
  measured('fitVolatility', 48, USUAL),
  measured('delta', 52, USUAL),
  measured('theta', 64, USUAL),
  measured('vega', 56, USUAL),
  measured('probabilityItm', 60, USUAL),
  column('openInterest', 'open', 58, { ...USUAL, definition: 'Contracts open at the last count.' }),
  column('volume', 'traded', 58, { definition: 'Contracts traded in the session.' }),
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
