/**
 * Heights of labels in one column, so that none covers another and their order is that of their points: together as near to
 * them as can be (least squares with kept order: pool adjacent violators).
 * @param wanted heights of the points, ascending, pixels
 * @param height of every label
 * @param range lowest and highest middle of a label; left when there are too many for it
 */
export function labelColumn(wanted: readonly number[], height: number, range: [number, number]): number[] {
  // Less its place in the row each label may stand as high as the one before, no lower.
  const blocks: { mean: number; count: number }[] = [];
  for (const [i, y] of wanted.entries()) {
    let block = { mean: y - i * height, count: 1 };
    for (let last = blocks.at(-1); last && last.mean >= block.mean; last = blocks.at(-1)) {
      const count = last.count + block.count;
      block = { mean: (last.mean * last.count + block.mean * block.count) / count, count };
      blocks.pop();
    }
    blocks.push(block);
  }
  const [low, high] = range;
  const most = high - (wanted.length - 1) * height;
  return blocks
    .flatMap(({ mean, count }) => Array<number>(count).fill(mean))
    .map((mean, i) => Math.max(low, Math.min(most, mean)) + i * height);
}
