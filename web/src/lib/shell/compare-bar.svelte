<!-- What is held beside the picture: other underlyings, or this one as it is now for other days to be compared with. -->
<script lang="ts">
  import Tooltip from '../ui/tooltip.svelte';
  import { page } from '$app/state';
  import { instantLabel } from '$lib/ui/format';
  import { type Comparison, comparisonText, MOST_COMPARED } from '$lib/api/comparison';
  import type { SurfaceResource } from '$lib/api/surface-resource';
  import type { UnderlyingSummary } from '$lib/api/underlying';
  import type { Comparing } from './comparing.svelte';
  import { viewState } from './view-state.svelte';

  interface Props {
    comparing: Comparing<SurfaceResource>;
  }
  let { comparing }: Props = $props();
  const view = viewState();
  const compared = $derived(comparing.list.map((c) => c.comparison));
  const underlyings = $derived((page.data.underlyings ?? []) as UnderlyingSummary[]);
  const own = $derived(view.picture.underlying.symbol);
  const isFull = $derived(compared.length >= MOST_COMPARED);
  let typed = $state('');
  let complaint = $state('');

  function keep(list: Comparison[]): void {
    void view.address.set({ compare: list.length > 0 ? list.map(comparisonText).join(',') : undefined });
  }

  function add(added: Comparison): void {
    const text = comparisonText(added);
    if (!compared.some((c) => comparisonText(c) === text)) keep([...compared, added]);
  }

  function addTyped(): void {
    const symbol = typed.trim().toUpperCase();
    if (symbol === '') return;
    complaint = '';
    if (symbol === own) complaint = `${own} is what is shown; pin this day to see it beside another.`;
    else if (!underlyings.some((u) => u.symbol === symbol)) complaint = `No underlying is called ${symbol}.`;
    else {
      add({ symbol });
      typed = '';
    }
  }
</script>

<div class="flex flex-wrap items-center gap-2 text-[12px]" data-testid="compare-bar">
  <span class="quiet">beside it</span>
  {#each comparing.list as { comparison, text, trouble } (text)}
    <span class="border-line border px-1.5">
      {comparison.symbol}{comparison.asOf ? `, ${instantLabel(comparison.asOf)}` : ''}
      {#if trouble}<span class="text-error">{trouble}</span>{/if}
      <button
        type="button"
        aria-label="Take {text} away"
        onclick={() => keep(compared.filter((c) => comparisonText(c) !== text))}>×</button
      >
    </span>
  {/each}
  {#if isFull}
    <span class="quiet">no more than {MOST_COMPARED}</span>
  {:else}
    <form
      class="contents"
      onsubmit={(event) => {
        event.preventDefault();
        addTyped();
      }}
    >
      <input
        class="border-line w-28 border bg-transparent px-1"
        aria-label="Underlying to hold beside it"
        placeholder="underlying"
        list="comparable"
        bind:value={typed}
        onchange={addTyped}
      />
      <datalist id="comparable">
        {#each underlyings.filter((u) => u.symbol !== own) as u (u.symbol)}<option value={u.symbol}>{u.name}</option
          >{/each}
      </datalist>
    </form>
    <Tooltip words="Keeps this instant beside whatever is stepped to">
      {#snippet of(props)}<button
          {...props}
          type="button"
          class="text-implied"
          onclick={() => add({ symbol: own, asOf: view.picture.asOf })}>pin this day</button
        >{/snippet}
    </Tooltip>
  {/if}
  {#if complaint}<span class="text-error" role="alert">{complaint}</span>{/if}
</div>
