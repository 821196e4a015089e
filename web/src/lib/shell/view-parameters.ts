import { asOfContext } from '../api/as-of-context.ts';
import { comparisons, comparisonText } from '../api/comparison.ts';
import type { ViewDefinition } from './view-definition.ts';

/** A view's own parameters of a query. */
export function ownParameters(view: ViewDefinition, parameters: URLSearchParams): URLSearchParams {
  return new URLSearchParams([...parameters].filter(([name]) => name in view.parameters.shape));
}

/** What a view shares with the others of a query; by a name that is its own it shares nothing. */
export function sharedParameters(view: ViewDefinition, parameters: URLSearchParams): URLSearchParams {
  const isShared = (name: string) => name in asOfContext.shape && !(name in view.parameters.shape);
  return new URLSearchParams([...parameters].filter(([name]) => isShared(name)));
}

/** Of a view's own parameters those that mean the same of another underlying. */
export function ownOfAnother(view: ViewDefinition, parameters: URLSearchParams, to: string): URLSearchParams {
  const next = new URLSearchParams([...parameters].filter(([name]) => view.ofAnyUnderlying.includes(name)));
  const compare = next.get('compare');
  if (compare === null) return next;
  // Not beside itself.
  const beside = comparisons.parse(compare).filter((c) => c.asOf !== undefined || c.symbol !== to);
  if (beside.length > 0) next.set('compare', beside.map(comparisonText).join(','));
  else next.delete('compare');
  return next;
}
