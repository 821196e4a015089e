import { type KeyAction, keyActions } from './key-actions.ts';
import type { ViewDefinition } from './view-definition.ts';

const STORAGE = 'keys';

/** The user's single-key settings: on or off, and other keys for actions (WCAG 2.1.4). Kept in the browser. */
export class KeySettings {
  isOn = $state(true);
  changed = $state<Partial<Record<KeyAction, string>>>({});
  readonly actions: ReturnType<typeof keyActions>;

  constructor(views: readonly ViewDefinition[]) {
    this.actions = keyActions(views);
  }

  load(): void {
    try {
      const stored = JSON.parse(localStorage.getItem(STORAGE) ?? '{}') as unknown;
      if (typeof stored !== 'object' || stored === null) return;
      if ('isOn' in stored && typeof stored.isOn === 'boolean') this.isOn = stored.isOn;
      if ('changed' in stored && typeof stored.changed === 'object' && stored.changed !== null) {
        for (const [action, key] of Object.entries(stored.changed)) {
          if (action in this.actions && typeof key === 'string' && key.length === 1) this.changed[action] = key;
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
    return this.changed[action] ?? this.actions[action].key;
  }

  /** Action of a pressed key, unless single keys are off or the user is typing. */
  actionOf(event: KeyboardEvent): KeyAction | undefined {
    if (event.altKey && !event.ctrlKey && !event.metaKey) return ALT_ARROWS[event.key];
    if (!this.isOn || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return undefined;
    return Object.keys(this.actions).find((action) => this.keyOf(action) === event.key);
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
