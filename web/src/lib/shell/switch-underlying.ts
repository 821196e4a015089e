import { symbolPart } from '@umwelt/market/symbol';
import { parseContext } from '../api/as-of-context.ts';
import type { Overview } from '../api/picture.ts';
import { focusExpiry } from '../market/index.ts';
import { ownOfAnother } from './view-parameters.ts';
import { queryText } from './query-text.ts';
import { type ViewDefinition, viewOfPath } from './view-definition.ts';

/** Where an underlying is looked at first. */
export const FIRST_VIEW = 'skew';

/** Of the shared context, what is asked of any underlying. */
const OF_ANY = ['asOf', 'forwardSource', 'volatilitySource', 'basis'];
/** What stays behind of it, by parameter, in words. */
const LEFT_BEHIND: Record<string, string> = {
  restored: 'quotes put back',
  expiries: 'picked expiries',
  typedVolatility: 'the typed volatility',
  financing: 'the typed carry',
  borrowCost: 'the typed carry',
  legs: 'the picked options',
};

/** The address of the same question to another underlying, and what could not be asked of it. */
export interface SwitchedUnderlying {
  href: string;
  leftBehind: string[];
}

/**
 * Asks another underlying what is asked of this one: instant or live, panel, axis, sides, basis, what is compared, and the tenor in focus by its
 * days stay. Where no underlying is shown, its Skew.
 * @param url of the page that is left
 * @param shown the picture there, if any
 */
export function switchUnderlying(
  views: readonly ViewDefinition[],
  url: URL,
  to: string,
  shown: Overview | undefined,
): SwitchedUnderlying {
  const view = viewOfPath(views, url.pathname);
  if (view?.subject !== 'underlying' || !shown) {
    const next = view?.subject === 'underlying' ? view.id : FIRST_VIEW;
    return { href: `/${next}/${symbolPart(to)}`, leftBehind: [] };
  }
  const { searchParams } = url;
  const next = new URLSearchParams();
  for (const name of OF_ANY) {
    const value = searchParams.get(name);
    // A volatility that was typed is of the underlying it was typed for.
    if (value !== null && !(name === 'volatilitySource' && value === 'typed')) next.set(name, value);
  }
  for (const [name, value] of ownOfAnother(view, searchParams, to)) next.set(name, value);
  const context = parseContext(searchParams);
  if (typeof context.expiries === 'string') next.set('expiries', context.expiries);
  if (context.carry === 'known') next.set('carry', 'known');
  const isChosen = context.expiry !== undefined || context.tenor !== undefined;
  const focus = focusExpiry(shown, context);
  if (isChosen && focus)
    next.set('tenor', String(context.expiry === undefined ? context.tenor : Math.round(focus.days)));
  const words = { ...LEFT_BEHIND, ...view.leftBehind };
  const leftBehind = Object.keys(words).filter((name) => searchParams.has(name) && !next.has(name));
  return {
    href: `/${view.id}/${symbolPart(to)}${queryText(next)}`,
    leftBehind: [...new Set(leftBehind.map((name) => words[name]))],
  };
}
