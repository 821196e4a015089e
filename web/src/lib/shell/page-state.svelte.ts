import { createContext } from 'svelte';
import type { Theme } from '../ui/palette.ts';
import { KeySettings } from './keys.svelte.ts';

/** State of the whole page that is not in its URL: theme, keys, open dialogs. */
export class PageState {
  theme = $state<Theme>('day');
  keys = new KeySettings();
  isSearchOpen = $state(false);
  isKeysOpen = $state(false);
  isGoToOpen = $state(false);

  load(): void {
    this.theme = document.documentElement.dataset.theme === 'night' ? 'night' : 'day';
    this.keys.load();
  }

  toggleTheme(): void {
    this.theme = this.theme === 'day' ? 'night' : 'day';
    document.documentElement.dataset.theme = this.theme;
    localStorage.setItem('theme', this.theme);
  }
}

export const [pageState, setPageState] = createContext<PageState>();
