import { finishAbove } from '@umwelt/core/probability';
import { profitChance, type SurfaceStructure } from '@umwelt/core/structure';
import { ODDS_SOURCES, type OddsSource, type SourceOddsRow } from '../../api/range.ts';

/** A day as sources of one volatility see it. */
export interface SourceDay {
  structure: SurfaceStructure;
  years: number;
  /** Expected price */
  forward: number;
}

/** Chance of profit by one source of odds. */
export interface SourceChance {
  source: OddsSource;
  /** At the first expiry */
  chance: number | null;
  /** One standard deviation, of a drawn one: at most what its break-evens have together */
  error: number | undefined;
  /** Mean profit at the first expiry, per unit of underlying; null of a source that tells single levels alone */
  expected: number | null;
  /** On the day before that is looked at; null likewise, undefined without such a day */
  onDay: number | null | undefined;
  /** Why there is none, or what stands in */
  reason: string | undefined;
}

/** Sources that have one volatility for all prices and days. */
const OF_ONE_VOLATILITY: ReadonlySet<OddsSource> = new Set(['atm', 'index', 'realized', 'forecast', 'typed']);
/** Deviations on either side over which a profit is summed, and places there. */
const REACH = 8;
const PLACES = 801;

/**
 * Chance of profit by each source, from what each tells of ending below the break-evens; of a source of one volatility the mean profit,
 * too, and the chance on an earlier day.
 * @param told of each break-even in their order; of any price where there is none
 */
export function chanceBySource(
  front: SourceDay,
  day: SourceDay | undefined,
  told: readonly (readonly SourceOddsRow[])[],
): SourceChance[] {
  const { breakEvens, profit } = front.structure;
  return ODDS_SOURCES.map((source) => {
    const rows = told.map((answers) => answers.find((row) => row.source === source));
    const missing = rows.find((row) => row?.probability == null);
    const isKnown = rows.every((row) => row?.probability != null);
    const below = (price: number) => rows[breakEvens.indexOf(price)]?.probability ?? NaN;
    const errors = rows.flatMap((row) => (row?.standardError === undefined ? [] : [row.standardError]));
    const volatility = OF_ONE_VOLATILITY.has(source) && isKnown ? (rows.at(0)?.volatility ?? undefined) : undefined;
    return {
      source,
      chance: isKnown ? profitChance(profit, breakEvens, below) : null,
      error: errors.length > 0 ? errors.reduce((a, b) => a + b) : undefined,
      ...ofVolatility(source, volatility, front, day),
      reason: (missing ?? rows.at(0))?.reason,
    };
  });
}

function ofVolatility(
  source: OddsSource,
  volatility: number | undefined,
  front: SourceDay,
  day: SourceDay | undefined,
): Pick<SourceChance, 'expected' | 'onDay'> {
  if (source === 'smile')
    return {
      expected: front.structure.expectedProfit ?? null,
      onDay: day && (day.structure.probabilityOfProfit ?? null),
    };
  if (volatility === undefined) return { expected: null, onDay: day && null };
  return { expected: constantMean(front, volatility), onDay: day && constantChance(day, volatility) };
}

function constantChance({ structure, years, forward }: SourceDay, volatility: number): number {
  const law = { spot: forward, timeToExpiry: years, volatility, drift: 0 };
  return profitChance(structure.profit, structure.breakEvens, (price) => 1 - finishAbove(law, price));
}

/** Mean profit where the price is lognormal. */
function constantMean({ structure, years, forward }: SourceDay, volatility: number): number {
  const deviation = volatility * Math.sqrt(years);
  let [sum, weight] = [0, 0];
  for (let i = 0; i < PLACES; i++) {
    const z = REACH * ((2 * i) / (PLACES - 1) - 1);
    const share = Math.exp(-0.5 * z * z);
    sum += share * structure.profit(forward * Math.exp(deviation * z - 0.5 * deviation * deviation));
    weight += share;
  }
  return sum / weight;
}
