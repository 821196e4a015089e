<!-- Which columns a table shows, what they are, their order and width. -->
<script lang="ts" generics="Row extends object">
  import Dialog from '../ui/dialog.svelte';
  import { columnsShown, LEAST_WIDTH, MOST_WIDTH, type TableColumn } from '../ui/table/table-column';
  import type { TableLayout } from '../ui/table/table-layout.svelte';

  interface Props {
    name: string;
    columns: readonly TableColumn<Row>[];
    layout: TableLayout;
    isOpen: boolean;
  }
  let { name, columns, layout, isOpen = $bindable() }: Props = $props();
  const shown = $derived(columnsShown(columns, layout.shown));
  const fixed = $derived(columns.filter((c) => c.isFixed).length);
  const hidden = $derived(columns.filter((c) => !c.isFixed && !layout.shown.includes(c.id)));
  /** As it is headed, or in full where it has no head. */
  const nameOf = (column: TableColumn<Row>) => column.head || (column.label ?? column.id);
</script>

{#snippet choice(column: TableColumn<Row>, isShown: boolean)}
  <label class="flex min-w-0 grow items-baseline gap-2"
    ><input
      type="checkbox"
      class="checkbox checkbox-xs self-center"
      checked={isShown}
      disabled={column.isFixed}
      aria-label={nameOf(column)}
      onchange={() => layout.toggle(column.id)}
    />
    <span
      >{nameOf(column)}{#if column.label && column.label !== nameOf(column)}<span class="quiet ml-1.5"
          >{column.label}</span
        >{/if}{#if column.definition}<span class="quiet block text-[11.5px]">{column.definition}</span>{/if}</span
    ></label
  >
{/snippet}

<Dialog title="Columns" width="640px" bind:isOpen>
  <h3 class="small-caps">{name}</h3>
  <ol class="mt-2 text-[12.5px]" aria-label="Shown">
    {#each shown as column, i (column.id)}
      {@const label = nameOf(column)}
      <li class="border-hair flex items-center gap-2 border-b py-0.5">
        {@render choice(column, true)}
        <input
          class="typed w-14 shrink-0"
          type="number"
          min={LEAST_WIDTH}
          max={MOST_WIDTH}
          step="4"
          aria-label="Width of {label}, pixels"
          placeholder="auto"
          value={layout.widths[column.id] ?? column.width}
          onchange={(event) => layout.resize(column.id, event.currentTarget.valueAsNumber)}
        />
        <button
          type="button"
          class="disabled:text-faint min-h-6 min-w-6 disabled:opacity-40"
          aria-label="{label} to the left"
          disabled={i <= fixed}
          onclick={() => layout.move(column.id, -1)}>↑</button
        >
        <button
          type="button"
          class="disabled:text-faint min-h-6 min-w-6 disabled:opacity-40"
          aria-label="{label} to the right"
          disabled={i < fixed || i === shown.length - 1}
          onclick={() => layout.move(column.id, 1)}>↓</button
        >
      </li>
    {/each}
  </ol>
  {#if hidden.length > 0}
    <h3 class="small-caps mt-3">not shown</h3>
    <ul class="text-[12.5px]" aria-label="Not shown">
      {#each hidden as column (column.id)}
        <li class="border-hair flex border-b py-0.5">{@render choice(column, false)}</li>
      {/each}
    </ul>
  {/if}
  <div class="mt-4 flex justify-between text-[12.5px]">
    <button type="button" class="text-implied" disabled={layout.isUsual} onclick={() => layout.reset()}
      >as they were at first</button
    >
    <button type="button" class="text-implied" onclick={() => (isOpen = false)}>close</button>
  </div>
</Dialog>
