import type { SurfaceResource } from '../api/surface-resource.ts';
import { instantLabel } from '../ui/format.ts';

/** Name of a comparison's line: its symbol, with the instant when the day is another; that alone of the picture's own. */
export function besideName(picture: SurfaceResource, shown: SurfaceResource): string {
  const { symbol } = picture.underlying;
  if (symbol === shown.underlying.symbol) return instantLabel(picture.asOf);
  const isSameDay = picture.asOf.slice(0, 10) === shown.asOf.slice(0, 10);
  return isSameDay ? symbol : `${symbol}, ${instantLabel(picture.asOf)}`;
}
