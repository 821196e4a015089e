import { symbolPart } from '@umwelt/market/symbol';
import { type Here, LeftViews } from './left-views.ts';
import { queryText } from './query-text.ts';
import type { ViewDefinition } from './view-definition.ts';
import { sharedParameters } from './view-parameters.ts';

/**
 * Address of a view from where somebody is: instant, expiries and assumptions go along, its own parameters are as they were
 * when it was left.
 * @param here undefined where no underlying was ever shown
 * @returns undefined where it needs an underlying and there is none
 */
export function viewHref(view: ViewDefinition, here: Here | undefined, left: LeftViews): string | undefined {
  if (view.subject !== 'underlying') return `/${view.id}${queryText(left.of(view, undefined))}`;
  if (!here) return view.isFree ? `/${view.id}` : undefined;
  const next = sharedParameters(view, here.parameters);
  for (const [name, value] of left.of(view, here.symbol)) next.set(name, value);
  return `/${view.id}/${symbolPart(here.symbol)}${queryText(next)}`;
}

/** A page of each view as somebody finds it who opens it first: what a look at all of them goes through. */
export function pagesOf(views: readonly ViewDefinition[], symbol: string): { view: ViewDefinition; address: string }[] {
  const here = { symbol, parameters: new URLSearchParams() };
  return views.flatMap((view) => {
    const address = viewHref(view, here, new LeftViews());
    return address === undefined ? [] : [{ view, address }];
  });
}
