<script lang="ts">
  import '../app.css';
  import { beforeNavigate, goto } from '$app/navigation';
  import { page } from '$app/state';
  import { onMount } from 'svelte';
  import { Toaster } from 'svelte-sonner';
  import type { LayoutProps } from './$types';
  import KeysDialog from '$lib/shell/keys-dialog.svelte';
  import Rail from '$lib/shell/rail.svelte';
  import SearchDialog from '$lib/shell/search-dialog.svelte';
  import { isDialogOpen } from '$lib/ui/is-dialog-open';
  import { LiveState, setLiveState } from '$lib/shell/live-state.svelte';
  import { PageState, setPageState } from '$lib/shell/page-state.svelte';
  import type { Here } from '$lib/shell/left-views';
  import { viewHref } from '$lib/shell/view-address';
  import { viewOfPath } from '$lib/shell/view-definition';
  import { undoKeys } from '$lib/shell/undo-keys';
  import { VIEWS } from '$lib/views';

  let { data, children }: LayoutProps = $props();
  const shell = setPageState(new PageState(VIEWS));
  const live = setLiveState(new LiveState());
  onMount(() => live.connect());
  onMount(() => {
    shell.load();
    // Tells that the page answers to clicks and keys.
    document.body.dataset.live = '';
  });
  beforeNavigate(({ from }) => {
    const view = from && viewOfPath(VIEWS, from.url.pathname);
    if (view) shell.left.leave(view, from.params?.symbol, from.url.searchParams);
  });

  /** What is shown of an underlying, or was last. */
  const here = $derived.by((): Here | undefined => {
    const { symbol } = page.params;
    if (symbol !== undefined) return { symbol, parameters: page.url.searchParams };
    const [first] = data.underlyings;
    return shell.left.last ?? (first && { symbol: first.symbol, parameters: new URLSearchParams() });
  });

  function onkeydown(event: KeyboardEvent): void {
    if (isDialogOpen() || undoKeys(event, shell.changes, page.url.pathname)) return;
    const action = shell.keys.actionOf(event);
    const view = VIEWS.find((v) => v.id === action);
    if (view) {
      if (viewOfPath(VIEWS, page.url.pathname) === view) return;
      // Where a figure is explained, its own link leads to its option.
      const option = view.id === 'pricer' ? document.querySelector<HTMLAnchorElement>('a[data-pricer]') : null;
      const href = option?.href ?? viewHref(view, here, shell.left);
      // The keyboard stays where it is; taking it away would have the page laid out once more.
      if (href !== undefined) void goto(href, { keepFocus: true });
      event.preventDefault();
      return;
    }
    switch (action) {
      case 'search':
        shell.isSearchOpen = true;
        break;
      case 'keys':
        shell.isKeysOpen = true;
        break;
      case 'theme':
        shell.toggleTheme();
        break;
      default:
        return;
    }
    event.preventDefault();
  }
</script>

<svelte:window {onkeydown} />
<div class="flex h-screen max-[1000px]:h-auto max-[1000px]:min-h-screen max-[700px]:flex-col">
  <Rail {here} />
  <div class="flex min-w-0 grow flex-col">
    {#if data.isOpen}
      <p role="note" class="border-b border-line bg-sheet px-4 py-1 text-[12px] text-soft">
        Open to the network: whoever reaches this port reads and changes everything here.
      </p>
    {/if}
    {@render children()}
  </div>
</div>
<SearchDialog underlyings={data.underlyings} {here} />
<KeysDialog />
<!-- Beside the rail, whose buttons a notice would cover. -->
<Toaster
  position="bottom-left"
  offset={{ left: '80px', bottom: '16px' }}
  theme={shell.theme === 'night' ? 'dark' : 'light'}
  toastOptions={{ class: '!bg-sheet !text-ink !border-line !rounded-none !font-sans !text-[13px]' }}
/>
