<!-- Pricer on an underlying: its inputs follow the context bar and the ribbon. -->
<script lang="ts">
  import { page } from '$app/state';
  import { afterNavigate } from '$app/navigation';
  import ContextBar from '../../shell/context-bar.svelte';
  import ContextNotes from '../../shell/context-notes.svelte';
  import ExpiryRibbon from '../../shell/expiry-ribbon.svelte';
  import PricerView from './pricer-view.svelte';
  import type { Picture } from '$lib/api/picture';
  import { contextKeys } from '$lib/shell/context-keys';
  import { liveState } from '$lib/shell/live-state.svelte';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { PricerState, setPricerState } from './pricer-state.svelte';
  import { setViewState, ViewState } from '$lib/shell/view-state.svelte';
  import { pageTitle } from '$lib/shell/view-definition';
  import { PRICER_VIEW } from './definition';
  import { setWorkingsHost } from '$lib/shell/workings-host';

  interface Props {
    picture: Picture;
  }
  let { picture }: Props = $props();
  const shell = pageState();
  const live = liveState();
  const view = new ViewState(() => picture, live, shell.changes);
  setViewState(view as unknown as ViewState);
  const pricer = setPricerState(new PricerState(view, page.url.searchParams, shell.changes));
  setWorkingsHost(pricer);
  afterNavigate((navigation) => pricer.follow(navigation));
</script>

<svelte:head><title>{pageTitle(PRICER_VIEW, picture.underlying.symbol)}</title></svelte:head>
<svelte:window onkeydown={(event) => contextKeys(event, shell, view, live)} />
<ContextBar />
<ContextNotes own={PRICER_VIEW.parameters} />
<ExpiryRibbon />
<main class="relative flex min-h-0 grow flex-col"><PricerView /></main>
