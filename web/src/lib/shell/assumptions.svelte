<!-- Assumptions in force; a mark shows when any differs from its default. -->
<script lang="ts">
  import { FORWARD_SOURCES } from '$lib/api/as-of-context';
  import Choice from '$lib/ui/choice.svelte';
  import Popover from '../ui/popover.svelte';
  import { viewState } from './view-state.svelte';
  import { numberText } from '$lib/ui/format';
  import { VOLATILITY_SOURCE_NAMES } from '$lib/theory';
  import CarryChoice from './carry-choice.svelte';
  import VolatilityChoice from './volatility-choice.svelte';

  const view = viewState();
  const context = $derived(view.context);
  const isChanged = $derived(
    context.forwardSource !== 'parity' || context.carry !== 'inferred' || context.volatilitySource !== 'smile',
  );
  const hasCurve = $derived(view.picture.expiries.some((e) => e.carryForward !== null));
</script>

{#snippet inForce()}
  <span class="quiet text-[11.5px]">assumes</span>
  {context.forwardSource}{view.picture.carry.source === 'known' ? '' : ` · carry ${view.picture.carry.source}`} · calendar
  · {VOLATILITY_SOURCE_NAMES[context.volatilitySource]}{view.inForce.level === null
    ? ''
    : ` ${numberText(100 * view.inForce.level, 1)} %`}
  {#if isChanged}<span class="text-own" aria-label="differs from the default" role="img">●</span>{/if}
{/snippet}

<Popover trigger={inForce} triggerClass="chip flex items-center gap-1.5">
  <fieldset>
    <legend class="small-caps">Forward</legend>
    <Choice
      label="Forward"
      class="mt-1"
      choices={FORWARD_SOURCES}
      chosen={context.forwardSource}
      isDisabled={(source) => source === 'carry' && !hasCurve}
      onchoose={(source) => view.address.set({ forwardSource: source === 'parity' ? undefined : source })}
    />
    <p class="quiet mt-1 text-[11.5px]">
      {hasCurve
        ? 'Parity: implied by calls and puts. Carry: spot and the stored rate curve.'
        : 'No rate curve is stored for this currency, so only parity serves.'}
    </p>
  </fieldset>
  {#if view.picture.underlying.exercise === 'american' && view.picture.underlying.model === 'spot'}<CarryChoice />{/if}
  <VolatilityChoice />
  {#if isChanged}<p class="text-own mt-3 text-[11.5px]">● Not all of it is as it is at first.</p>{/if}
  <p class="quiet mt-3 text-[11.5px]">
    Model: Black–Scholes–Merton on the forward. Exercise: {view.picture.underlying.exercise === 'american'
      ? 'American, by the premium over European'
      : 'European'}. Time: calendar days, ACT/365 by minutes.
  </p>
</Popover>
