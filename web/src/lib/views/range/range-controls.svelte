<!-- How the expected move is told, the prices whose odds are read, and what is assumed of the way there. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import { ABOVE_ZERO } from '$lib/ui/number-input';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { viewState } from '$lib/shell/view-state.svelte';
  import { numberText } from '$lib/ui/format';
  import { MOVE_CHOICES } from '$lib/api/range';
  import type { RangeParameters } from './parameters';
  import { MOVE_NAMES } from './range-words';

  interface Props {
    own: RangeParameters;
    levels: readonly number[];
    decimals: number;
    onlevels: (levels: readonly number[]) => void;
  }
  let { own, levels, decimals, onlevels }: Props = $props();
  const view = viewState();
  const set = (name: string, value: string | number, usual: string | number) =>
    view.address.set({ [name]: value === usual ? undefined : String(value) });
</script>

<Choice
  label="Kind of expected move"
  choices={MOVE_CHOICES}
  chosen={own.move}
  words={(move) => (move === 'range' ? `${numberText(own.coverage * 100, 0)} % range` : MOVE_NAMES[move])}
  onchoose={(move) => set('move', move, 'straddle')}
/>
{#if own.move === 'range'}
  <span class="flex items-baseline gap-1 text-[12.5px]"
    ><TypedNumber
      label="Covered, percent"
      text={numberText(own.coverage * 100, 0)}
      isPercent
      within={[5, 99]}
      ontype={(percent) => set('coverage', percent / 100, 0.68)}
    /><span class="quiet">%</span></span
  >
{/if}
<span class="flex items-baseline gap-1 text-[12.5px]">
  <span class="quiet">{levels.length > 1 ? 'prices' : 'price'}</span>
  {#each levels as level, i (i)}
    <TypedNumber
      label={levels.length > 1 ? `Price whose odds are read, ${i + 1}, typed` : 'Price whose odds are read, typed'}
      text={numberText(level, decimals)}
      isOwn
      within={ABOVE_ZERO}
      ontype={(price) => onlevels(levels.map((l, n) => (n === i ? price : l)))}
    />
  {/each}
  {#if levels.length > 1}
    <button type="button" class="quiet min-h-6" onclick={() => onlevels(levels.slice(0, 1))}>one alone</button>
  {:else if levels.length === 1}
    <button
      type="button"
      class="quiet min-h-6"
      onclick={() => onlevels([levels[0], 2 * view.picture.price - levels[0]])}>two</button
    >
  {/if}
</span>
<span class="flex items-baseline gap-1 text-[12.5px]">
  <span class="quiet">drift</span>
  <TypedNumber
    label="Drift beyond the forward, percent per year"
    text={numberText(own.drift * 100, 1)}
    isOwn={own.drift !== 0}
    isPercent
    within={[-200, 200]}
    ontype={(percent) => set('drift', percent / 100, 0)}
  /><span class="quiet">% a year</span>
</span>
