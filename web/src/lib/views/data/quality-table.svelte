<!-- Quotes judged bad, by reason. -->
<script lang="ts">
  import type { QuoteReasonText } from '$lib/api/market-resource';
  import { reasonName } from '$lib/market';
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { countText } from '$lib/ui/format';

  interface Props {
    quality: {
      quotes: { latest: number; all: number };
      reasons: { reason: QuoteReasonText; latest: number; all: number }[];
    };
  }
  let { quality }: Props = $props();
  const FAULTS = ['crossed', 'no-ask', 'stale'];
  const shareText = (count: number, of: number) => (of > 0 ? `${((100 * count) / of).toFixed(2)} %` : '—');

  const ALL = 'quotes in all';
  type Row = { reason: QuoteReasonText | typeof ALL; latest: number; all: number };
  const rows = $derived<Row[]>([...quality.reasons, { reason: ALL, ...quality.quotes }]);
  const counted = (id: 'latest' | 'all'): TableColumn<Row>[] => [
    {
      id,
      head: id,
      label: id === 'latest' ? 'of the latest instant' : 'of all instants',
      value: (row) => row[id],
      text: (row) => countText(row[id]),
    },
    {
      id: `${id}Share`,
      head: 'share',
      label: id === 'latest' ? 'share of the latest instant' : 'share of all instants',
      value: (row) => (quality.quotes[id] > 0 ? row[id] / quality.quotes[id] : null),
      text: (row) => (row.reason === ALL ? '' : shareText(row[id], quality.quotes[id])),
    },
  ];
  const columns = $derived<TableColumn<Row>[]>([
    {
      id: 'reason',
      head: 'reason',
      width: 170,
      isFixed: true,
      align: 'left',
      value: (row) => row.reason,
      text: (row) => (row.reason === ALL ? ALL : reasonName(row.reason)),
    },
    {
      id: 'faulty',
      head: 'faulty',
      definition: 'Whether the quote is taken for an error and left out of every fit.',
      value: (row) => (FAULTS.includes(row.reason) ? 'yes' : null),
      text: (row) => (FAULTS.includes(row.reason) ? 'yes' : '—'),
    },
    ...counted('latest'),
    ...counted('all'),
  ]);
</script>

<h2 class="small-caps mt-5 mb-1">Quotes judged bad</h2>
{#if quality.reasons.length === 0}
  <p class="quiet">None of {countText(quality.quotes.all)} quotes.</p>
{:else}
  <ValueTable
    name="Quotes judged bad"
    storage="quality-columns"
    {columns}
    {rows}
    rowKey={(row) => row.reason}
    testid="quality"
    class="text-[12.5px]"
  />
{/if}
