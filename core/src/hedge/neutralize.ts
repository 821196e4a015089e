import { solveLinear } from '../math/index.ts';
import { cheapestBasis } from './least-cost.ts';
import { nearestWhole } from './nearest-whole.ts';

/** Sums that can be brought to nothing. */
export const HEDGED_GREEKS = ['delta', 'gamma', 'theta', 'vega', 'vanna', 'volga'] as const;
export type HedgedGreek = (typeof HEDGED_GREEKS)[number];
export type Exposures = Readonly<Record<HedgedGreek, number>>;

/** What may be traded, by one unit of it. */
export interface HedgeInstrument {
  exposures: Exposures;
  /** Of trading one unit either way, such as half its spread; undefined where it is not known */
  cost?: number;
}

export interface HedgeInput {
  position: Exposures;
  instruments: readonly HedgeInstrument[];
  /** Sums to be brought to nothing; none twice */
  targets: readonly HedgedGreek[];
  /** Only whole numbers are traded: as near to nothing as they come */
  isWhole?: boolean;
}

export type Hedge =
  | { ok: true; quantities: number[] }
  /** No quantities reach it, or many do and no costs choose among them */
  | { ok: false; reason: 'inconsistent' | 'underdetermined' };

/** A pivot or a remainder below this share of what it is made of is rounding of decimals. */
const ROUNDING = 1e-12;
/** Rounds of taking the rest of A x = b off: each wins what the arithmetic lost. */
const REFINEMENTS = 2;
/**
 * Quantities of instruments that bring chosen sums of a position to nothing: exact where there is one answer, the cheapest where
 * there are many and every instrument has a cost, of which never more than as many as there are sums are traded.
 */
export function neutralize(o: HedgeInput): Hedge {
  const { position, instruments, targets } = o;
  const rows = targets.map((name) => instruments.map((i) => i.exposures[name]));
  const right = targets.map((name) => -position[name]);
  const { rank, isConsistent } = eliminated(rows, right);
  if (!isConsistent) return { ok: false, reason: 'inconsistent' };
  let traded = instruments.map((_, i) => i);
  if (rank < instruments.length) {
    const costs = instruments.map((i) => i.cost);
    if (!costs.every((cost) => cost !== undefined)) return { ok: false, reason: 'underdetermined' };
    const basis = cheapestBasis(rows, right, costs);
    if (!basis) return { ok: false, reason: 'inconsistent' };
    traded = basis;
  }
  const quantities = instruments.map(() => 0);
  const exact = solved(
    rows.map((row) => traded.map((j) => row[j])),
    right,
  );
  for (const [i, j] of traded.entries()) quantities[j] = exact[i];
  return { ok: true, quantities: o.isWhole ? whole(rows, right, quantities) : quantities };
}

/** Rank of a system, and whether it has a solution at all, by elimination with full pivoting on rows of one size. */
function eliminated(
  rows: readonly (readonly number[])[],
  right: readonly number[],
): { rank: number; isConsistent: boolean } {
  const sizes = rows.map((row) => Math.max(...row.map(Math.abs), 0));
  const table = rows.map((row, i) => [...row, right[i]].map((x) => x / (sizes[i] || 1)));
  // Columns of one size too: an exposure per 1.00 of volatility is not rounding beside a delta.
  const columns = rows.length === 0 ? 0 : rows[0].length;
  for (let j = 0; j < columns; j++) {
    const size = Math.max(...table.map((line) => Math.abs(line[j])));
    if (size > 0) for (const line of table) line[j] /= size;
  }
  const before = table.map((line) => Math.abs(line[columns]));
  let rank = 0;
  for (; rank < Math.min(table.length, columns); rank++) {
    let [top, at] = [rank, rank];
    for (let i = rank; i < table.length; i++)
      for (let j = rank; j < columns; j++) if (Math.abs(table[i][j]) > Math.abs(table[top][at])) [top, at] = [i, j];
    if (!(Math.abs(table[top][at]) > ROUNDING)) break;
    [table[rank], table[top]] = [table[top], table[rank]];
    [before[rank], before[top]] = [before[top], before[rank]];
    for (const line of table) [line[rank], line[at]] = [line[at], line[rank]];
    for (let i = rank + 1; i < table.length; i++) {
      const factor = table[i][rank] / table[rank][rank];
      for (let j = rank; j <= columns; j++) table[i][j] -= factor * table[rank][j];
      before[i] = Math.max(before[i], Math.abs(factor) * before[rank]);
    }
  }
  const isConsistent = table.slice(rank).every((line, i) => Math.abs(line[columns]) <= 1e-9 * before[rank + i]);
  return { rank, isConsistent };
}

/** The one solution of a system with no more unknowns than rows, all rows of which agree. */
function solved(rows: readonly (readonly number[])[], right: readonly number[]): number[] {
  const n = rows.length === 0 ? 0 : rows[0].length;
  if (n === 0) return [];
  const chosen = independentRows(rows, n);
  const x = new Float64Array(n);
  for (let round = 0; round <= REFINEMENTS; round++) {
    const matrix = Float64Array.from(chosen.flatMap((i) => [...rows[i]]));
    const rest = Float64Array.from(chosen, (i) => right[i] - rows[i].reduce((sum, a, j) => sum + a * x[j], 0));
    if (!solveLinear(matrix, rest)) break;
    for (let j = 0; j < n; j++) x[j] += rest[j];
  }
  return [...x];
}

/** As many rows as there are unknowns that follow from no others, the clearest first. */
function independentRows(rows: readonly (readonly number[])[], count: number): number[] {
  const chosen: number[] = [];
  const left = rows.map((row) => {
    const size = Math.max(...row.map(Math.abs)) || 1;
    return row.map((x) => x / size);
  });
  while (chosen.length < count) {
    const norm = (i: number) => (chosen.includes(i) ? -1 : Math.max(...left[i].map(Math.abs)));
    const next = rows.reduce((best, _, i) => (norm(i) > norm(best) ? i : best), 0);
    const at = left[next].reduce((best, x, j) => (Math.abs(x) > Math.abs(left[next][best]) ? j : best), 0);
    chosen.push(next);
    for (const [i, line] of left.entries()) {
      if (chosen.includes(i)) continue;
      const factor = line[at] / left[next][at];
      for (let j = 0; j < line.length; j++) line[j] -= factor * left[next][j];
    }
  }
  return chosen;
}

/**
 * Whole numbers in a box around exact quantities that leave least of the sums, each as a share of what it was; of one that was
 * nothing, of the largest that one contract moves it.
 */
function whole(rows: readonly (readonly number[])[], right: readonly number[], exact: readonly number[]): number[] {
  const sizes = rows.map((row, i) => Math.abs(right[i]) || Math.max(...row.map(Math.abs)) || 1);
  const traded = exact.flatMap((q, j) => (q === 0 ? [] : [j]));
  const columns = traded.map((j) => Float64Array.from(rows, (row, i) => row[j] / sizes[i]));
  const near = nearestWhole(
    columns,
    Float64Array.from(right, (r, i) => r / sizes[i]),
    traded.map((j) => exact[j]),
  );
  const quantities = exact.map(() => 0);
  for (const [i, j] of traded.entries()) quantities[j] = near[i];
  return quantities;
}
