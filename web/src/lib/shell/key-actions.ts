import type { ViewDefinition } from './view-definition.ts';

/** What single keys do beside opening views; ids are stable because remapped keys are stored under them. */
const FIXED_ACTIONS = {
  previousInstant: { key: '[', label: 'instant before' },
  nextInstant: { key: ']', label: 'instant after' },
  previousSession: { key: '{', label: 'session before' },
  nextSession: { key: '}', label: 'session after' },
  goTo: { key: 'g', label: 'go to a date' },
  live: { key: 'l', label: 'live, or back' },
  feedToggle: { key: 'f', label: 'start or pause market' },
  feedStep: { key: 's', label: 'one wave of quotes' },
  previousExpiry: { key: ',', label: 'expiry before' },
  nextExpiry: { key: '.', label: 'expiry after' },
  monthlies: { key: 'm', label: 'monthly expiries' },
  allExpiries: { key: 'a', label: 'all expiries' },
  noExpiries: { key: 'n', label: 'no expiries' },
  search: { key: '/', label: 'search' },
  theme: { key: 't', label: 'day or night' },
  keys: { key: '?', label: 'this list' },
} as const;
/** An action of a key: one of the fixed ones, or the id of the view that it opens. */
export type KeyAction = keyof typeof FIXED_ACTIONS | (string & {});

/** All that keys do, by id: the key unless the user chose another, and words. */
export function keyActions(views: readonly ViewDefinition[]): Record<KeyAction, { key: string; label: string }> {
  const opening = views.map(({ id, key, label }) => [id, { key, label }] as const);
  return { ...Object.fromEntries(opening), ...FIXED_ACTIONS };
}
