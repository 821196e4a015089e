/** What is nearest to a time, by the ratio of times: a month is as far from a week as a quarter from a month; undefined of none. */
export function nearestInTime<T>(items: readonly T[], time: number, timeOf: (item: T) => number): T | undefined {
  if (items.length === 0) return undefined;
  const distance = (item: T) => Math.abs(Math.log(timeOf(item) / time));
  return items.reduce((nearest, item) => (distance(item) < distance(nearest) ? item : nearest));
}
