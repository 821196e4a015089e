<!-- The surface at fixed days, and at any number of days between its expiries. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import TypedNumber from '../../ui/typed-number.svelte';
  import { pointsText, volatilityText } from '$lib/ui/format';
  import { maturityAt } from '$lib/market';
  import { EXPIRY_MEASURES, fixedFigure } from '$lib/measures';
  import { viewState } from '$lib/shell/view-state.svelte';

  interface Props {
    /** Typed; undefined for none */
    days: number | undefined;
  }
  let { days }: Props = $props();
  const view = viewState();
  const ROWS = (['atm', 'riskReversal25', 'butterfly25'] as const).map((name) => {
    const measure = EXPIRY_MEASURES.find((m) => m.id === name);
    return { name, label: measure?.shortLabel ?? name };
  });
  type Row = (typeof ROWS)[number];
  const { maturities } = $derived(view.picture);
  const typed = $derived(days === undefined ? null : maturityAt(view.picture, days));
  const text = (name: Row['name'], value: number | null | undefined) =>
    name === 'atm' ? volatilityText(value) : pointsText(value);

  function take(value: number): void {
    void view.address.set({ at: value >= 1 ? String(value) : undefined });
  }

  const columns = $derived<TableColumn<Row>[]>([
    {
      id: 'measure',
      head: 'at fixed days',
      width: 96,
      isFixed: true,
      align: 'left',
      value: (row) => row.name,
      text: (row) => row.label,
    },
    ...maturities.map((m): TableColumn<Row> => ({
      id: `days${m.days}`,
      head: String(m.days),
      label: `${m.days} days`,
      value: (row) => m[row.name],
      text: (row) => text(row.name, m[row.name]),
      figure: (row) => fixedFigure(row.name, m.days),
    })),
    {
      id: 'typed',
      head: 'days',
      label: 'days as typed',
      headCell: typing,
      value: (row) => typed?.[row.name],
      text: (row) => (days === undefined ? '' : text(row.name, typed?.[row.name])),
      figure: days === undefined ? undefined : (row) => fixedFigure(row.name, days),
      tone: () => 'text-own',
    },
  ]);
</script>

{#snippet typing()}
  <TypedNumber
    label="Days to read the surface at; 0 for none"
    text={days === undefined ? '' : String(days)}
    isOwn
    placeholder="days"
    isWhole
    within={[0, 20_000]}
    ontype={take}
  />
{/snippet}

{#if maturities.length > 0}
  <div class="mt-4">
    {#key maturities.map((m) => m.days).join()}
      <ValueTable
        name="{view.picture.underlying.symbol} at fixed days"
        storage="fixed-days-columns"
        {columns}
        rows={ROWS}
        rowKey={(row) => row.name}
        context={{ symbol: view.picture.underlying.symbol, asOf: view.picture.asOf }}
        isOrdered
        testid="fixed-days"
        class="text-[12.5px]"
      />
    {/key}
  </div>
  {#if days !== undefined && !typed}
    <p class="quiet mt-1 text-[11.5px]">{days} days lie beyond the expiries; the surface is not read there.</p>
  {/if}
{/if}
