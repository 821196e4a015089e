<!-- The lower part of the Pricer: a curve, the decay of two expiries, or theory against market. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import LineChart from '../../ui/line-chart.svelte';
  import PricerGap from './pricer-gap.svelte';
  import { ABOVE_ZERO } from '$lib/ui/number-input';
  import TypedNumber from '../../ui/typed-number.svelte';
  import { decayChart } from './decay-chart';
  import { PALETTES } from '$lib/ui/palette';
  import { pricerCurveChart } from './pricer-curve-chart';
  import { dateText, daysText, numberText } from '$lib/ui/format';
  import { basisWords } from '$lib/theory';
  import { pricerMeasure } from '$lib/measures';
  import { CURVE_AXES, CURVE_MEASURES, type CurveAxis, type CurveMeasure } from '$lib/api/pricer-inputs';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { pricerState } from './pricer-state.svelte';

  const pricer = pricerState();
  const page = pageState();
  const palette = $derived(PALETTES[page.theme]);
  const { settings, inputs } = $derived({ settings: pricer.settings, inputs: pricer.inputs });
  const isNormal = $derived(inputs.model === 'normal');
  const axisNames: Record<CurveAxis, string> = $derived({
    underlying: 'underlying',
    strike: 'strike',
    days: 'days to expiry',
    volatility: isNormal ? 'volatility, price units' : 'volatility, %',
    rate: 'rate, %',
    dividendYield: 'yield, %',
  });
  const isPercent = $derived(['rate', 'dividendYield', ...(isNormal ? [] : ['volatility'])].includes(settings.axis));

  const curveAnswer = $derived(pricer.curve.answer);
  const curve = $derived.by(() => {
    if (!curveAnswer?.value.ok) return undefined;
    const { request, value } = curveAnswer;
    const measure = pricerMeasure(request.measure);
    const now = pricer.shown && measure?.value(pricer.shown[inputs.side]);
    return pricerCurveChart(value.answer, {
      axis: request.axis,
      axisLabel: axisNames[request.axis],
      measureLabel: [
        `${measure?.label ?? ''} ${measure?.per ?? ''}`.trim(),
        ...(measure?.isScaled ? [basisWords(settings.basis, inputs)] : []),
      ].join(', '),
      factor: measure?.isScaled ? pricer.factor : 1,
      axisFactor: isPercent ? 100 : 1,
      inputs: request.inputs,
      isOwn: pricer.own[request.axis] !== undefined,
      now: request.measure === settings.measure ? now : undefined,
      palette,
    });
  });
  const decayAnswer = $derived(pricer.decay.answer);
  const lineLabel = (label: string, days: number, volatility: number) =>
    `${label}: ${daysText(days)} days, ${isNormal ? numberText(volatility, 1) : `${numberText(volatility * 100, 1)} %`}`;
  const decay = $derived.by(() => {
    if (!decayAnswer?.value.ok) return undefined;
    const { near, far } = decayAnswer.request;
    const asOf = pricer.view?.picture.asOf ?? '';
    return decayChart(decayAnswer.value.answer, {
      nearLabel: lineLabel('this expiry', near.days, near.volatility),
      farLabel: lineLabel(pricer.far.date ? dateText(pricer.far.date, asOf) : 'later', far.days, far.volatility),
      bandWords: isNormal ? '1 and 2 % of the strike' : '1 and 2 volatility points',
      factor: pricer.factor,
      palette,
    });
  });
  const gapAnswer = $derived(pricer.gap.answer);
  const isBusy = $derived(
    settings.panel === 'curve'
      ? pricer.curve.isBusy
      : settings.panel === 'decay'
        ? pricer.decay.isBusy
        : pricer.gap.isBusy,
  );
</script>

<div class="mt-3 flex flex-wrap items-center gap-x-3 gap-y-1">
  <Choice
    label="Lower panel"
    choices={['curve', 'decay', 'market'] as const}
    chosen={settings.panel}
    words={(panel) => (panel === 'market' ? 'theory against market' : panel)}
    onchoose={(panel) => pricer.choose({ panel })}
  />
  {#if settings.panel === 'curve'}
    <label class="flex items-center gap-1.5"
      ><span class="quiet">of</span>
      <select
        class="plain"
        aria-label="Measure"
        value={settings.measure}
        onchange={(event) => pricer.choose({ measure: event.currentTarget.value as CurveMeasure })}
      >
        {#each CURVE_MEASURES as id (id)}<option value={id}>{pricerMeasure(id)?.label}</option>{/each}
      </select></label
    >
    <label class="flex items-center gap-1.5"
      ><span class="quiet">against</span>
      <select
        class="plain"
        aria-label="Input on the axis"
        value={settings.axis}
        onchange={(event) => pricer.choose({ axis: event.currentTarget.value as CurveAxis })}
      >
        {#each CURVE_AXES.filter((a) => a !== 'dividendYield' || inputs.model === 'spot') as axis (axis)}<option
            value={axis}>{axisNames[axis].split(',')[0]}</option
          >{/each}
      </select></label
    >
  {:else if settings.panel === 'decay'}
    {#each [{ label: 'later expiry in', unit: 'days', name: 'farDays', value: daysText(pricer.far.days), scale: 1 }, { label: 'at', unit: isNormal ? '' : '%', name: 'farVolatility', value: numberText(isNormal ? pricer.far.volatility : pricer.far.volatility * 100, 1), scale: isNormal ? 1 : 0.01 }] as const as field (field.name)}
      <label class="flex items-center gap-1.5"
        ><span class="quiet">{field.label}</span>
        <TypedNumber
          label={field.name === 'farDays' ? 'days of the later expiry' : 'volatility of the later expiry'}
          text={field.value}
          isOwn={settings[field.name] !== undefined}
          within={ABOVE_ZERO}
          isPercent={field.unit === '%'}
          ontype={(value) => pricer.choose({ [field.name]: value * field.scale })}
        /><span class="quiet">{field.unit}</span></label
      >
    {/each}
  {/if}
</div>
<div class="relative min-h-[150px] grow transition-opacity delay-200 {isBusy ? 'opacity-60' : ''}" aria-busy={isBusy}>
  {#if settings.panel === 'curve'}
    {#if curve}<LineChart
        chart={curve}
        {palette}
        label="{pricerMeasure(settings.measure)?.label} against {axisNames[settings.axis]}"
      />{/if}
  {:else if settings.panel === 'decay'}
    {#if decayAnswer && !decayAnswer.value.ok}<p class="quiet p-6">{decayAnswer.value.message}</p>
    {:else if decay}<LineChart chart={decay} {palette} label="Decay of two expiries" />{/if}
  {:else if !pricer.gapRequest}
    <p class="quiet p-6 font-serif text-[14.5px]">
      {pricer.view
        ? 'This strike has no bid and offer in the expiry in focus. Choose a listed strike, or open the Pricer from a quote of the Chain.'
        : 'There is no market to compare with. Import a chain under Data, then open the Pricer from one of its quotes.'}
    </p>
  {:else if gapAnswer?.value.ok}
    <PricerGap gap={gapAnswer.value.answer} request={gapAnswer.request} />
  {:else if gapAnswer}<p class="quiet p-6">{gapAnswer.value.ok ? '' : gapAnswer.value.message}</p>{/if}
</div>
