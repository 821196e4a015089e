<script lang="ts">
  import type { PageProps } from './$types';
  import ImportPanel from '$lib/components/import-panel.svelte';
  import { instantLabel, numberText } from '$lib/figures/format';

  let { data }: PageProps = $props();
</script>

<svelte:head><title>Data · Umwelt</title></svelte:head>
<header class="border-line flex h-12 shrink-0 items-center border-b px-4">
  <h1 class="text-[18px] font-bold">Data</h1>
</header>
<main class="flex min-h-0 grow max-[900px]:flex-col">
  <section class="min-w-0 grow overflow-auto px-4 py-4"><ImportPanel /></section>
  <aside
    class="border-line bg-sheet w-[430px] shrink-0 overflow-y-auto border-l px-4 py-4 max-[900px]:w-full max-[900px]:border-l-0"
  >
    <h2 class="small-caps mb-1">Stored</h2>
    {#if data.stored.length === 0}
      <p class="font-serif text-[14.5px]">Nothing is stored yet. Choose a chain file at the left.</p>
    {:else}
      <table class="figures text-[12.5px]">
        <thead><tr><th>underlying</th><th>terms</th><th>latest (UTC)</th><th>export</th></tr></thead>
        <tbody>
          {#each data.stored as u (u.symbol)}
            <tr class="border-hair border-b">
              <td><a class="font-semibold" href="/skew/{u.symbol}">{u.symbol}</a></td>
              <td class="quiet whitespace-nowrap">{u.kind}, {u.exercise}, ×{numberText(u.multiplier, 0)}</td>
              <td class="whitespace-nowrap">{u.latest ? instantLabel(u.latest) : '—'}</td>
              <td class="whitespace-nowrap">
                {#if u.latest}
                  {#each ['csv', 'jsonl'] as const as format (format)}
                    <a
                      class="text-implied ml-2 inline-block min-h-6 min-w-6 leading-6"
                      href="/api/v1/exports/chains/{u.symbol}?format={format}"
                      download
                      aria-label="Export {u.symbol} as {format}"
                      title="latest chain as {format === 'csv' ? 'CSV' : 'JSON lines'}">{format}</a
                    >
                  {/each}
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    <h2 class="small-caps mt-5 mb-1">Imports</h2>
    {#if data.imports.length === 0}
      <p class="quiet">None yet.</p>
    {:else}
      <table class="figures text-[12.5px]" data-testid="imports">
        <thead><tr><th>file</th><th>rows</th><th>slices</th><th>when (UTC)</th></tr></thead>
        <tbody>
          {#each data.imports as i (i.id)}
            <tr class="border-hair border-b"
              ><td class="max-w-36 truncate" title={i.fileName}>{i.fileName}</td><td>{numberText(i.rows, 0)}</td><td
                >{i.slices}</td
              ><td>{instantLabel(i.createdAt)}</td></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  </aside>
</main>
