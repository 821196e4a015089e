/** An expiry out of line with the others. */
export interface OutlierExpiry {
  /** Position in the list */
  index: number;
  /** At-the-money volatility that the expiries around it imply at its time */
  expected: number;
}

/** Relative, on total variance: what noise in two close expiries may make it fall by. */
const FALL = 0.02;

/**
 * Expiries whose at-the-money total variance cannot stand with that of the others: the fewest whose absence leaves it
 * rising with time (the longest rising subsequence stays). An event makes it rise and is no outlier; quotes that belong
 * to another expiry are.
 * @param points ascending in time; volatility per year
 * @see Schensted, C. (1961). Longest increasing and decreasing subsequences. Canadian Journal of Mathematics 13, 179-191.
 */
export function outlierExpiries(points: { timeToExpiry: number; volatility: number }[]): OutlierExpiry[] {
  const total = points.map((p) => p.volatility ** 2 * p.timeToExpiry);
  const length: number[] = [];
  const before: number[] = [];
  // How far the kept ones lie from a smooth course: among subsequences of one length the smoothest stays.
  const bend: number[] = [];
  points.forEach((_, i) => {
    length[i] = 1;
    before[i] = -1;
    bend[i] = 0;
    for (let j = 0; j < i; j++) {
      if (total[i] < total[j] * (1 - FALL)) continue;
      const step = bend[j] + Math.abs(points[i].volatility - points[j].volatility);
      if (length[j] + 1 > length[i] || (length[j] + 1 === length[i] && step < bend[i])) {
        length[i] = length[j] + 1;
        before[i] = j;
        bend[i] = step;
      }
    }
  });
  let last = 0;
  points.forEach((_, i) => {
    if (length[i] > length[last] || (length[i] === length[last] && bend[i] < bend[last])) last = i;
  });
  const kept = new Set<number>();
  for (let i = points.length > 0 ? last : -1; i >= 0; i = before[i]) kept.add(i);
  return points.flatMap((_, i) => (kept.has(i) ? [] : [{ index: i, expected: expectedAt(points, kept, i) }]));
}

/** Linear in total variance between the nearest kept expiries, flat in volatility outside them. */
function expectedAt(points: { timeToExpiry: number; volatility: number }[], kept: Set<number>, i: number): number {
  const near = points.findLastIndex((_, j) => j < i && kept.has(j));
  const far = points.findIndex((_, j) => j > i && kept.has(j));
  if (near < 0) return points[far].volatility;
  if (far < 0) return points[near].volatility;
  const [a, b] = [points[near], points[far]];
  const time = points[i].timeToExpiry;
  const share = (time - a.timeToExpiry) / (b.timeToExpiry - a.timeToExpiry);
  return Math.sqrt(
    ((1 - share) * a.volatility ** 2 * a.timeToExpiry + share * b.volatility ** 2 * b.timeToExpiry) / time,
  );
}
