/** A corner of an area, in places along and values up. */
export interface GapPoint {
  x: number;
  a: number;
  b: number;
}

/** Stretches in which one line runs on one side of another. */
export interface GapArea {
  /** The first line is above the second */
  isAbove: boolean;
  points: GapPoint[];
}

/**
 * Areas between two lines over the places 0, 1, 2, ..., parted where they cross and where either has no value.
 * @returns each with both lines' values at its places, crossings included
 */
export function gapAreas(a: readonly (number | null)[], b: readonly (number | null)[]): GapArea[] {
  const areas: GapArea[] = [];
  let open: GapArea | undefined;
  for (let x = 0; x < a.length; x++) {
    const [high, low] = [a[x], b[x]];
    if (high === null || low === null) {
      open = undefined;
      continue;
    }
    const isAbove = high >= low;
    if (open && open.isAbove !== isAbove) {
      const last = open.points[open.points.length - 1];
      const share = (last.a - last.b) / (last.a - last.b - (high - low));
      const value = last.a + share * (high - last.a);
      const crossing = { x: last.x + share * (x - last.x), a: value, b: value };
      open.points.push(crossing);
      areas.push((open = { isAbove, points: [crossing] }));
    }
    if (!open) areas.push((open = { isAbove, points: [] }));
    open.points.push({ x, a: high, b: low });
  }
  return areas.filter((area) => area.points.length > 1);
}
