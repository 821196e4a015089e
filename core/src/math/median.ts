/** Room to reorder values in, kept between calls: allocating it took longer than selecting. */
let work = new Float64Array(256);

/**
 * Middle value of a list (mean of the middle two), NaN when empty or when a value is NaN. The list is not changed.
 * @param count of the values at the front of the list that are meant; default all
 */
export function median(values: ArrayLike<number>, count = values.length): number {
  if (count === 0) return NaN;
  if (work.length < count) work = new Float64Array(2 * count);
  for (let i = 0; i < count; i++) {
    const value = values[i];
    if (Number.isNaN(value)) return NaN;
    work[i] = value;
  }
  const upper = select(work, count, count >> 1);
  if (count % 2 === 1) return upper;
  // Selecting has put everything not above the upper middle to its left; the lower middle is the largest of them.
  let lower = work[0];
  for (let i = 1; i < count >> 1; i++) if (work[i] > lower) lower = work[i];
  return 0.5 * (lower + upper);
}

/**
 * Value of rank `rank` (from 0) of the first `count`, reordering them so that none left of it is above it and none right of
 * it below.
 * @see Hoare, C. A. R. (1961). Algorithm 65: find. Communications of the ACM 4(7), 321-322.
 */
function select(values: Float64Array, count: number, rank: number): number {
  let left = 0;
  let right = count - 1;
  while (left < right) {
    const pivot = values[rank];
    let i = left;
    let j = right;
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (pivot < values[j]) j--;
      if (i <= j) {
        const held = values[i];
        values[i] = values[j];
        values[j] = held;
        i++;
        j--;
      }
    }
    if (j < rank) left = i;
    if (rank < i) right = j;
  }
  return values[rank];
}
