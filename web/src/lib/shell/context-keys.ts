import type { LiveState } from './live-state.svelte.ts';
import type { PageState } from './page-state.svelte.ts';
import type { ViewState } from './view-state.svelte.ts';

/** Keys of everything that follows the context bar and the ribbon: instants and expiries. */
export function contextKeys(event: KeyboardEvent, shell: PageState, view: ViewState, live: LiveState): void {
  if (document.querySelector('dialog[open]')) return;
  switch (shell.keys.actionOf(event)) {
    case 'previousInstant':
      void view.stepInstant(-1);
      break;
    case 'nextInstant':
      void view.stepInstant(1);
      break;
    case 'previousSession':
      void view.stepSession(-1);
      break;
    case 'nextSession':
      void view.stepSession(1);
      break;
    case 'goTo':
      shell.isGoToOpen = true;
      break;
    case 'live':
      void view.toggleLive();
      break;
    case 'feedToggle':
      if (!view.isLive) return;
      void live.command({ action: live.status?.feed?.state === 'running' ? 'pause' : 'start' });
      break;
    case 'feedStep':
      if (!view.isLive) return;
      void live.command({ action: 'step' });
      break;
    case 'previousExpiry':
      void view.stepExpiry(-1);
      break;
    case 'nextExpiry':
      void view.stepExpiry(1);
      break;
    case 'monthlies':
      void view.showExpiries('monthly');
      break;
    case 'allExpiries':
      void view.showExpiries('all');
      break;
    case 'noExpiries':
      void view.showExpiries('none');
      break;
    default:
      return;
  }
  event.preventDefault();
}
