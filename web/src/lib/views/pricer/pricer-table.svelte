<!-- Value and Greeks of call and put, each with what it means. -->
<script lang="ts">
  import TableMenu from '$lib/shell/table-menu.svelte';
  import Figure from '../../shell/figure.svelte';
  import { numberText, probabilityText, significantText, signedSignificantText } from '$lib/ui/format';
  import { basisWords, type PricerFigures } from '$lib/theory';
  import { PRICER_MEASURES, pricerFigureId, type PricerMeasure } from '$lib/measures';
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
    const scaled = measure.isScaled ? value * pricer.factor : value;
    if (measure.unit === 'premium') return numberText(scaled, pricer.valueDecimals);
    if (measure.unit === 'price') return numberText(scaled, pricer.decimals + 1);
    if (measure.unit === 'probability') return probabilityText(scaled);
    return measure.id === 'gamma' ? significantText(scaled) : signedSignificantText(scaled);
  }
  const meaning = (measure: PricerMeasure) => {
    const value = shown && measure.value(shown[inputs.side]);
    return value === undefined
      ? shown && measure.id === 'exerciseBoundary'
        ? 'no price within reach makes exercise today the better choice'
        : ''
      : measure.meaning(measure.isScaled ? value * Math.sign(pricer.factor || 1) : value, point);
  };
</script>

<TableMenu name="Pricer values" />
<table class="figures text-[12.5px] transition-opacity delay-150 {isStale ? 'opacity-60' : ''}" data-testid="greeks">
  <thead>
    <tr>
      <th class="w-[164px]">{basisWords(pricer.settings.basis, inputs)}</th>
      {#each ['call', 'put'] as const as side (side)}
        <th
          class="w-[84px] {inputs.side === side ? '!text-ink !font-semibold' : ''}"
          aria-current={inputs.side === side}
        >
          {side}
        </th>
      {/each}
      <th class="w-[45%] !pl-4 !text-left">the {inputs.side}</th>
    </tr>
  </thead>
  <tbody>
    {#each measures as measure (measure.id)}
      <tr class="border-hair border-b">
        <td class="whitespace-nowrap">{measure.label} <span class="quiet text-[11px]">{measure.per}</span></td>
        {#each ['call', 'put'] as const as side (side)}
          <td class={inputs.side === side ? 'font-semibold' : 'text-soft'}
            ><Figure id={pricerFigureId(measure.id, side)} text={text(measure, side)} /></td
          >
        {/each}
        <td title={meaning(measure)} class="quiet max-w-0 truncate !pl-4 !text-left text-[12px]">{meaning(measure)}</td>
      </tr>
    {/each}
  </tbody>
</table>
