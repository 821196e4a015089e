<!-- Search: underlyings by symbol or name; a typed date goes to the stored instant at or before it. -->
<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { toast } from 'svelte-sonner';
  import type { Picture, UnderlyingSummary } from '$lib/api/picture';
  import { pageState } from './page-state.svelte';
  import { switchUnderlying } from './switch-underlying';

  interface Props {
    underlyings: UnderlyingSummary[];
  }
  let { underlyings }: Props = $props();
  const shell = pageState();
  let dialog = $state<HTMLDialogElement>();
  let text = $state('');
  let active = $state(0);

  const date = $derived(/^\d{4}-\d{2}-\d{2}$/.test(text.trim()) ? text.trim() : undefined);
  const found = $derived(
    underlyings.filter((u) => `${u.symbol} ${u.name} ${u.sector}`.toLowerCase().includes(text.trim().toLowerCase())),
  );

  $effect(() => {
    if (shell.isSearchOpen) {
      text = '';
      active = 0;
      dialog?.showModal();
    } else dialog?.close();
  });

  async function choose(symbol: string): Promise<void> {
    shell.isSearchOpen = false;
    const shown = (page.data as { picture?: Picture }).picture;
    if (symbol === shown?.underlying.symbol) return;
    const { href, leftBehind } = switchUnderlying(page.url, symbol, shown);
    await goto(href);
    if (leftBehind.length > 0) toast.info(`Stays with ${shown?.underlying.symbol}: ${leftBehind.join(', ')}.`);
  }

  async function submit(): Promise<void> {
    if (date && page.params.symbol) {
      const url = new URL(page.url);
      url.searchParams.set('asOf', `${date}T23:59:00Z`);
      shell.isSearchOpen = false;
      await goto(url);
    } else if (found[active]) await choose(found[active].symbol);
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
    {#each found as u, i (u.symbol)}
      <li>
        <button
          type="button"
          class="flex w-full gap-3 px-1 py-1 text-left {i === active ? 'bg-hair' : ''}"
          onclick={() => choose(u.symbol)}
        >
          <strong class="w-20">{u.symbol}</strong><span class="grow">{u.name}</span><span class="quiet">{u.sector}</span
          >
        </button>
      </li>
    {:else}
      {#if !date}<li class="quiet py-1">Nothing stored has this name. Import a chain under Data (d).</li>{/if}
    {/each}
  </ul>
</dialog>
