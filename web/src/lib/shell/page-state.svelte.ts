import { createContext } from 'svelte';
import { Changes } from './changes.svelte.ts';
import type { Theme } from '../ui/palette.ts';
import { LeftViews } from './left-views.ts';
import { KeySettings } from './keys.svelte.ts';
import type { ViewDefinition } from './view-definition.ts';

/** State of the whole page that is not in its URL: theme, keys, how views were left, what was changed, open dialogs. */
export class PageState {
  readonly views: readonly ViewDefinition[];
  theme = $state<Theme>('day');
  readonly keys: KeySettings;
  readonly changes = new Changes();
  left = $state.raw(new LeftViews());
  isSearchOpen = $state(false);
  isKeysOpen = $state(false);
  isGoToOpen = $state(false);

  constructor(views: readonly ViewDefinition[]) {
    this.views = views;
    this.keys = new KeySettings(views);
  }

  load(): void {
    this.theme = document.documentElement.dataset.theme === 'night' ? 'night' : 'day';
    this.keys.load();
    this.left = new LeftViews(sessionStorage);
  }

  toggleTheme(): void {
    this.theme = this.theme === 'day' ? 'night' : 'day';
    document.documentElement.dataset.theme = this.theme;
    localStorage.setItem('theme', this.theme);
  }
}

export const [pageState, setPageState] = createContext<PageState>();
