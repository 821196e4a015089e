<script lang="ts">
  import type { PageProps } from './$types';
  import FeedPanel from '$lib/views/data/feed-panel.svelte';
  import ImportsList from '$lib/views/data/imports-list.svelte';
  import OwnUnderlyings from '$lib/views/data/own-underlyings.svelte';
  import OddSymbols from '$lib/views/data/odd-symbols.svelte';
  import ProcessesPanel from '$lib/views/data/processes-panel.svelte';
  import QualityTable from '$lib/views/data/quality-table.svelte';
  import StoredTable from '$lib/views/data/stored-table.svelte';
  import WorkPanel from '$lib/views/data/work-panel.svelte';
  import ImportPanel from '$lib/views/data/import/import-panel.svelte';

  import { pageTitle } from '$lib/shell/view-definition';
  import { DATA_VIEW } from '$lib/views/data/definition';

  let { data }: PageProps = $props();
</script>

<svelte:head><title>{pageTitle(DATA_VIEW)}</title></svelte:head>
<header class="border-line flex h-12 shrink-0 items-center border-b px-4">
  <h1 class="text-[18px] font-bold">Data</h1>
</header>
<main class="flex min-h-0 grow max-[1000px]:flex-col">
  <section class="min-w-0 grow overflow-auto px-4 py-4" aria-label="Import, feed and work">
    <ImportPanel />
    <ImportsList imports={data.imports} />
    <FeedPanel />
    <WorkPanel />
    <ProcessesPanel />
    <QualityTable quality={data.quality} />
  </section>
  <aside
    class="border-line bg-sheet w-[640px] shrink-0 overflow-y-auto border-l px-4 py-4 max-[1000px]:w-full max-[1000px]:border-l-0"
    aria-label="What is stored"
  >
    <OddSymbols symbols={data.stored.map((s) => s.symbol)} />
    <OwnUnderlyings underlyings={data.own} />
    <StoredTable stored={data.stored} currencies={data.currencies} />
  </aside>
</main>
