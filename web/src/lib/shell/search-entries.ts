import type { UnderlyingSummary } from '../api/underlying.ts';
import type { ViewDefinition } from './view-definition.ts';

/** Something that search finds: an underlying, or a view. */
export type SearchEntry =
  | { id: string; kind: 'underlying'; name: string; words: string; note: string }
  | { id: string; kind: 'view'; name: string; words: string; note: string; view: ViewDefinition };

/** What a text finds, underlyings first; views only once something is typed. */
export function searchEntries(
  views: readonly ViewDefinition[],
  underlyings: readonly UnderlyingSummary[],
  text: string,
): SearchEntry[] {
  const wanted = text.trim().toLowerCase();
  const holds = (words: string) => words.toLowerCase().includes(wanted);
  const ofUnderlyings = underlyings
    .filter((u) => holds(`${u.symbol} ${u.name} ${u.sector}`))
    .map(({ symbol, name, sector }): SearchEntry => {
      return { id: symbol, kind: 'underlying', name: symbol, words: name, note: sector };
    });
  const ofViews = wanted === '' ? [] : views.filter(({ label }) => holds(label));
  return [
    ...ofUnderlyings,
    ...ofViews.map((view): SearchEntry => {
      return { id: `view ${view.id}`, kind: 'view', name: view.label, words: 'view', note: `key ${view.key}`, view };
    }),
  ];
}
