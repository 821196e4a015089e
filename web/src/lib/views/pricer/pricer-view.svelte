<!-- The what-if calculator. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import Popover from '../../ui/popover.svelte';
  import { onMount } from 'svelte';
  import Reading from '../../shell/reading.svelte';
  import ViewFrame from '../../shell/view-frame.svelte';
  import PricerChange from './pricer-change.svelte';
  import PricerInputsPanel from './pricer-inputs-panel.svelte';
  import PricerPanel from './pricer-panel.svelte';
  import PricerSolve from './pricer-solve.svelte';
  import PricerTable from './pricer-table.svelte';
  import { decayReading, gapReading, pricerReading } from './pricer-reading';
  import { pricerState } from './pricer-state.svelte';

  const pricer = pricerState();
  let isStarted = $state(false);
  onMount(() => {
    const stop = pricer.start();
    isStarted = true;
    return stop;
  });
  // The worker thread is outside: it is asked whenever what it computes has changed.
  $effect(() => {
    if (isStarted) pricer.figures.ask(pricer.figuresRequest);
  });
  $effect(() => {
    if (isStarted && pricer.solveRequest) pricer.solutions.ask(pricer.solveRequest);
  });
  $effect(() => {
    if (!isStarted) return;
    const { panel } = pricer.settings;
    if (panel === 'curve') pricer.curve.ask(pricer.curveRequest);
    else if (panel === 'decay') pricer.decay.ask(pricer.decayRequest);
    else if (pricer.gapRequest) pricer.gap.ask(pricer.gapRequest);
  });

  const value = $derived(pricer.figures.answer?.value);
  const isStale = $derived(pricer.figures.answer?.request !== pricer.figuresRequest);
  const shown = $derived(pricer.shown);
  const sentences = $derived.by(() => {
    if (!shown) return [];
    const { inputs, factor, scale, valueDecimals, settings } = pricer;
    const pointWords = inputs.model === 'normal' ? 'price units' : 'points';
    const list = pricerReading({ inputs, shown, factor, scale, pointWords, currency: pricer.currency });
    const gap = pricer.gap.answer?.value;
    const decay = pricer.decay.answer?.value;
    if (settings.panel === 'market' && pricer.gapRequest && gap?.ok) {
      list.push(gapReading(gap.answer, factor, valueDecimals));
    }
    if (settings.panel === 'decay' && decay?.ok) list.push(decayReading(decay.answer, factor, valueDecimals));
    return list;
  });
  const hasOwn = $derived(Object.keys(pricer.own).length > 0);
</script>

<ViewFrame title="Pricer">
  {#snippet controls()}
    <Choice
      label="Basis"
      choices={['share', 'contract', 'position'] as const}
      chosen={pricer.settings.basis}
      onchoose={(basis) => pricer.choose({ basis })}
    />
    <Choice
      label="Greeks"
      choices={['main', 'all'] as const}
      chosen={pricer.settings.greeks}
      words={(greeks) => `${greeks} Greeks`}
      onchoose={(greeks) => pricer.choose({ greeks })}
    />
    <button type="button" class="chip" aria-pressed={pricer.pinned !== undefined} onclick={() => pricer.pin()}
      >{pricer.pinned ? 'pin anew' : 'pin'}</button
    >
    {#if pricer.pinned}<button type="button" class="text-implied" onclick={() => pricer.unpin()}>unpin</button>{/if}
    <button
      type="button"
      class="text-implied disabled:text-faint min-h-6 min-w-6"
      disabled={!pricer.canUndo}
      aria-keyshortcuts="Control+Z"
      onclick={() => pricer.undo()}>undo</button
    >
    <button
      type="button"
      class="text-implied disabled:text-faint min-h-6 min-w-6"
      disabled={!hasOwn}
      onclick={() => pricer.reset()}>{pricer.view ? 'all from the market' : 'all to default'}</button
    >
    {#if shown}
      {@const { method, why } = shown[pricer.inputs.side]}
      <span class="ml-auto">
        <Popover triggerClass="quiet min-h-6 text-[11.5px] underline decoration-dotted underline-offset-4">
          {#snippet trigger()}{method.replace('-', ' ')}, level {shown.level}{/snippet}
          <p class="font-serif text-[14px]">{why}</p>
        </Popover>
      </span>
    {/if}
  {/snippet}
  {#snippet main()}
    <div class="grid h-full grid-cols-[312px_1fr] grid-rows-[minmax(0,1fr)] gap-x-6 max-[1180px]:block">
      <div class="min-h-0 min-w-0 overflow-y-auto max-[1180px]:overflow-visible">
        <PricerInputsPanel />
        <PricerSolve />
      </div>
      <div class="flex min-h-0 min-w-0 flex-col max-[1180px]:mt-4 max-[1180px]:h-[760px]">
        {#if pricer.trouble}<p class="text-loss mb-2" role="alert">{pricer.trouble}</p>{/if}
        {#if value && !value.ok}
          <p class="text-loss mb-2" role="alert">These inputs cannot be priced: {value.message}</p>
        {/if}
        <PricerTable {shown} {isStale} />
        <PricerPanel />
      </div>
    </div>
  {/snippet}
  {#snippet aside()}
    {#if shown}
      <Reading {sentences} />
      <PricerChange {shown} />
      {#if !pricer.pinned}
        <p class="quiet mt-5 font-serif text-[14px]">
          Pin this state, then change inputs: the difference is split by cause here, and its curve stays beside the new
          one.
        </p>
      {/if}
    {:else}<p class="quiet">computing…</p>{/if}
  {/snippet}
</ViewFrame>
