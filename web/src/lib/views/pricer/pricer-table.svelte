<!-- Value and Greeks of call and put, each with what it means. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { basisFactor, basisWords, fittedChance, type PricerFigures } from '$lib/theory';
  import { probabilityText } from '$lib/ui/format';
  import {
    CHANGED_GREEKS,
    changeFigureId,
    figureText,
    greekChangeFigureId,
    PRICER_MEASURES,
    pricerFigureId,
    type PricerMeasure,
  } from '$lib/measures';
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
  /** Of the listed option, where the Pricer stands on one whose market is not typed over. */
  const bySmile = $derived.by(() => {
    const { view, own } = pricer;
    const isListed = own.underlying === undefined && own.days === undefined && own.rate === undefined;
    return view?.focus && isListed ? fittedChance(view.focus, inputs) : undefined;
  });
  const meaning = (measure: PricerMeasure) => {
    const value = shown && measure.value(shown[inputs.side]);
    return value === undefined
      ? shown && measure.id === 'exerciseBoundary'
        ? 'no price within reach makes exercise today the better choice'
        : ''
      : measure.meaning(measure.isScaled ? value * Math.sign(pricer.factor || 1) : value, point) +
          (measure.id === 'probabilityItm' && bySmile !== undefined
            ? `; by the smile with its slope ${probabilityText(bySmile)}`
            : '');
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
  const isPinned = $derived(pricer.greekChangeStates !== undefined);
  /** Value of a measure in the pinned state and now, where it is one of the Greeks that are pinned. */
  function since(measure: PricerMeasure): { from: number; to: number } | undefined {
    const states = pricer.greekChangeStates;
    const { greekChange, pinned, now, basis } = states ?? {};
    if (!greekChange || !pinned || !now || !basis) return undefined;
    const name = measure.id as keyof typeof greekChange.from;
    if (!(name in greekChange.from)) return undefined;
    const [before, after] = measure.isScaled ? [basisFactor(basis, pinned), basisFactor(basis, now)] : [1, 1];
    return { from: greekChange.from[name] * before, to: greekChange.to[name] * after };
  }
  const scaleOf = (measure: PricerMeasure) => (measure.isScaled ? pricer.scale : { ...pricer.scale, factor: 1 });
  const pinnedColumn: TableColumn<PricerMeasure> = {
    id: 'pinned',
    head: 'pinned',
    width: 76,
    value: (measure) => since(measure)?.from ?? null,
    text: (measure) => figureText(since(measure)?.from, measure.unit, scaleOf(measure)),
    tone: () => 'text-soft',
  };
  const changedColumn: TableColumn<PricerMeasure> = {
    id: 'change',
    head: 'change',
    definition: 'Now less the pinned state; beside the Reading split by cause.',
    width: 76,
    value: (measure) => changeOf(measure) ?? null,
    text: (measure) => {
      const change = changeOf(measure);
      return signed(change, figureText(change, measure.unit, scaleOf(measure)));
    },
    figure: (measure) => {
      const greek = CHANGED_GREEKS.find((name) => name === measure.id);
      return greek
        ? greekChangeFigureId(greek, 'change')
        : measure.id === 'price'
          ? changeFigureId('change')
          : undefined;
    },
  };
  const signed = (value: number | undefined, written: string) =>
    value !== undefined && value > 0 && !written.startsWith('+') && /[1-9]/.test(written) ? `+${written}` : written;
  function changeOf(measure: PricerMeasure): number | undefined {
    const states = since(measure);
    return states && states.to - states.from;
  }
  const columns = $derived<TableColumn<PricerMeasure>[]>([
    {
      id: 'measure',
      head: [basisWords(pricer.settings.basis, inputs), pricer.currency]
        .filter((part) => part !== undefined)
        .join(', '),
      width: 164,
      isFixed: true,
      align: 'left',
      value: (measure) => measure.id,
      text: (measure) => `${measure.label} ${measure.per}`.trim(),
      cell: named,
    },
    sideColumn('call'),
    sideColumn('put'),
    ...(isPinned ? [pinnedColumn, changedColumn] : []),
    {
      id: 'meaning',
      head: `the ${inputs.side}`,
      label: 'what it means',
      // Beside the pinned state there is no room for words.
      isExtra: isPinned,
      align: 'left',
      value: meaning,
      text: meaning,
      tone: () => 'quiet !pl-4 text-[12px] !whitespace-normal leading-4',
    },
  ]);
</script>

{#snippet named(measure: PricerMeasure)}{measure.label} <span class="quiet text-[11px]">{measure.per}</span>{/snippet}

{#key isPinned}
  <ValueTable
    name="Pricer values"
    storage={isPinned ? 'pricer-pinned-columns' : 'pricer-columns'}
    {columns}
    rows={measures}
    rowKey={(measure) => measure.id}
    isOrdered
    testid="greeks"
    class="text-[12.5px] transition-opacity delay-150 {isStale ? 'opacity-60' : ''}"
    isBusy={isStale}
  />
{/key}
