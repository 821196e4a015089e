<!-- Pricer without a market: every input is typed. -->
<script lang="ts">
  import { page } from '$app/state';
  import { afterNavigate } from '$app/navigation';
  import PricerView from './pricer-view.svelte';
  import { PricerState, setPricerState } from './pricer-state.svelte';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { pageTitle } from '$lib/shell/view-definition';
  import { PRICER_VIEW } from './definition';
  import { setWorkingsHost } from '$lib/shell/workings-host';

  const pricer = setPricerState(new PricerState(undefined, page.url.searchParams, pageState().changes));
  setWorkingsHost(pricer);
  afterNavigate((navigation) => pricer.follow(navigation));
</script>

<svelte:head><title>{pageTitle(PRICER_VIEW)}</title></svelte:head>
<header class="border-line flex h-12 shrink-0 items-center gap-4 border-b px-4">
  <h1 class="text-[18px] font-bold">Pricer</h1>
  <span class="quiet">no underlying; all inputs are typed</span>
</header>
<main class="relative flex min-h-0 grow flex-col"><PricerView /></main>
