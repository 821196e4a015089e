import { isDialogOpen } from '../ui/is-dialog-open.ts';
import type { LiveState } from './live-state.svelte.ts';
import type { PageState } from './page-state.svelte.ts';
import type { ViewState } from './view-state.svelte.ts';

/** Keys of everything that follows the context bar and the ribbon: instants and expiries. */
export function contextKeys(event: KeyboardEvent, shell: PageState, view: ViewState, live: LiveState): void {
  if (isDialogOpen()) return;
  switch (shell.keys.actionOf(event)) {
    case 'previousInstant':
      void view.stepping.instant(-1);
      break;
    case 'nextInstant':
      void view.stepping.instant(1);
      break;
    case 'previousSession':
      void view.stepping.session(-1);
      break;
    case 'nextSession':
      void view.stepping.session(1);
      break;
    case 'goTo':
      shell.isGoToOpen = true;
      break;
    case 'live':
      void view.live.toggle();
      break;
    case 'feedToggle':
      if (!view.live.isLive) return;
      void live.command({ action: live.status?.feed?.isToRun ? 'pause' : 'start' });
      break;
    case 'feedStep':
      if (!view.live.isLive) return;
      void live.command({ action: 'step' });
      break;
    case 'previousExpiry':
      void view.stepping.expiry(-1);
      break;
    case 'nextExpiry':
      void view.stepping.expiry(1);
      break;
    case 'monthlies':
      void view.stepping.showExpiries('monthly');
      break;
    case 'allExpiries':
      void view.stepping.showExpiries('all');
      break;
    case 'noExpiries':
      void view.stepping.showExpiries('none');
      break;
    default:
      return;
  }
  event.preventDefault();
}
