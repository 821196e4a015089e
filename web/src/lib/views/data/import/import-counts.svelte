<!-- What a chain would do to what is stored, and which of its rows cannot be read, in sentences. -->
<script lang="ts">
  import type { ImportPreview } from '$lib/api/chain-import';
  import { instantLabel, numberText } from '$lib/ui/format';
  import { fieldWord, problemWords } from './import-words';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    chain: ImportPreview;
  }
  let { item, chain }: Props = $props();
  const whole = $derived(chain.whole);
  const plural = (count: number, word: string) => `${numberText(count, 0)} ${word}${count === 1 ? '' : 's'}`;
  const extent = $derived.by(() => {
    const { instants, expiries, underlyings } = whole ?? { instants: null, expiries: 0, underlyings: [] };
    const of = underlyings.length > 0 ? ` of ${underlyings.map((u) => u.symbol).join(', ')}` : '';
    if (!instants) return of;
    const when =
      instants.count === 1
        ? `at ${instantLabel(instants.first)}`
        : `at ${numberText(instants.count, 0)} instants from ${instantLabel(instants.first)} to ${instantLabel(instants.last)}`;
    return `${of} ${when}, ${expiries} ${expiries === 1 ? 'expiry' : 'expiries'}`;
  });
  // What the columns lack and the file says elsewhere; of several places the first counts.
  const told = $derived(
    Object.entries(chain.typed).flatMap(
      ([field, value]) => chain.facts.find((f) => f.field === field && f.value === value) ?? [],
    ),
  );
</script>

<div class="font-serif text-[14.5px] leading-snug" data-testid="import-counts">
  {#if chain.missing.length > 0}
    <p class="text-loss" role="alert">
      No column for {chain.missing.map(fieldWord).join(', ')}: choose one below{chain.missing.some((m) =>
        ['underlying', 'asOf', 'expiry', 'side'].includes(m),
      )
        ? ', or type the value'
        : ''}.
    </p>
  {/if}
  {#if whole}
    <p>
      {plural(whole.rows, 'quote')}{extent}.
    </p>
    <p>
      {plural(whole.slices.new, 'slice')} new, {whole.slices.changed} would change, {whole.slices.same} stored just so{#if whole.slices.demo > 0};
        <strong>{whole.slices.demo} of the demo's would be overwritten</strong>{/if}.
    </p>
    {#if whole.leftOut > 0}
      <p class="text-loss">
        {plural(whole.leftOut, 'row')} cannot be read:
        {whole.problems.map((p) => problemWords(p)).join('; ')}.
      </p>
      <label class="flex items-center gap-2 font-sans text-[12.5px]">
        <input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={item.badRows === 'leave-out'}
          onchange={(event) => (item.badRows = event.currentTarget.checked ? 'leave-out' : 'refuse')}
        />
        leave them out; otherwise the whole file is refused
      </label>
    {/if}
    {#each whole.impliedPrices as { symbol, price } (symbol)}
      <p class={price === null ? 'text-loss' : ''}>
        {price === null
          ? `The price of ${symbol} is not in the file and cannot be implied: type it below.`
          : `The price of ${symbol} is not in the file; parity implies ${numberText(price)}.`}
      </p>
    {/each}
    {#if whole.quotedInVolatility > 0}
      <p class="flex flex-wrap items-center gap-1">
        Quoted in volatility: prices are made of it,
        <label class="flex items-center gap-1 font-sans text-[12.5px]"
          ><input
            class="input input-xs w-16"
            type="number"
            min="0.1"
            max="100"
            step="0.1"
            value={Number((100 * chain.volatilityWidth).toFixed(4))}
            onchange={(event) => void item.correct({ volatilityWidth: event.currentTarget.valueAsNumber / 100 })}
          /><span class="quiet">points wide</span></label
        >
      </p>
    {/if}
  {/if}
  {#if told.length > 0}
    <p class="quiet font-sans">
      {told.map((f) => `${fieldWord(f.field)} ${f.value} from ${f.from}`).join('; ')}
    </p>
  {/if}
  {#if chain.areSidesAssumed}<p class="text-event">
      Nothing says which half of the columns is calls: the left one is taken to be.
    </p>{/if}
  {#if chain.isDateOrderAmbiguous}<p class="text-event">
      Day and month could be either way round; day first is assumed. Check the dates.
    </p>{/if}
  {#if chain.memory === 'used'}<p class="quiet font-sans">Columns are as you mapped such files before.</p>{/if}
  {#if chain.memory === 'contradicted'}<p class="text-event">
      Such a file was mapped before, but these cells do not agree with it; it was recognised anew.
    </p>{/if}
</div>
