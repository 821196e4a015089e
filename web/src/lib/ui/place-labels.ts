/** A label that wants to stand at a point; positions and sizes in pixels. */
export interface WantedLabel {
  x: number;
  y: number;
  width: number;
}

/**
 * Heights of labels so that none covers another: each stays at its own height if that is free, else moves to the nearest
 * free one. Earlier labels have precedence.
 * @param height of every label, pixels
 * @returns heights in the same order
 */
export function placeLabels(wanted: readonly WantedLabel[], height: number): number[] {
  const placed: { x: number; y: number; width: number }[] = [];
  for (const label of wanted) {
    const beside = placed.filter((p) => label.x < p.x + p.width && p.x < label.x + label.width);
    const isFree = (y: number) => beside.every((p) => Math.abs(p.y - y) >= height - 1e-6);
    // The nearest free height is the wanted one or just above or below one that is taken.
    const candidates = [label.y, ...beside.flatMap((p) => [p.y - height, p.y + height])].filter(isFree);
    const y = candidates.reduce(
      (best, c) => (Math.abs(c - label.y) < Math.abs(best - label.y) ? c : best),
      candidates[0],
    );
    placed.push({ ...label, y });
  }
  return placed.map((p) => p.y);
}
