<!-- The quotes of an expiry that are kept out of the fit, each with its reason, to be put back or taken out again. -->
<script lang="ts">
  import Popover from '../ui/popover.svelte';
  import type { ExpiryPicture } from '$lib/api/picture';
  import { excludedQuotes, reasonWords } from '$lib/market';
  import { figureScale, figureText } from '$lib/measures';
  import { strikeText } from '$lib/ui/format';
  import { quotedViewState } from './view-state.svelte';

  interface Props {
    focus: ExpiryPicture;
  }
  let { focus }: Props = $props();
  const view = quotedViewState();
  const scale = $derived(figureScale(view.picture));
  const quotes = $derived(excludedQuotes(focus, view.context.restored));
  const out = $derived(quotes.filter((q) => q.reason !== null).length);
</script>

{#if quotes.length === 0}
  <span class="quiet">none excluded</span>
{:else}
  <Popover triggerClass="quiet underline decoration-dotted underline-offset-2" class="w-96">
    {#snippet trigger()}{out} excluded{/snippet}
    <h3 class="small-caps">Excluded of this expiry</h3>
    <ul class="mt-1 text-[12.5px]" aria-label="Excluded quotes">
      {#each quotes as { strike, side, bid, ask, reason } (`${strike}${side}`)}
        <li class="border-hair flex items-baseline gap-2 border-b py-1">
          <strong class="w-20 shrink-0">{strikeText(strike)} {side}</strong>
          <span class="w-24 shrink-0 tabular-nums"
            >{figureText(bid, 'quote', scale)} / {figureText(ask, 'quote', scale)}</span
          >
          <span class="grow">{reason === null ? 'put back by hand' : reasonWords(reason)}</span>
          {#if reason !== 'no-ask'}
            <button
              type="button"
              class="text-implied shrink-0"
              aria-label="{reason === null ? 'Take out' : 'Put back'} {strikeText(strike)} {side}"
              onclick={() => view.toggleRestored(focus.date, strike, side)}
              >{reason === null ? 'take out' : 'put back'}</button
            >
          {/if}
        </li>
      {/each}
    </ul>
    <p class="quiet mt-2 text-[11.5px]">A quote without an offer has no volatility to be fitted to.</p>
  </Popover>
{/if}
