<!-- Search: underlyings by symbol or name, views by theirs; a typed date goes to the stored instant at or before it. -->
<script lang="ts">
  import { Command } from 'bits-ui';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { toast } from 'svelte-sonner';
  import type { Overview } from '$lib/api/picture';
  import type { UnderlyingSummary } from '$lib/api/underlying';
  import Dialog from '../ui/dialog.svelte';
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
  let text = $state('');

  const date = $derived(page.params.symbol && /^\d{4}-\d{2}-\d{2}$/.test(text.trim()) ? text.trim() : undefined);
  const found = $derived(searchEntries(shell.views, underlyings, text));

  $effect(() => {
    if (shell.isSearchOpen) text = '';
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

  async function goTo(day: string): Promise<void> {
    const url = new URL(page.url);
    url.searchParams.set('asOf', `${day}T23:59:00Z`);
    shell.isSearchOpen = false;
    await goto(url);
  }
  const row = 'flex gap-3 px-1 py-1 cursor-pointer data-selected:bg-hair';
</script>

<Dialog title="Search" width="440px" isTitleHidden bind:isOpen={shell.isSearchOpen}>
  <Command.Root shouldFilter={false} label="Symbol, name or date" loop>
    <Command.Input
      class="input sticky top-0 z-10 w-full"
      placeholder="symbol, name, or a date such as 2031-03-07"
      bind:value={text}
    />
    <Command.List class="mt-2" aria-label="Found">
      <Command.Viewport>
        {#if date}
          <Command.Item class={row} value="date" onSelect={() => void goTo(date)}>
            <strong class="w-20">{date}</strong><span class="grow">the stored instant at or before its end</span>
          </Command.Item>
        {/if}
        {#each found as entry (entry.id)}
          <Command.Item class={row} value={entry.id} onSelect={() => void choose(entry)}>
            <strong class="w-20">{entry.name}</strong><span class="grow">{entry.words}</span><span class="quiet"
              >{entry.note}</span
            >
          </Command.Item>
        {/each}
      </Command.Viewport>
    </Command.List>
    {#if found.length === 0 && !date}
      <p class="quiet py-1" role="status">Nothing stored has this name. Import a chain under Data (d).</p>
    {/if}
  </Command.Root>
</Dialog>
