<!-- Underlyings that the user brought: terms that can be changed, instants and underlyings that can be taken out. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import { invalidate } from '$app/navigation';
  import { ask, troubleText } from '$lib/api/client/ask';
  import {
    changeUnderlyingRoute,
    listInstantsRoute,
    removeInstantsRoute,
    removeUnderlyingRoute,
  } from '$lib/api/contract/underlyings';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import ValueTable from '$lib/shell/value-table.svelte';
  import { instantLabel } from '$lib/ui/format';
  import type { UnderlyingChange, UnderlyingSummary } from '$lib/api/underlying';

  interface Props {
    underlyings: UnderlyingSummary[];
  }
  let { underlyings }: Props = $props();
  const KINDS = ['index', 'fund', 'share', 'future', 'currency'] as const;
  let opened = $state<string>();
  let instants = $state.raw<string[]>([]);
  let asked = $state<string>();
  let said = $state<{ text: string; isTrouble: boolean }>();
  const open = $derived(underlyings.find((u) => u.symbol === opened));

  async function tell(asking: () => Promise<unknown>, done: string): Promise<boolean> {
    said = undefined;
    asked = undefined;
    let isDone = false;
    try {
      await asking();
      said = { text: done, isTrouble: false };
      isDone = true;
    } catch (error) {
      said = { text: troubleText(error), isTrouble: true };
    }
    await invalidate('umwelt:underlyings');
    return isDone;
  }

  async function show(symbol: string): Promise<void> {
    opened = opened === symbol ? undefined : symbol;
    instants = [];
    if (opened === undefined) return;
    try {
      ({ instants } = await ask(listInstantsRoute, { parameters: { symbol } }));
    } catch (error) {
      said = { text: troubleText(error), isTrouble: true };
    }
  }

  function change(symbol: string, body: UnderlyingChange): void {
    void tell(
      () => ask(changeUnderlyingRoute, { parameters: { symbol }, body }),
      `The terms of ${symbol} are changed; what depends on them is derived anew.`,
    );
  }

  async function removeInstant(symbol: string, instant: string): Promise<void> {
    const query = new URLSearchParams({ instant });
    const asking = () => ask(removeInstantsRoute, { parameters: { symbol }, query });
    if (await tell(asking, `${instantLabel(instant)} is taken out.`)) instants = instants.filter((i) => i !== instant);
  }

  async function removeAll(symbol: string): Promise<void> {
    const asking = () => ask(removeUnderlyingRoute, { parameters: { symbol } });
    if (await tell(asking, `All of ${symbol} is taken out.`)) opened = undefined;
  }

  const termsText = (u: UnderlyingSummary) => `${u.exercise} options on ${u.kind === 'index' ? 'an' : 'a'} ${u.kind}`;
  const columns: TableColumn<UnderlyingSummary>[] = [
    {
      id: 'underlying',
      head: 'underlying',
      width: 90,
      isFixed: true,
      align: 'left',
      value: (u) => u.symbol,
      text: (u) => u.symbol,
      cell: named,
    },
    { id: 'terms', head: 'terms', align: 'left', value: termsText, text: termsText },
    { id: 'multiplier', head: 'multiplier', width: 74, value: (u) => u.multiplier, text: (u) => String(u.multiplier) },
    {
      id: 'currency',
      head: 'currency',
      width: 70,
      value: (u) => (u.currency === 'XXX' ? null : u.currency),
      text: (u) => (u.currency === 'XXX' ? 'unknown' : u.currency),
    },
    { id: 'actions', head: '', label: 'change', width: 74, text: () => '', cell: actions },
  ];
</script>

{#snippet named(u: UnderlyingSummary)}<a
    class="inline-block min-h-6 min-w-6 leading-6 font-semibold"
    href="/skew/{symbolPart(u.symbol)}">{u.symbol}</a
  >{/snippet}
{#snippet actions(u: UnderlyingSummary)}
  <button
    type="button"
    class="text-implied min-h-6 underline"
    aria-expanded={opened === u.symbol}
    aria-label="Terms and instants of {u.symbol}"
    onclick={() => void show(u.symbol)}>change…</button
  >
{/snippet}

{#if underlyings.length > 0}
  <h2 class="small-caps mb-1">Yours</h2>
  {#if said}<p class="mb-1 font-serif text-[14px] {said.isTrouble ? 'text-loss' : ''}" role="status">
      {said.text}
    </p>{/if}
  <div class="mb-3">
    <ValueTable
      name="Yours"
      storage="own-columns"
      {columns}
      rows={underlyings}
      rowKey={(u) => u.symbol}
      testid="own"
      class="text-[12.5px] [--table-ground:var(--sheet)]"
    />
  </div>
  {#if open}
    {@const symbol = open.symbol}
    <div class="border-line mb-4 border-l-3 py-1 pl-3 text-[12px]" role="group" aria-label="Terms of {symbol}">
      <div class="flex flex-wrap gap-x-5 gap-y-2">
        <label class="flex flex-col"
          ><span class="quiet">kind</span>
          <select
            class="select select-xs w-28"
            value={open.kind}
            onchange={(event) => change(symbol, { kind: event.currentTarget.value as UnderlyingSummary['kind'] })}
            >{#each KINDS as kind (kind)}<option>{kind}</option>{/each}</select
          ></label
        >
        <label class="flex flex-col"
          ><span class="quiet">exercise</span>
          <select
            class="select select-xs w-28"
            value={open.exercise}
            onchange={(event) =>
              change(symbol, { exercise: event.currentTarget.value as UnderlyingSummary['exercise'] })}
            ><option>european</option><option>american</option></select
          ></label
        >
        {#each [['multiplier', 'multiplier'], ['currency', 'currency'], ['zone', 'time zone'], ['sessionClose', 'close']] as const as [field, label] (field)}
          <label class="flex flex-col"
            ><span class="quiet">{label}</span>
            <input
              class="input input-xs w-24"
              value={open[field]}
              onchange={(event) => {
                const text = event.currentTarget.value.trim();
                change(symbol, { [field]: field === 'multiplier' ? Number(text) : text });
              }}
            /></label
          >
        {/each}
      </div>
      <p class="mt-2 flex flex-wrap items-center gap-2">
        <span class="quiet">{instants.length} {instants.length === 1 ? 'instant' : 'instants'}:</span>
        {#each instants.slice(0, 12) as instant (instant)}
          {#if asked === instant}
            <button type="button" class="btn btn-xs text-loss" onclick={() => void removeInstant(symbol, instant)}
              >Delete {instantLabel(instant)}</button
            >
            <button type="button" class="btn btn-xs" onclick={() => (asked = undefined)}>Keep</button>
          {:else}
            <button
              type="button"
              class="min-h-6 underline"
              aria-label="Delete the quotes of {instantLabel(instant)}…"
              onclick={() => (asked = instant)}>{instantLabel(instant)}</button
            >
          {/if}
        {/each}
        {#if instants.length > 12}<span class="quiet">and {instants.length - 12} more</span>{/if}
      </p>
      <p class="mt-2 flex items-center gap-2">
        {#if asked === symbol}
          <button type="button" class="btn btn-xs text-loss" onclick={() => void removeAll(symbol)}
            >Delete all of {symbol}</button
          >
          <button type="button" class="btn btn-xs" onclick={() => (asked = undefined)}>Keep</button>
          <span class="quiet">This cannot be taken back.</span>
        {:else}
          <button type="button" class="btn btn-xs" onclick={() => (asked = symbol)}>Delete {symbol}…</button>
        {/if}
      </p>
    </div>
  {/if}
{/if}
