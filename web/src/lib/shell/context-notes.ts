import { asOfContext, asOfText, LIVE } from '../api/as-of-context.ts';
import type { Overview } from '../api/picture.ts';
import { expiryDate } from '../api/quantity.ts';
import { focusExpiry } from '../market/index.ts';
import { dateText, daysText, instantLabel } from '../ui/format.ts';

/** What the address asks for and is not shown, and the parameter that asks for it. */
export interface ContextNote {
  parameter: string;
  text: string;
}

/** A stored instant this long before the one that is asked for is not what was meant: more than a long weekend. */
const FAR = 4 * 86_400_000;
/** An expiry this much, and so many days, off a tenor is another tenor. */
const OTHER_TENOR = { share: 0.25, days: 3 };

/** Where instant or expiry of an address are malformed, impossible or far from what is there: what is shown in their place. */
export function contextNotes(picture: Overview, parameters: URLSearchParams): ContextNote[] {
  const context = asOfContext.parse(Object.fromEntries(parameters));
  const { symbol } = picture.underlying;
  const notes: ContextNote[] = [];
  const note = (parameter: ContextNote['parameter'], text: string) => notes.push({ parameter, text });

  const asOf = parameters.get('asOf');
  const shown = instantLabel(picture.asOf);
  if (asOf !== null && !asOfText.safeParse(asOf).success) {
    note('asOf', `“${brief(asOf)}” is no instant, such as 2031-03-07T17:30:00+01:00; shown is ${shown}.`);
  } else if (asOf === LIVE && !picture.isLive) {
    note('asOf', `The feed does not quote ${symbol}; shown is the latest stored instant, ${shown}.`);
  } else if (asOf !== null && asOf !== LIVE) {
    const ahead = Date.parse(asOf) - Date.parse(picture.asOf);
    if (ahead < 0)
      note('asOf', `Nothing of ${symbol} is stored at or before ${instantLabel(asOf)}; shown is the first, ${shown}.`);
    else if (ahead > FAR)
      note('asOf', `The last that is stored of ${symbol} before ${instantLabel(asOf)} is of ${shown}.`);
  }

  const focus = focusExpiry(picture, context);
  const inFocus = focus
    ? `in focus is ${dateText(focus.date, picture.asOf)}, ${daysText(focus.days)} days`
    : 'none is shown';
  const expiry = parameters.get('expiry');
  const lists = (date: string) => picture.expiries.some((e) => e.date === date);
  if (expiry !== null && !expiryDate.safeParse(expiry).success) {
    note('expiry', `“${brief(expiry)}” is no date, such as 2031-04-18; ${inFocus}.`);
  } else if (expiry !== null && !lists(expiry)) {
    note('expiry', `${symbol} has no expiry on ${dateText(expiry, picture.asOf)}; ${inFocus}.`);
  } else if (expiry === null && context.tenor !== undefined && focus) {
    const off = Math.abs(focus.days - context.tenor);
    if (off > OTHER_TENOR.days && off > OTHER_TENOR.share * context.tenor)
      note('tenor', `${symbol} has no expiry near ${context.tenor} days; ${inFocus}.`);
  }
  const expiries = parameters.get('expiries');
  if (expiries !== null && context.expiries === undefined)
    note('expiries', `“${brief(expiries)}” are no dates of expiries; shown is what is shown without a choice.`);
  else if (Array.isArray(context.expiries) && context.expiries.length > 0 && !context.expiries.some(lists))
    note('expiries', `${symbol} has none of the expiries that were picked.`);
  return notes;
}

function brief(text: string): string {
  return text.length > 40 ? `${text.slice(0, 40)}…` : text;
}
