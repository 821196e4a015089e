import { symbolPart } from '@umwelt/market/symbol';
import { comparisonText, parseContext } from '../api/as-of-context.ts';
import type { Picture } from '../api/picture.ts';
import { PRICER_FIELD_NAMES } from '../api/pricer-inputs.ts';
import { focusExpiry } from '../market/index.ts';

/** What is asked of any underlying, by view: the rest of an address belongs to the one that is left. */
const OF_EVERY_VIEW = ['asOf', 'forwardSource', 'volatilitySource', 'basis'];
const OF_VIEW: Record<string, readonly string[]> = {
  term: ['lines', 'skew', 'by', 'axis', 'table', 'sides'],
  skew: ['lines', 'skew', 'by', 'axis', 'table', 'sides'],
  chain: ['lines', 'skew', 'by', 'axis', 'table', 'sides'],
  pricer: ['panel', 'axis', 'measure', 'greeks', 'side', 'contracts'],
};
/** What stays behind, by parameter, in words. */
const LEFT_BEHIND: Record<string, string> = {
  restored: 'quotes put back',
  expiries: 'picked expiries',
  typedVolatility: 'the typed volatility',
  financing: 'the typed carry',
  borrowCost: 'the typed carry',
  pinned: 'the pinned state',
  ...Object.fromEntries(PRICER_FIELD_NAMES.map((name) => [name, 'inputs of the Pricer'])),
};

/** The address of the same question to another underlying, and what could not be asked of it. */
export interface SwitchedUnderlying {
  href: string;
  leftBehind: string[];
}

/**
 * The same view of another underlying: instant or live, panel, axis, sides, basis, what is compared, and the tenor in focus by its
 * days stay. Where no underlying is shown, its Skew.
 * @param url of the page that is left
 * @param shown the picture there, if any
 */
export function switchUnderlying(url: URL, to: string, shown: Picture | undefined): SwitchedUnderlying {
  const view = url.pathname.split('/')[1];
  const of = OF_VIEW[view] as readonly string[] | undefined;
  if (!of || !shown) return { href: `/${view === 'pricer' ? view : 'skew'}/${symbolPart(to)}`, leftBehind: [] };
  const { searchParams } = url;
  const next = new URLSearchParams();
  for (const name of [...OF_EVERY_VIEW, ...of]) {
    const value = searchParams.get(name);
    // A volatility that was typed is of the underlying it was typed for.
    if (value !== null && !(name === 'volatilitySource' && value === 'typed')) next.set(name, value);
  }
  const context = parseContext(searchParams);
  if (context.carry === 'known') next.set('carry', 'known');
  const compare = context.compare.filter((c) => c.asOf !== undefined || c.symbol !== to).map(comparisonText);
  if (compare.length > 0) next.set('compare', compare.join(','));
  const isChosen = context.expiry !== undefined || context.tenor !== undefined;
  const focus = focusExpiry(shown, context);
  if (isChosen && focus)
    next.set('tenor', String(context.expiry === undefined ? context.tenor : Math.round(focus.days)));
  const leftBehind = Object.keys(LEFT_BEHIND).filter((name) => searchParams.has(name) && !next.has(name));
  const query = next.toString().replaceAll('%2C', ',').replaceAll('%3A', ':');
  return {
    href: `/${view}/${symbolPart(to)}${query === '' ? '' : `?${query}`}`,
    leftBehind: [...new Set(leftBehind.map((name) => LEFT_BEHIND[name]))],
  };
}
