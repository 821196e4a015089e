/** A figure as it is sent: null for what is not defined. */
export function finiteOrNull(value: number | undefined): number | null {
  return value !== undefined && Number.isFinite(value) ? value : null;
}
