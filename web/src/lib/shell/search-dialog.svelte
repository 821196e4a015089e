<!-- Search: underlyings by symbol or name, views by theirs; a typed date goes to the stored instant at or before it. -->
<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { toast } from 'svelte-sonner';
  import type { Overview } from '$lib/api/picture';
  import type { UnderlyingSummary } from '$lib/api/underlying';
  import { pageState } from './page-state.svelte';
  import { type SearchEntry, searchEntries } from './search-entries';
  import type { Here } from './left-views';
  import { viewHref } from './view-address';
  import { switchUnderlying } from './switch-underlying';

  interface Props {
    underlyings: UnderlyingSummary[];
    /** What is shown, or was shown last */
    here: Here | undefined;
  }
  let { underlyings, here }: Props = $props();
  const shell = pageState();
  let dialog = $state<HTMLDialogElement>();
  let text = $state('');
  let active = $state(0);

  const date = $derived(/^\d{4}-\d{2}-\d{2}$/.test(text.trim()) ? text.trim() : undefined);
  const found = $derived(searchEntries(shell.views, underlyings, text));

  $effect(() => {
    if (shell.isSearchOpen) {
      text = '';
      active = 0;
      dialog?.showModal();
    } else dialog?.close();
  });

  async function choose(entry: SearchEntry): Promise<void> {
    shell.isSearchOpen = false;
    if (entry.kind === 'view') {
      const href = viewHref(entry.view, here, shell.left);
      if (href !== undefined) await goto(href);
      return;
    }
    const shown = (page.data as { seen?: Overview }).seen;
    if (entry.id === shown?.underlying.symbol) return;
    const { href, leftBehind } = switchUnderlying(shell.views, page.url, entry.id, shown);
    await goto(href);
    if (leftBehind.length > 0) toast.info(`Stays with ${shown?.underlying.symbol}: ${leftBehind.join(', ')}.`);
  }

  async function submit(): Promise<void> {
    if (date && page.params.symbol) {
      const url = new URL(page.url);
      url.searchParams.set('asOf', `${date}T23:59:00Z`);
      shell.isSearchOpen = false;
      await goto(url);
    } else if (found[active]) await choose(found[active]);
  }
</script>

<dialog
  bind:this={dialog}
  class="bg-sheet text-ink border-line m-auto w-[440px] border p-4"
  onclose={() => (shell.isSearchOpen = false)}
  aria-label="Search"
>
  <form
    onsubmit={(event) => {
      event.preventDefault();
      void submit();
    }}
  >
    <input
      class="input w-full"
      type="search"
      placeholder="symbol, name, or a date such as 2031-03-07"
      aria-label="Symbol, name or date"
      bind:value={text}
      oninput={() => (active = 0)}
      onkeydown={(event) => {
        if (event.key === 'ArrowDown') active = Math.min(found.length - 1, active + 1);
        else if (event.key === 'ArrowUp') active = Math.max(0, active - 1);
        else return;
        event.preventDefault();
      }}
    />
  </form>
  <ul class="mt-2 max-h-72 overflow-auto">
    {#if date}<li class="quiet py-1">Enter: the stored instant at or before the end of {date}</li>{/if}
    {#each found as entry, i (entry.id)}
      <li>
        <button
          type="button"
          class="flex w-full gap-3 px-1 py-1 text-left {i === active ? 'bg-hair' : ''}"
          onclick={() => choose(entry)}
        >
          <strong class="w-20">{entry.name}</strong><span class="grow">{entry.words}</span><span class="quiet"
            >{entry.note}</span
          >
        </button>
      </li>
    {:else}
      {#if !date}<li class="quiet py-1">Nothing stored has this name. Import a chain under Data (d).</li>{/if}
    {/each}
  </ul>
</dialog>
