<!-- The quotes of expiries that are excluded from the fit, each with its reason, to be put back or taken out again. -->
<script lang="ts">
  import Popover from '../ui/popover.svelte';
  import type { ExpiryPicture } from '$lib/api/picture';
  import { excludedQuotes, reasonWords } from '$lib/market';
  import { figureScale, figureText } from '$lib/measures';
  import { dateText, strikeText } from '$lib/ui/format';
  import { quotedViewState } from './view-state.svelte';

  interface Props {
    expiries: readonly ExpiryPicture[];
    /** What opens the list; how many there are where it is not given */
    words?: string;
  }
  let { expiries, words }: Props = $props();
  const view = quotedViewState();
  const scale = $derived(figureScale(view.picture));
  const listOf = (expiry: ExpiryPicture) => ({ expiry, quotes: excludedQuotes(expiry, view.context.restored) });
  const lists = () => expiries.map(listOf).filter(({ quotes }) => quotes.length > 0);
  const out = () => lists().reduce((sum, { quotes }) => sum + quotes.filter((q) => q.reason !== null).length, 0);
</script>

{#if words === undefined && lists().length === 0}
  <span class="quiet">none excluded</span>
{:else}
  <Popover triggerClass="{words ? '' : 'quiet'} underline decoration-dotted underline-offset-4" class="w-96">
    {#snippet trigger()}{words ?? `${out()} excluded`}{/snippet}
    {#each lists() as { expiry, quotes } (expiry.date)}
      <h3 class="small-caps mt-1">Excluded of {dateText(expiry.date, view.picture.asOf)}</h3>
      <ul class="mt-1 text-[12.5px]" aria-label="Excluded quotes of {dateText(expiry.date, view.picture.asOf)}">
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
                onclick={() => view.toggleRestored(expiry.date, strike, side)}
                >{reason === null ? 'take out' : 'put back'}</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    {:else}<p>None is excluded any more.</p>{/each}
    <p class="quiet mt-2 text-[11.5px]">A quote without an offer has no volatility to be fitted to.</p>
  </Popover>
{/if}
