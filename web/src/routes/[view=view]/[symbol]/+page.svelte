<script lang="ts" module>
  /** Milliseconds after which a wait is said. */
  const SLOW_AFTER = 150;
</script>

<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { navigating, page } from '$app/state';
  import type { PageProps } from './$types';
  import ContextBar from '$lib/shell/context-bar.svelte';
  import ContextNotes from '$lib/shell/context-notes.svelte';
  import ExpiryRibbon from '$lib/shell/expiry-ribbon.svelte';
  import { instantLabel } from '$lib/ui/format';
  import { contextKeys } from '$lib/shell/context-keys';
  import { liveState } from '$lib/shell/live-state.svelte';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { pageTitle } from '$lib/shell/view-definition';
  import { setViewState, ViewState } from '$lib/shell/view-state.svelte';
  import { setWorkingsHost } from '$lib/shell/workings-host';

  let { data }: PageProps = $props();
  const live = liveState();
  const shell = pageState();
  // The page's data are new objects for every view of the same: what is seen is set only when it is another, so that nothing
  // that hangs on it is looked through again.
  // svelte-ignore state_referenced_locally
  let seen = $state.raw(data.seen);
  $effect.pre(() => {
    seen = data.seen;
  });
  const view = setViewState(
    new ViewState(
      () => seen,
      live,
      shell.changes,
      () => data.view.opensWith ?? 'all',
    ),
  );
  setWorkingsHost(view);
  const { View } = $derived(data);
  const isWorkDone = $derived(live.status?.jobs.every((g) => g.running + g.waiting === 0) ?? false);
  let wasWaiting = false;
  $effect(() => {
    // The past that waited for a worker is there now.
    if (isWorkDone && wasWaiting) void invalidateAll();
    wasWaiting = !isWorkDone && seen.waiting > 0;
  });
  /** What is shown is older than what was asked for: only when another picture is on its way. */
  const isLoading = $derived(
    navigating.to?.params?.symbol !== undefined &&
      (navigating.to.params.symbol !== seen.underlying.symbol ||
        navigating.to.url.searchParams.get('asOf') !== page.url.searchParams.get('asOf')),
  );
  /** Only then is it said: of what comes at once nothing would be read, and each change of it has the whole page styled anew. */
  let isSlow = $state(false);
  $effect(() => {
    if (!isLoading) return;
    const timer = setTimeout(() => (isSlow = true), SLOW_AFTER);
    return () => {
      clearTimeout(timer);
      isSlow = false;
    };
  });
</script>

<svelte:head><title>{pageTitle(data.view, seen.underlying.symbol)}</title></svelte:head>
<svelte:window onkeydown={(event) => contextKeys(event, shell, view, live)} />
<ContextBar />
<ContextNotes own={data.view.parameters} />
<ExpiryRibbon />
<main class="relative flex min-h-0 grow flex-col" style:opacity={isSlow ? 0.5 : undefined} aria-busy={isSlow}>
  {#if isSlow}
    <p class="quiet absolute top-1 left-1/2 z-30 -translate-x-1/2" role="status">
      loading; shown is {instantLabel(seen.asOf)}
    </p>
  {/if}
  <View />
</main>
