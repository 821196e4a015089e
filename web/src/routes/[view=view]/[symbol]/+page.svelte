<script lang="ts">
  import { navigating, page } from '$app/state';
  import type { PageProps } from './$types';
  import ChainView from '$lib/components/chain-view.svelte';
  import ContextBar from '$lib/components/context-bar.svelte';
  import ExpiryRibbon from '$lib/components/expiry-ribbon.svelte';
  import SkewView from '$lib/components/skew-view.svelte';
  import TermView from '$lib/components/term-view.svelte';
  import { instantLabel } from '$lib/figures/format';
  import { pageState } from '$lib/state/page-state.svelte';
  import { setViewState, ViewState } from '$lib/state/view-state.svelte';

  let { data }: PageProps = $props();
  const view = setViewState(new ViewState(() => data.picture));
  const shell = pageState();
  const views = { term: TermView, skew: SkewView, chain: ChainView };
  const View = $derived(views[(page.params.view ?? 'skew') as keyof typeof views]);
  /** What is shown is older than what was asked for: only when another picture is on its way. */
  const isLoading = $derived(
    navigating.to?.params?.symbol !== undefined &&
      (navigating.to.params.symbol !== data.picture.underlying.symbol ||
        navigating.to.url.searchParams.get('asOf') !== page.url.searchParams.get('asOf')),
  );

  function onkeydown(event: KeyboardEvent): void {
    if (document.querySelector('dialog[open]')) return;
    switch (shell.keys.actionOf(event)) {
      case 'previousInstant':
        void view.stepInstant(-1);
        break;
      case 'nextInstant':
        void view.stepInstant(1);
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
</script>

<svelte:head><title>{data.picture.underlying.symbol} · Umwelt</title></svelte:head>
<svelte:window {onkeydown} />
<ContextBar />
<ExpiryRibbon />
<main
  class="relative flex min-h-0 grow flex-col transition-opacity delay-150 {isLoading ? 'opacity-50' : ''}"
  aria-busy={isLoading}
>
  {#if isLoading}
    <p class="quiet absolute top-1 left-1/2 z-30 -translate-x-1/2" role="status">
      loading; shown is {instantLabel(data.picture.asOf)}
    </p>
  {/if}
  <View />
</main>
