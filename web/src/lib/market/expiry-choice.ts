import type { AsOfContext } from '../api/as-of-context.ts';
import type { ExpirySurface } from '../api/surface-resource.ts';

/** Anything that lists expiries. */
interface Listing<E extends ExpirySurface> {
  expiries: E[];
}

/** Expiries that the views show: those picked, or all that are in line with each other. */
export function shownExpiries<E extends ExpirySurface>(
  picture: Listing<E>,
  context: Pick<AsOfContext, 'expiries'>,
): E[] {
  const { expiries } = context;
  return picture.expiries.filter((e) => (expiries === undefined ? e.outlier === null : expiries.includes(e.date)));
}

/**
 * Expiry in focus: the chosen one, else the one nearest to a tenor that is asked for, else the first standard monthly a week or
 * more away, else the first.
 */
export function focusExpiry<E extends ExpirySurface>(
  picture: Listing<E>,
  context: Pick<AsOfContext, 'expiry' | 'expiries'> & Partial<Pick<AsOfContext, 'tenor'>>,
): E | undefined {
  const chosen = picture.expiries.find((e) => e.date === context.expiry);
  if (chosen) return chosen;
  const shown = shownExpiries(picture, context);
  const { tenor } = context;
  if (tenor !== undefined && shown.length > 0) {
    const off = (e: E) => Math.abs(e.days - tenor);
    return shown.reduce((nearest, e) => (off(e) < off(nearest) ? e : nearest));
  }
  return shown.find((e) => e.isMonthly && e.days >= 10) ?? shown[0];
}

/** Expiries to show after the user clicks one, and the one in focus: hidden ones come in, the focused one goes out. */
export function clickExpiry(
  picture: Listing<ExpirySurface>,
  context: Pick<AsOfContext, 'expiry' | 'expiries' | 'tenor'>,
  date: string,
): { expiries: string[] | undefined; expiry: string | undefined } {
  const shown = shownExpiries(picture, context).map((e) => e.date);
  const focus = focusExpiry(picture, context)?.date;
  if (!shown.includes(date)) return { expiries: inOrder(picture, [...shown, date]), expiry: date };
  if (date !== focus) return { expiries: context.expiries, expiry: date };
  const rest = shown.filter((d) => d !== date);
  return { expiries: inOrder(picture, rest), expiry: undefined };
}

/** Absent when all in line are shown and nothing else, so that expiries listed later are shown too. */
function inOrder(picture: Listing<ExpirySurface>, dates: string[]): string[] | undefined {
  const usual = shownExpiries(picture, { expiries: undefined }).map((e) => e.date);
  const kept = picture.expiries.map((e) => e.date).filter((d) => dates.includes(d));
  return kept.join() === usual.join() ? undefined : kept;
}
