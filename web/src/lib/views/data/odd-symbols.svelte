<!-- Symbols from before the rule, or that differ in case alone: they work, and are given another name or taken out here. -->
<script lang="ts">
  import { isSymbol, SYMBOL_RULE } from '@umwelt/market/symbol';
  import { invalidate } from '$app/navigation';
  import { ask, troubleText } from '$lib/api/client/ask';
  import { changeUnderlyingRoute, removeUnderlyingRoute } from '$lib/api/contract/underlyings';

  interface Props {
    symbols: string[];
  }
  let { symbols }: Props = $props();
  const odd = $derived(
    symbols.filter(
      (symbol) => !isSymbol(symbol) || symbols.some((o) => o !== symbol && o.toLowerCase() === symbol.toLowerCase()),
    ),
  );
  let names = $state<Record<string, string>>({});
  let trouble = $state<string>();
  let asked = $state<string>();

  async function change(symbol: string, asking: () => Promise<unknown>): Promise<void> {
    trouble = undefined;
    asked = undefined;
    try {
      await asking();
    } catch (error) {
      trouble = `${symbol}: ${troubleText(error)}`;
    }
    await invalidate('umwelt:underlyings');
  }
  const rename = (symbol: string) =>
    change(symbol, () =>
      ask(changeUnderlyingRoute, { parameters: { symbol }, body: { symbol: (names[symbol] ?? '').trim() } }),
    );
  const remove = (symbol: string) => change(symbol, () => ask(removeUnderlyingRoute, { parameters: { symbol } }));
</script>

{#if odd.length > 0}
  <h2 class="small-caps mt-5 mb-1">Symbols to mend</h2>
  <p class="quiet mb-1">They work as they are, but would not be taken in any more: {SYMBOL_RULE}; in one case only.</p>
  {#if trouble}<p class="text-loss text-[12.5px]" role="alert">{trouble}</p>{/if}
  <ul class="flex flex-col gap-1.5 text-[12.5px]" data-testid="odd-symbols">
    {#each odd as symbol (symbol)}
      <li>
        <form
          class="flex items-center gap-2"
          onsubmit={(event) => {
            event.preventDefault();
            void rename(symbol);
          }}
        >
          <strong class="w-40 break-all">{symbol}</strong>
          <input class="input input-xs w-36" aria-label="New symbol of {symbol}" bind:value={names[symbol]} />
          <button type="submit" class="btn btn-xs" disabled={!isSymbol((names[symbol] ?? '').trim())}>Rename</button>
          {#if asked === symbol}
            <button type="button" class="btn btn-xs text-loss" onclick={() => remove(symbol)}
              >Delete all of {symbol}</button
            >
            <button type="button" class="btn btn-xs" onclick={() => (asked = undefined)}>Keep</button>
          {:else}
            <button type="button" class="btn btn-xs" onclick={() => (asked = symbol)}>Delete…</button>
          {/if}
        </form>
      </li>
    {/each}
  </ul>
{/if}
