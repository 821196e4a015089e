/**
 * Rows for labels that begin at given places: the first row that is free there, or undefined when all are taken and the
 * label is left out (its flag stays). Earlier labels have precedence.
 * @param labels ascending by place, pixels
 */
export function labelRows(labels: readonly { at: number; text: string }[], rows: number): (number | undefined)[] {
  const ends: number[] = Array<number>(rows).fill(-Infinity);
  return labels.map(({ at, text }) => {
    const row = ends.findIndex((end) => end <= at);
    if (row < 0) return undefined;
    // About 6 pixels a letter at the size of labels, and the flag.
    ends[row] = at + 6.2 * text.length + 18;
    return row;
  });
}
