<!-- What is held beside the picture: other underlyings, or this one as it is now for other days to be compared with. -->
<script lang="ts">
  import Combobox from '../ui/combobox.svelte';
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
  let complaint = $state('');

  function keep(list: Comparison[]): void {
    void view.address.set({ compare: list.length > 0 ? list.map(comparisonText).join(',') : undefined });
  }

  function add(added: Comparison): void {
    const text = comparisonText(added);
    if (!compared.some((c) => comparisonText(c) === text)) keep([...compared, added]);
  }

  /** Those called so, that of exactly this symbol first, then those whose symbols begin so. */
  function find(text: string) {
    const typed = text.trim().toUpperCase();
    return underlyings
      .filter((u) => u.symbol !== own && `${u.symbol} ${u.name}`.toUpperCase().includes(typed))
      .sort((a, b) => nearness(b.symbol, typed) - nearness(a.symbol, typed))
      .map((u) => ({ value: u.symbol, note: u.name }));
  }

  const nearness = (symbol: string, typed: string) => Number(symbol === typed) + Number(symbol.startsWith(typed));

  function complain(text: string): void {
    const symbol = text.trim().toUpperCase();
    complaint =
      symbol === own
        ? `${own} is what is shown; pin this day to compare it with another.`
        : `No underlying is called ${symbol}.`;
  }
</script>

<div class="flex flex-wrap items-center gap-2 text-[12px]" data-testid="compare-bar">
  <span class="quiet">compare with</span>
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
    <Combobox
      class="w-28"
      label="Underlying to compare with"
      placeholder="underlying"
      {find}
      onpick={(symbol) => {
        complaint = '';
        add({ symbol });
      }}
      onunknown={complain}
    />
    <Tooltip words="Compares this instant with whatever is stepped to">
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
