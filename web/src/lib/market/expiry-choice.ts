import type { AsOfContext, ExpirySet } from '../api/as-of-context.ts';
import type { ExpirySurface } from '../api/surface-resource.ts';

/** Anything that lists expiries. */
interface Listing<E extends ExpirySurface> {
  expiries: E[];
}

/** Lines beyond this many cannot be told apart. */
const MOST_READABLE = 10;

/** Expiries that the views show: those picked, or of those in line with each other the ones of a set. */
export function shownExpiries<E extends ExpirySurface>(
  picture: Listing<E>,
  context: Pick<AsOfContext, 'expiries'> & Partial<Pick<AsOfContext, 'expiry'>>,
): E[] {
  const { expiries: choice = 'all' } = context;
  if (Array.isArray(choice)) return picture.expiries.filter((e) => choice.includes(e.date));
  const inLine = picture.expiries.filter((e) => e.outlier === null);
  if (choice === 'all') return inLine;
  const monthlies = inLine.filter((e) => e.isMonthly);
  if (choice === 'monthly') return monthlies;
  // The one that was asked for is seen whatever it is.
  const readable = inLine.filter((e) => e.isMonthly || e.date === context.expiry);
  return inLine.length > MOST_READABLE && monthlies.length > 1 ? readable : inLine;
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

/**
 * Expiries to show after the user clicks one, and the one in focus: hidden ones come in, the focused one goes out.
 * @param opening what is shown where nothing is chosen
 */
export function clickExpiry(
  picture: Listing<ExpirySurface>,
  context: Pick<AsOfContext, 'expiry' | 'expiries' | 'tenor'>,
  date: string,
  opening: ExpirySet = 'all',
): { expiries: AsOfContext['expiries']; expiry: string | undefined } {
  const shown = shownExpiries(picture, context).map((e) => e.date);
  const focus = focusExpiry(picture, context)?.date;
  const choose = (dates: string[], expiry: string | undefined) => ({
    expiries: chosenExpiries(picture, dates, { opening, expiry }),
    expiry,
  });
  if (!shown.includes(date)) return choose([...shown, date], date);
  if (date !== focus) return choose(shown, date);
  return choose(
    shown.filter((d) => d !== date),
    undefined,
  );
}

/**
 * The choice that shows some dates, and those listed later as it is meant: absent when it is what is shown anyway, a set by its
 * name, else the dates.
 */
function chosenExpiries(
  picture: Listing<ExpirySurface>,
  dates: readonly string[],
  o: { opening: ExpirySet; expiry: string | undefined },
): AsOfContext['expiries'] {
  const kept = picture.expiries.map((e) => e.date).filter((d) => dates.includes(d));
  const isShownBy = (set: ExpirySet) => {
    const shown = shownExpiries(picture, { expiries: set, expiry: o.expiry });
    return shown.map((e) => e.date).join() === kept.join();
  };
  if (isShownBy(o.opening)) return undefined;
  return (['all', 'monthly'] as const).find(isShownBy) ?? kept;
}
