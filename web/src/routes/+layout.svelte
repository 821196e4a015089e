<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import '../app.css';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { onMount } from 'svelte';
  import { Toaster } from 'svelte-sonner';
  import type { LayoutProps } from './$types';
  import KeysDialog from '$lib/shell/keys-dialog.svelte';
  import Rail from '$lib/shell/rail.svelte';
  import SearchDialog from '$lib/shell/search-dialog.svelte';
  import { pricerHref } from '$lib/shell/pricer-href';
  import { LiveState, setLiveState } from '$lib/shell/live-state.svelte';
  import { PageState, setPageState } from '$lib/shell/page-state.svelte';

  let { data, children }: LayoutProps = $props();
  const shell = setPageState(new PageState());
  const live = setLiveState(new LiveState());
  onMount(() => live.connect());
  onMount(() => {
    shell.load();
    // Tells that the page answers to clicks and keys.
    document.body.dataset.live = '';
  });

  const symbol = $derived(page.params.symbol ?? data.underlyings[0]?.symbol);

  function onkeydown(event: KeyboardEvent): void {
    if (document.querySelector('dialog[open]')) return;
    const action = shell.keys.actionOf(event);
    switch (action) {
      case 'term':
      case 'skew':
      case 'chain':
        if (symbol) void goto(`/${action}/${symbolPart(symbol)}${page.params.symbol ? page.url.search : ''}`);
        break;
      case 'pricer':
        if (page.url.pathname.startsWith('/pricer')) return;
        // Where a figure is explained, its own link leads to its option.
        void goto(
          document.querySelector<HTMLAnchorElement>('a[data-pricer]')?.href ??
            pricerHref(symbol, page.url.searchParams),
        );
        break;
      case 'data':
        void goto('/data');
        break;
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
<div class="flex h-screen max-[900px]:h-auto max-[900px]:min-h-screen max-[700px]:flex-col">
  <Rail {symbol} />
  <div class="flex min-w-0 grow flex-col">{@render children()}</div>
</div>
<SearchDialog underlyings={data.underlyings} />
<KeysDialog />
<Toaster position="bottom-left" theme={shell.theme === 'night' ? 'dark' : 'light'} />
