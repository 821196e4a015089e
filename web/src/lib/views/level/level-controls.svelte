<!-- What Level compares, and what it draws. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { FORECAST_MODELS, REALIZED_ESTIMATORS } from '@umwelt/core/volatility';
  import { IMPLIED_CHOICES, type ImpliedChoice } from '$lib/api/level';
  import { TENOR_DAYS } from '$lib/market';
  import { viewState } from '$lib/shell/view-state.svelte';
  import { ESTIMATOR_NAMES, FORECAST_NAMES } from './level-words';
  import {
    LAID_UNDER,
    type LaidUnder,
    LEVEL_SHOWS,
    LEVEL_SPANS,
    type LevelParameters,
    type LevelShow,
  } from './parameters';

  interface Props {
    own: LevelParameters;
    expiry: string | undefined;
  }
  let { own, expiry }: Props = $props();
  const view = viewState();
  const shows: Record<LevelShow, string> = { levels: 'both', difference: 'difference', ratio: 'ratio' };
  const under: Record<LaidUnder, string> = { none: 'nothing', volume: 'option volume', interest: 'open interest' };
  const DELTAS = [0.1, 0.25, 0.4];
  const PASTS: Record<string, string> = { 63: 'a quarter', 126: 'half a year', 252: 'a year', 504: 'two years' };
  const implied: Record<ImpliedChoice, string> = {
    atm: 'at the money',
    index: 'model-free, 30 days',
    put: 'put at a delta',
    call: 'call at a delta',
    expiry: 'expiry in focus',
  };
  /** Where it is the default it does not stand in the address. */
  const set = (name: string, value: string | number, usual: string | number) =>
    view.address.set({ [name]: value === usual ? undefined : String(value) });
  const isAtDays = $derived(own.implied === 'atm' || own.implied === 'put' || own.implied === 'call');
</script>

<label class="flex items-baseline gap-1.5 text-[12.5px]"
  ><span class="quiet">implied</span>
  <select
    class="select select-xs text-implied w-[118px]"
    value={own.implied}
    onchange={(event) => set('implied', event.currentTarget.value, 'atm')}
  >
    {#each IMPLIED_CHOICES as choice (choice)}<option value={choice} disabled={choice === 'expiry' && !expiry}
        >{implied[choice]}</option
      >{/each}
  </select></label
>
{#if isAtDays}
  <select
    class="select select-xs w-[82px]"
    aria-label="Days of implied volatility"
    value={String(own.days)}
    onchange={(event) => set('days', event.currentTarget.value, '30')}
  >
    {#each [...new Set([...TENOR_DAYS, own.days])].sort((a, b) => a - b) as days (days)}<option value={String(days)}
        >{days} days</option
      >{/each}
  </select>
{/if}
{#if own.implied === 'put' || own.implied === 'call'}
  <Choice
    label="Delta"
    choices={DELTAS}
    chosen={own.delta}
    words={(delta) => String(Math.round(delta * 100))}
    onchoose={(delta) => set('delta', delta, 0.25)}
  />
{/if}
<label class="flex items-baseline gap-1.5 text-[12.5px]"
  ><span class="quiet">realized</span>
  <select
    class="select select-xs text-realized w-[132px]"
    value={own.estimator}
    onchange={(event) => set('estimator', event.currentTarget.value, 'yang-zhang')}
  >
    {#each REALIZED_ESTIMATORS as estimator (estimator)}<option value={estimator}>{ESTIMATOR_NAMES[estimator]}</option
      >{/each}
  </select></label
>
{#if own.estimator !== 'ewma'}
  <span class="flex items-baseline gap-1 text-[12.5px]"
    ><TypedNumber
      label="Sessions of realized volatility"
      text={String(own.window)}
      isWhole
      within={[2, 252]}
      ontype={(value) => set('window', value, 21)}
    /><span class="quiet">sessions</span></span
  >
{/if}
<Choice
  label="Realized as"
  choices={['trailing', 'later'] as const}
  chosen={own.realized}
  words={(choice) => (choice === 'trailing' ? 'as it was' : 'what came')}
  onchoose={(choice) => set('realized', choice, 'trailing')}
/>
<Choice
  label="What is drawn"
  choices={LEVEL_SHOWS}
  chosen={own.show}
  words={(show) => shows[show]}
  onchoose={(show) => set('show', show, 'levels')}
/>
<button
  type="button"
  class="segment-like"
  aria-pressed={own.withoutEvents === 'yes'}
  onclick={() => set('withoutEvents', own.withoutEvents === 'yes' ? 'no' : 'yes', 'no')}>without events</button
>
<label class="flex items-baseline gap-1.5 text-[12.5px]"
  ><span class="quiet">past</span>
  <select
    class="select select-xs w-[84px]"
    value={String(own.over)}
    onchange={(event) => set('over', event.currentTarget.value, '252')}
  >
    {#each Object.entries(PASTS) as [sessions, words] (sessions)}<option value={sessions}>{words}</option>{/each}
    {#if !(own.over in PASTS)}<option value={String(own.over)}>{own.over} sessions</option>{/if}
  </select></label
>
<label class="flex items-baseline gap-1.5 text-[12.5px]"
  ><span class="quiet">under it</span>
  <select
    class="select select-xs w-[98px]"
    value={own.under}
    onchange={(event) => set('under', event.currentTarget.value, 'none')}
  >
    {#each LAID_UNDER as choice (choice)}<option value={choice}>{under[choice]}</option>{/each}
  </select></label
>
<label class="flex items-baseline gap-1.5 text-[12.5px]"
  ><span class="quiet">forecast</span>
  <select
    class="select select-xs w-[104px]"
    value={own.forecast}
    onchange={(event) => set('forecast', event.currentTarget.value, 'none')}
  >
    <option value="none">not drawn</option>
    {#each FORECAST_MODELS as model (model)}<option value={model}>{FORECAST_NAMES[model]}</option>{/each}
  </select></label
>
<label class="flex items-baseline gap-1.5 text-[12.5px]"
  ><span class="quiet">drawn</span>
  <select
    class="select select-xs w-[84px]"
    value={String(own.span)}
    onchange={(event) => set('span', event.currentTarget.value, '1')}
  >
    {#each LEVEL_SPANS as span (span)}<option value={String(span)}>{span === 1 ? 'one year' : 'two years'}</option
      >{/each}
  </select></label
>
