<!-- What is stored of each underlying, and its files. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
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
  const TABLES = ['chains', 'bars', 'intraday-bars', 'splits', 'dividends', 'events'] as const;
  const FORMATS = ['csv', 'jsonl', 'parquet'] as const;
  let table = $state<(typeof TABLES)[number]>('chains');
  let scope = $state<'instant' | 'all'>('instant');
  const query = $derived(table === 'chains' ? `&scope=${scope}` : '');
  const formats = $derived(table === 'events' ? ([...FORMATS, 'ics'] as const) : FORMATS);

  const counted = (id: 'instants' | 'sessions' | 'slices' | 'bars', definition: string): TableColumn<Stored> => ({
    id,
    head: id,
    definition,
    width: 54,
    value: (row) => row[id],
    text: (row) => (id === 'slices' ? countText(row.slices) : numberText(row[id], 0)),
  });
  const columns = $derived<TableColumn<Stored>[]>([
    {
      id: 'underlying',
      head: 'underlying',
      width: 84,
      isFixed: true,
      value: (row) => row.symbol,
      text: (row) => row.symbol,
      cell: named,
    },
    counted('instants', 'Points in time with quotes.'),
    counted('sessions', 'Days with quotes.'),
    {
      id: 'gaps',
      head: 'gaps',
      definition: 'Sessions of the calendar without quotes between the first and the latest.',
      width: 42,
      value: (row) => row.gaps,
      text: (row) => (row.gaps > 0 ? String(row.gaps) : '—'),
      tone: (row) => (row.gaps > 0 ? 'text-loss' : ''),
    },
    counted('slices', 'Expiries over all instants.'),
    counted('bars', 'Daily bars of the underlying.'),
    {
      id: 'latest',
      head: 'latest (UTC)',
      width: 118,
      value: (row) => row.latest,
      text: (row) => (row.latest ? instantLabel(row.latest) : '—'),
    },
    { id: 'files', head: table, label: 'files', width: 140, text: () => '', cell: files },
  ]);
</script>

{#snippet named(row: Stored)}
  {#if row.latest}<a class="inline-block min-h-6 min-w-6 leading-6 font-semibold" href="/skew/{symbolPart(row.symbol)}"
      >{row.symbol}</a
    >{:else}<span class="font-semibold">{row.symbol}</span>{/if}
{/snippet}

{#snippet files(row: Stored)}
  {#each formats as format (format)}
    <a
      class="text-implied ml-2 inline-block min-h-6 min-w-6 leading-6"
      href="/api/v1/exports/{table}/{symbolPart(row.symbol)}?format={format}{query}"
      download
      aria-label="Export {table} of {row.symbol} as {format}">{format}</a
    >
  {/each}
{/snippet}

<h2 class="small-caps mb-1">Stored</h2>
{#if stored.length === 0}
  <p class="font-serif text-[14.5px]">Nothing is stored yet. Choose a chain file at the left.</p>
{:else}
  <p class="mb-2 flex flex-wrap items-center gap-3 text-[12.5px]">
    <label class="flex items-center gap-1.5"
      ><span class="quiet">export</span>
      <select class="select select-xs w-28" aria-label="Table to export" bind:value={table}>
        {#each TABLES as t (t)}<option value={t}>{t.replace('-', ' ')}</option>{/each}
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
  <ValueTable
    name="Stored"
    storage="stored-columns"
    {columns}
    rows={stored}
    rowKey={(row) => row.symbol}
    testid="stored"
    class="text-[12.5px] [--table-ground:var(--sheet)]"
  />
{/if}
