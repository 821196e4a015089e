<!-- What is stored of each underlying, and its files. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import TableMenu from '../../shell/table-menu.svelte';
  import { countText, instantLabel, numberText } from '$lib/ui/format';

  interface Stored {
    symbol: string;
    instants: number;
    sessions: number;
    gaps: number;
    slices: number;
    first: string | null;
    latest: string | null;
    bars: number;
  }
  interface Props {
    stored: Stored[];
    currencies: string[];
  }
  let { stored, currencies }: Props = $props();
  const TABLES = ['chains', 'bars', 'dividends', 'events'] as const;
  const FORMATS = ['csv', 'jsonl', 'parquet'] as const;
  let table = $state<(typeof TABLES)[number]>('chains');
  let scope = $state<'instant' | 'all'>('instant');
  const query = $derived(table === 'chains' ? `&scope=${scope}` : '');
  const formats = $derived(table === 'events' ? ([...FORMATS, 'ics'] as const) : FORMATS);
</script>

<h2 class="small-caps mb-1">Stored</h2>
{#if stored.length === 0}
  <p class="font-serif text-[14.5px]">Nothing is stored yet. Choose a chain file at the left.</p>
{:else}
  <p class="mb-2 flex flex-wrap items-center gap-3 text-[12.5px]">
    <label class="flex items-center gap-1.5"
      ><span class="quiet">export</span>
      <select class="select select-xs w-28" aria-label="Table to export" bind:value={table}>
        {#each TABLES as t (t)}<option value={t}>{t}</option>{/each}
      </select></label
    >
    {#if table === 'chains'}
      <label class="flex items-center gap-1.5"
        ><span class="quiet">of</span>
        <select class="select select-xs w-36" bind:value={scope}>
          <option value="instant">latest instant</option><option value="all">all instants</option>
        </select></label
      >
    {/if}
    {#if currencies.length > 0}
      <span class="quiet ml-auto"
        >rates
        {#each currencies as currency (currency)}<a
            class="text-implied ml-2"
            href="/api/v1/exports/rates/{symbolPart(currency)}?format=csv"
            download>{currency}</a
          >{/each}</span
      >
    {/if}
  </p>
  <TableMenu name="Stored" />
  <table class="figures text-[12.5px]" data-testid="stored">
    <thead
      ><tr
        ><th>underlying</th><th>instants</th><th>sessions</th><th>gaps</th><th>slices</th><th>bars</th><th
          >latest (UTC)</th
        ><th>{table}</th></tr
      ></thead
    >
    <tbody>
      {#each stored as u (u.symbol)}
        <tr class="border-hair border-b">
          <td
            >{#if u.latest}<a class="font-semibold" href="/skew/{symbolPart(u.symbol)}">{u.symbol}</a>{:else}<span
                class="font-semibold">{u.symbol}</span
              >{/if}</td
          >
          <td>{numberText(u.instants, 0)}</td>
          <td>{u.sessions}</td>
          <td class={u.gaps > 0 ? 'text-loss' : ''}>{u.gaps > 0 ? u.gaps : '—'}</td>
          <td>{countText(u.slices)}</td>
          <td>{u.bars}</td>
          <td class="whitespace-nowrap">{u.latest ? instantLabel(u.latest) : '—'}</td>
          <td class="whitespace-nowrap">
            {#each formats as format (format)}
              <a
                class="text-implied ml-2 inline-block min-h-6 min-w-6 leading-6"
                href="/api/v1/exports/{table}/{symbolPart(u.symbol)}?format={format}{query}"
                download
                aria-label="Export {table} of {u.symbol} as {format}">{format}</a
              >
            {/each}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
