<!-- Which volatility theory uses: each source with what it gives at the money of the focus expiry. -->
<script lang="ts">
  import { numberText } from '$lib/ui/format';
  import { readNumber } from '$lib/ui/number-input';
  import { theoryVolatilityAtMoney, VOLATILITY_SOURCE_NAMES, volatilityInForce } from '$lib/theory';
  import { type AsOfContext, VOLATILITY_SOURCES } from '$lib/api/as-of-context';
  import { viewState } from './view-state.svelte';

  type Source = AsOfContext['volatilitySource'];
  const view = viewState();
  let wrong = $state<string>();

  const notes: Record<Source, string> = {
    smile: 'fitted, at each strike',
    own: 'of each quote’s mid',
    atm: 'of the expiry, at every strike',
    borrowed: 'of the donor, at each strike',
    index: 'model-free, for all expiries',
    realized: 'over as long, close to close',
    typed: 'for all expiries',
  };

  const values = $derived.by(() => {
    const { focus, picture, context } = view;
    const at = (source: Source) =>
      focus && theoryVolatilityAtMoney(focus, volatilityInForce(picture, { ...context, volatilitySource: source }));
    return Object.fromEntries(VOLATILITY_SOURCES.map((s) => [s, at(s) ?? null])) as Record<Source, number | null>;
  });

  function take(source: Source): void {
    if (source === 'typed' && view.context.typedVolatility === undefined) {
      // Something to start from: what theory used before.
      const before = theoryBefore();
      void view.address.set({ volatilitySource: source, typedVolatility: String(before) });
    } else void view.address.set({ volatilitySource: source === 'smile' ? undefined : source });
  }

  function theoryBefore(): number {
    return Math.round((values[view.context.volatilitySource] ?? values.atm ?? 0.2) * 1000) / 1000;
  }

  function type(text: string): void {
    const read = readNumber(text);
    wrong = !read.ok ? read.wrong : read.value > 0 && read.value <= 500 ? undefined : 'above 0 and at most 500 %';
    if (read.ok && !wrong)
      void view.address.set({ volatilitySource: 'typed', typedVolatility: String(read.value / 100) });
  }
</script>

<fieldset class="mt-3">
  <legend class="small-caps">Volatility for theory</legend>
  <ul class="mt-1">
    {#each VOLATILITY_SOURCES as source (source)}
      {@const isChosen = view.context.volatilitySource === source}
      <li class="border-hair flex items-center gap-2 border-b py-0.5 text-[12.5px]">
        <button
          type="button"
          class="min-h-6 w-26 text-left {isChosen ? 'text-implied font-semibold' : ''} disabled:opacity-50"
          aria-pressed={isChosen}
          disabled={source !== 'typed' && values[source] === null}
          onclick={() => take(source)}>{VOLATILITY_SOURCE_NAMES[source]}</button
        >
        <span class="quiet grow text-[11.5px]">{notes[source]}</span>
        {#if source === 'typed'}
          <input
            class="text-own border-line w-14 border-b bg-transparent text-right"
            aria-label="typed volatility, %"
            aria-invalid={wrong !== undefined}
            inputmode="decimal"
            value={view.context.typedVolatility === undefined ? '' : numberText(100 * view.context.typedVolatility, 1)}
            onchange={(event) => type(event.currentTarget.value)}
          /> %
        {:else}
          <span class="whitespace-nowrap tabular-nums"
            >{values[source] === null ? '—' : `${numberText(100 * (values[source] ?? 0), 1)} %`}</span
          >
        {/if}
      </li>
    {/each}
  </ul>
  {#if wrong}
    <p class="text-loss mt-1 text-[11.5px]">The typed volatility: {wrong}, such as 25.</p>
  {/if}
  <p class="quiet mt-1 text-[11.5px]">In percent, at the money of the expiry in focus.</p>
</fieldset>
