<!-- Up to four structures of an underlying side by side: this one, and kept ones that are drawn in the chart with it. -->
<script lang="ts">
  import type { KeptStructure } from '$lib/api/kept-structure';
  import { figureScale } from '$lib/measures';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import type { StructureParameters } from './parameters';
  import type { FiguredStructure } from './figured-structure';
  import { shownFigures } from './structure-workings';

  interface Props {
    own: StructureParameters;
    /** What is kept of the underlying */
    kept: readonly KeptStructure[] | undefined;
    /** This one first */
    structures: readonly { name: string; color: string; figured: FiguredStructure }[];
  }
  let { own, kept, structures }: Props = $props();
  const view = quotedViewState();
  const MOST_BESIDE = 3;
  const offered = $derived((kept ?? []).filter((k) => !own.with.includes(k.id)));
  const scale = $derived(figureScale(view.picture));
  const columns = $derived(structures.map(({ figured }) => shownFigures(figured, scale, { isSigned: true })));
  const set = (ids: readonly string[]) => view.address.set({ with: ids.length === 0 ? undefined : ids.join(',') });
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1 text-[12.5px]">
  {#if own.with.length < MOST_BESIDE}
    <select
      class="select select-xs w-[190px]"
      aria-label="Compare with a kept structure"
      value=""
      disabled={offered.length === 0}
      onchange={(event) => {
        void set([...own.with, event.currentTarget.value]);
        event.currentTarget.value = '';
      }}
    >
      <option value="" disabled>compare with…</option>
      {#each offered as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
    </select>
  {/if}
  {#if kept && kept.length === 0}<span class="quiet">Nothing of this underlying is on the Shelf: keep one first.</span
    >{/if}
</div>
{#if structures.length > 1}
  <table class="mt-2 text-[12.5px]" data-testid="compared" aria-label="Structures side by side">
    <thead>
      <tr class="border-line border-b">
        <th></th>
        {#each structures as { name, color }, i (i)}
          <th class="px-3 text-right font-semibold" style:color
            >{name}
            {#if i > 0}<button
                type="button"
                class="kbd-mark"
                aria-label="Draw {name} no longer"
                onclick={() => set(own.with.filter((_, at) => at !== i - 1))}>×</button
              >{/if}</th
          >
        {/each}
      </tr>
    </thead>
    <tbody class="tabular-nums">
      {#each columns[0] as figure, row (figure.id)}
        <tr class="border-hair border-b" data-compared={figure.id}>
          <th class="text-soft py-0.5 pr-4 text-left font-normal">{figure.label}</th>
          {#each columns as column, i (i)}<td class="px-3 text-right">{column[row].text}</td>{/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
