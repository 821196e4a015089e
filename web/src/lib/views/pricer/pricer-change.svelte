<!-- What changed since the pin, by cause; the parts add up to the whole. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { CHANGE_CAUSES, type ChangeCause } from '@umwelt/core/whatif';
  import { numberText, signedText } from '$lib/ui/format';
  import { basisFactor, type PricerFigures } from '$lib/theory';
  import { pricerState } from './pricer-state.svelte';

  interface Props {
    shown: PricerFigures;
  }
  let { shown }: Props = $props();
  const pricer = pricerState();
  const words: Record<ChangeCause, string> = {
    delta: 'delta × move',
    gamma: 'gamma × move² / 2',
    theta: 'theta × days gone',
    vega: 'vega × volatility',
    rho: 'rho × rate',
    dividend: 'yield and dividends',
    contract: 'another contract',
    rest: 'rest',
  };
  const pinned = $derived(pricer.pinned);
  const change = $derived(shown.change);
  /** The pinned position is counted at its own size, and the change of size is told apart. */
  const before = $derived(pinned ? basisFactor(pricer.settings.basis, pinned) : 1);
  const size = $derived(change ? change.to * (pricer.factor - before) : 0);
  const decimals = $derived(pricer.valueDecimals + 1);
  interface Row {
    id: string;
    label: string;
    value: number;
    kind: 'state' | 'part' | 'total';
  }
  const rows = $derived.by((): Row[] => {
    if (!pinned || !change) return [];
    const parts = CHANGE_CAUSES.filter((cause) => change.parts[cause] !== 0).map((cause): Row => ({
      id: cause,
      label: words[cause],
      value: change.parts[cause] * before,
      kind: 'part',
    }));
    const from = change.from * before;
    const to = change.to * pricer.factor;
    return [
      { id: 'from', label: `pinned ${pinned.side}`, value: from, kind: 'state' },
      ...parts,
      ...(size === 0 ? [] : [{ id: 'size', label: 'size', value: size, kind: 'part' } as const]),
      { id: 'change', label: 'change', value: to - from, kind: 'total' },
      { id: 'to', label: 'now', value: to, kind: 'total' },
    ];
  });
  const columns: TableColumn<Row>[] = [
    {
      id: 'cause',
      head: 'cause',
      isFixed: true,
      align: 'left',
      value: (row) => row.id,
      text: (row) => row.label,
      tone: (row) => (row.kind === 'total' ? '' : 'quiet'),
    },
    {
      id: 'value',
      head: 'value',
      width: 110,
      value: (row) => row.value,
      text: (row) =>
        row.kind === 'state' || row.id === 'to' ? numberText(row.value, decimals) : signedText(row.value, decimals),
      tone: (row) => (row.kind === 'part' ? (row.value < 0 ? 'text-loss' : 'text-gain') : ''),
    },
  ];
</script>

{#if pinned && change}
  <section class="mt-5" aria-label="Since the pin">
    <h2 class="small-caps mb-1">Since the pin</h2>
    <ValueTable
      name="Pricer change by cause"
      storage="change-columns"
      {columns}
      {rows}
      rowKey={(row) => row.id}
      isOrdered
      rowTone={(row) => (row.kind === 'total' ? 'border-t-line border-t font-semibold' : '')}
      testid="change"
      class="text-[12.5px] [--table-ground:var(--sheet)]"
    />
  </section>
{/if}
