/** Throws a RangeError that names the argument and its value unless it is finite and >= minimum (or > when strict). */
export function requireRange(name: string, value: number, o: { minimum?: number; above?: number } = {}): void {
  const bad =
    !Number.isFinite(value) ||
    (o.minimum !== undefined && value < o.minimum) ||
    (o.above !== undefined && !(value > o.above));
  if (!bad) return;
  const bound =
    o.above !== undefined ? ` above ${o.above}` : o.minimum !== undefined ? ` of at least ${o.minimum}` : '';
  throw new RangeError(`${name} must be a finite number${bound}: ${value}`);
}
