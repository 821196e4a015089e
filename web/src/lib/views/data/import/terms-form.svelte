<!-- Terms of underlyings that are not stored yet: as guessed, each with what it was told by; what the user changes is plum. -->
<script lang="ts">
  import type { ImportPreview, ImportTerms } from '$lib/api/chain-import';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    symbols: NonNullable<ImportPreview['whole']>['underlyings'];
  }
  let { item, symbols }: Props = $props();
  const kinds = ['index', 'fund', 'share', 'future', 'currency'] as const;
  const guessed = $derived(symbols[0].terms);
  const chain = $derived(item.chain);

  function say<F extends keyof ImportTerms>(field: F, value: ImportTerms[F]): void {
    item.terms = { ...item.terms, [field]: value };
    // A future's options are priced on its price.
    if (field === 'kind') item.terms = { ...item.terms, model: value === 'future' ? 'futures' : 'spot' };
    void item.correct({});
  }
  const own = (field: keyof ImportTerms) => (item.terms[field] === undefined ? '' : 'text-own');
</script>

<fieldset class="mt-3" data-testid="terms">
  <legend class="small-caps">Terms of {symbols.map((s) => s.symbol).join(', ')}, new</legend>
  <div class="mt-1 grid grid-cols-[repeat(auto-fill,minmax(10.5rem,1fr))] gap-x-5 gap-y-2 text-[11.5px]">
    <label class="flex flex-col"
      ><span class="quiet">Kind</span>
      <select
        class="select select-xs w-28 {own('kind')}"
        value={guessed.kind.value}
        onchange={(event) => say('kind', event.currentTarget.value as ImportTerms['kind'])}
        >{#each kinds as kind (kind)}<option>{kind}</option>{/each}</select
      ><span class="quiet">{guessed.kind.reason}</span>
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Exercise</span>
      <select
        class="select select-xs w-28 {own('exercise')}"
        value={guessed.exercise.value}
        onchange={(event) => say('exercise', event.currentTarget.value as ImportTerms['exercise'])}
        ><option>european</option><option>american</option></select
      ><span class="quiet">{guessed.exercise.reason}</span>
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Contract multiplier</span>
      <input
        class="input input-xs w-28 {own('multiplier')}"
        type="number"
        min="0"
        step="any"
        value={guessed.multiplier.value}
        onchange={(event) => {
          const value = event.currentTarget.valueAsNumber;
          if (value > 0) say('multiplier', value);
        }}
      /><span class="quiet">{guessed.multiplier.reason}</span>
    </label>
    <label class="flex flex-col"
      ><span class="quiet">Currency (XXX: unknown)</span>
      <input
        class="input input-xs w-20 uppercase {own('currency')}"
        maxlength="3"
        value={guessed.currency.value}
        onchange={(event) => {
          const value = event.currentTarget.value.trim().toUpperCase();
          if (/^[A-Z]{3}$/.test(value)) say('currency', value);
        }}
      /><span class="quiet">{guessed.currency.reason}</span>
    </label>
    {#if chain}
      <label class="flex flex-col"
        ><span class="quiet">Time zone</span>
        <input
          class="input input-xs w-32"
          value={chain.zone.value}
          onchange={(event) => void item.say({ zone: event.currentTarget.value.trim() })}
        /><span class="quiet">{chain.zone.reason}</span>
      </label>
      <label class="flex flex-col"
        ><span class="quiet">Expiry dates mean</span>
        <input
          class="input input-xs w-20"
          value={chain.sessionClose.value}
          onchange={(event) => void item.say({ sessionClose: event.currentTarget.value.trim() })}
        /><span class="quiet">{chain.sessionClose.reason}</span>
      </label>
    {/if}
  </div>
</fieldset>
