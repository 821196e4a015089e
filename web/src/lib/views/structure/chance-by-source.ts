import { type SurfaceStructure, profitChance } from '@umwelt/core/structure';
import { ODDS_SOURCES, type OddsSource, type SourceOddsRow } from '../../api/range.ts';

/** Chance of profit by one source of odds. */
export interface SourceChance {
  source: OddsSource;
  chance: number | null;
  /** One standard deviation, of a drawn one: at most what its break-evens have together */
  error: number | undefined;
  /** Why there is none, or what stands in */
  reason: string | undefined;
}

/**
 * Chance of profit by each source, from what each tells of ending below the break-evens.
 * @param told of each break-even in their order
 */
export function chanceBySource(
  { breakEvens, profit }: SurfaceStructure,
  told: readonly (readonly SourceOddsRow[])[],
): SourceChance[] {
  return ODDS_SOURCES.map((source) => {
    const rows = told.map((answers) => answers.find((row) => row.source === source));
    const missing = rows.find((row) => row?.probability == null);
    const isKnown = rows.every((row) => row?.probability != null);
    const below = (price: number) => rows[breakEvens.indexOf(price)]?.probability ?? NaN;
    const errors = rows.flatMap((row) => (row?.standardError === undefined ? [] : [row.standardError]));
    return {
      source,
      chance: isKnown ? profitChance(profit, breakEvens, below) : null,
      error: errors.length > 0 ? errors.reduce((a, b) => a + b) : undefined,
      reason: (missing ?? rows.at(0))?.reason,
    };
  });
}
