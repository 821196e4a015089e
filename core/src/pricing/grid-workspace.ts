/** Arrays that one solution on a grid works in. */
export interface GridWorkspace {
  payoff: Float64Array;
  values: Float64Array;
  european: Float64Array;
  /** The operator's three diagonals */
  lower: Float64Array;
  middle: Float64Array;
  upper: Float64Array;
  right: Float64Array;
  sweep: Float64Array;
  /** Values before a dividend is taken */
  held: Float64Array;
  /** Weights of four nodes by node, and the first of them: where a dividend lets each fall to */
  weights: Float64Array;
  first: Int32Array;
}

/** Sizes in use are few; a process that met this many begins anew. */
const MOST_KEPT = 64;
const kept = new Map<number, GridWorkspace>();

/**
 * The arrays for so many nodes, kept from one solution to the next: to make them takes as long as a small grid's steps. What
 * they hold lasts until the next solution of that size.
 */
export function gridWorkspace(nodes: number): GridWorkspace {
  const known = kept.get(nodes);
  if (known) return known;
  if (kept.size >= MOST_KEPT) kept.clear();
  const made: GridWorkspace = {
    payoff: new Float64Array(nodes),
    values: new Float64Array(nodes),
    european: new Float64Array(nodes),
    lower: new Float64Array(nodes),
    middle: new Float64Array(nodes),
    upper: new Float64Array(nodes),
    right: new Float64Array(nodes),
    sweep: new Float64Array(nodes),
    held: new Float64Array(nodes),
    weights: new Float64Array(4 * nodes),
    first: new Int32Array(nodes),
  };
  kept.set(nodes, made);
  return made;
}
