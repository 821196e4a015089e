/** What single keys do; ids are stable because remapped keys are stored under them. */
export const KEY_ACTIONS = {
  term: { key: '3', label: 'Term' },
  skew: { key: '4', label: 'Skew' },
  chain: { key: '5', label: 'Chain' },
  pricer: { key: 'p', label: 'Pricer' },
  data: { key: 'd', label: 'Data and import' },
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
export type KeyAction = keyof typeof KEY_ACTIONS;

const STORAGE = 'keys';

/** The user's single-key settings: on or off, and other keys for actions (WCAG 2.1.4). Kept in the browser. */
export class KeySettings {
  isOn = $state(true);
  changed = $state<Partial<Record<KeyAction, string>>>({});

  load(): void {
    try {
      const stored = JSON.parse(localStorage.getItem(STORAGE) ?? '{}') as unknown;
      if (typeof stored !== 'object' || stored === null) return;
      if ('isOn' in stored && typeof stored.isOn === 'boolean') this.isOn = stored.isOn;
      if ('changed' in stored && typeof stored.changed === 'object' && stored.changed !== null) {
        for (const [action, key] of Object.entries(stored.changed)) {
          if (action in KEY_ACTIONS && typeof key === 'string' && key.length === 1)
            this.changed[action as KeyAction] = key;
        }
      }
    } catch {
      // Settings that cannot be read are the defaults.
    }
  }

  save(): void {
    localStorage.setItem(STORAGE, JSON.stringify({ isOn: this.isOn, changed: this.changed }));
  }

  keyOf(action: KeyAction): string {
    return this.changed[action] ?? KEY_ACTIONS[action].key;
  }

  /** Action of a pressed key, unless single keys are off or the user is typing. */
  actionOf(event: KeyboardEvent): KeyAction | undefined {
    if (event.altKey && !event.ctrlKey && !event.metaKey) return ALT_ARROWS[event.key];
    if (!this.isOn || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return undefined;
    return (Object.keys(KEY_ACTIONS) as KeyAction[]).find((action) => this.keyOf(action) === event.key);
  }
}

const ALT_ARROWS: Record<string, KeyAction | undefined> = {
  ArrowLeft: 'previousInstant',
  ArrowRight: 'nextInstant',
  ArrowUp: 'previousExpiry',
  ArrowDown: 'nextExpiry',
};

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}
