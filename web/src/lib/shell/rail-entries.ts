import type { Here, LeftViews } from './left-views.ts';
import { viewHref } from './view-address.ts';
import { queryText } from './query-text.ts';
import { type ViewDefinition, viewOfPath } from './view-definition.ts';

/** A view in the rail. */
export interface RailEntry {
  view: ViewDefinition;
  href: string;
  isHere: boolean;
}

/** Views in the rail, those of the day's questions and those below the rule; one that nothing can be shown of is not there. */
export function railEntries(
  views: readonly ViewDefinition[],
  path: string,
  here: Here | undefined,
  left: LeftViews,
): { questions: RailEntry[]; asides: RailEntry[] } {
  const shown = viewOfPath(views, path);
  const isOfUnderlying = path.includes('/', 1);
  const entries = views.flatMap((view): RailEntry[] => {
    // The view that is shown stays as it is.
    const href =
      view === shown && here && isOfUnderlying ? path + queryText(here.parameters) : viewHref(view, here, left);
    return href === undefined ? [] : [{ view, href, isHere: view === shown }];
  });
  return { questions: entries.filter((e) => !e.view.isAside), asides: entries.filter((e) => e.view.isAside) };
}
