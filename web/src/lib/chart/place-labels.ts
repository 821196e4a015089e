/**
 * Moves labels apart along one axis so that neighbors keep a least distance, each as near as can be to where it belongs.
 * @param wanted positions; @param gap least distance
 * @returns positions in the same order
 */
export function placeLabels(wanted: readonly number[], gap: number): number[] {
  const order = wanted.map((_, i) => i).sort((a, b) => wanted[a] - wanted[b]);
  // Runs of labels that touch share one center, the mean of what they want.
  const runs: { members: number[]; sum: number }[] = [];
  const start = (run: { members: number[]; sum: number }) =>
    run.sum / run.members.length - (gap * (run.members.length - 1)) / 2;
  for (const i of order) {
    runs.push({ members: [i], sum: wanted[i] });
    while (runs.length > 1) {
      const last = runs[runs.length - 1];
      const before = runs[runs.length - 2];
      if (start(before) + gap * before.members.length <= start(last)) break;
      runs.pop();
      before.members.push(...last.members);
      before.sum += last.sum;
    }
  }
  const placed: number[] = [];
  for (const run of runs) run.members.forEach((i, n) => (placed[i] = start(run) + gap * n));
  return placed;
}
