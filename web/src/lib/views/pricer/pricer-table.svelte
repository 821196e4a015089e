<!-- Value and Greeks of call and put, each with what it means. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { basisWords, type PricerFigures } from '$lib/theory';
  import { figureText, PRICER_MEASURES, pricerFigureId, type PricerMeasure } from '$lib/measures';
  import { pricerState } from './pricer-state.svelte';

  interface Props {
    shown: PricerFigures | undefined;
    isStale: boolean;
  }
  let { shown, isStale }: Props = $props();
  const pricer = pricerState();
  const inputs = $derived(pricer.inputs);
  const point = $derived(inputs.model === 'normal' ? 'price unit' : 'point');
  const measures = $derived(
    PRICER_MEASURES.filter(
      (m) =>
        (m.isMain || pricer.settings.greeks === 'all') &&
        (inputs.exercise === 'american' || (m.id !== 'earlyPremium' && m.id !== 'exerciseBoundary')) &&
        (inputs.model === 'spot' || m.id !== 'dividendRho'),
    ),
  );

  function text(measure: PricerMeasure, side: 'call' | 'put'): string {
    const value = shown && measure.value(shown[side]);
    if (value === undefined) return shown && measure.id === 'exerciseBoundary' ? 'never' : '—';
    if (!measure.isScaled) return figureText(value, measure.unit, { ...pricer.scale, factor: 1 });
    return figureText(value * pricer.factor, measure.unit, pricer.scale);
  }
  const meaning = (measure: PricerMeasure) => {
    const value = shown && measure.value(shown[inputs.side]);
    return value === undefined
      ? shown && measure.id === 'exerciseBoundary'
        ? 'no price within reach makes exercise today the better choice'
        : ''
      : measure.meaning(measure.isScaled ? value * Math.sign(pricer.factor || 1) : value, point);
  };

  const sideColumn = (side: 'call' | 'put'): TableColumn<PricerMeasure> => ({
    id: side,
    head: side,
    width: 84,
    value: (measure) => {
      const value = shown && measure.value(shown[side]);
      return value === undefined ? null : measure.isScaled ? value * pricer.factor : value;
    },
    text: (measure) => text(measure, side),
    figure: (measure) => pricerFigureId(measure.id, side),
    tone: () => (inputs.side === side ? 'font-semibold' : 'text-soft'),
  });
  const columns = $derived<TableColumn<PricerMeasure>[]>([
    {
      id: 'measure',
      head: basisWords(pricer.settings.basis, inputs),
      width: 164,
      isFixed: true,
      align: 'left',
      value: (measure) => measure.id,
      text: (measure) => `${measure.label} ${measure.per}`.trim(),
      cell: named,
    },
    sideColumn('call'),
    sideColumn('put'),
    {
      id: 'meaning',
      head: `the ${inputs.side}`,
      align: 'left',
      value: meaning,
      text: meaning,
      tone: () => 'quiet !pl-4 text-[12px] !whitespace-normal leading-4',
    },
  ]);
</script>

{#snippet named(measure: PricerMeasure)}{measure.label} <span class="quiet text-[11px]">{measure.per}</span>{/snippet}

<ValueTable
  name="Pricer values"
  storage="pricer-columns"
  {columns}
  rows={measures}
  rowKey={(measure) => measure.id}
  isOrdered
  testid="greeks"
  class="text-[12.5px] transition-opacity delay-150 {isStale ? 'opacity-60' : ''}"
  isBusy={isStale}
/>
