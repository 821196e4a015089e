<!-- Which columns the ladder shows, and their order. -->
<script lang="ts">
  import { CHAIN_COLUMNS, chainColumn } from './chain-columns';
  import type { ChainColumns } from './chosen-columns.svelte';

  interface Props {
    columns: ChainColumns;
    isOpen: boolean;
  }
  let { columns, isOpen = $bindable() }: Props = $props();
  let dialog = $state<HTMLDialogElement>();
  const hidden = $derived(CHAIN_COLUMNS.filter((c) => !columns.shown.includes(c.id)));

  $effect(() => {
    if (isOpen) dialog?.showModal();
    else dialog?.close();
  });
</script>

<dialog
  bind:this={dialog}
  class="bg-sheet text-ink border-line m-auto w-[420px] border p-5"
  onclose={() => (isOpen = false)}
  aria-label="Columns"
>
  <h2 class="small-caps">Columns of the ladder</h2>
  <div class="mt-3 grid grid-cols-2 gap-6 text-[12.5px]">
    <ol aria-label="Shown">
      {#each columns.shown as id, i (id)}
        {@const { label } = chainColumn(id)}
        <li class="flex items-center gap-1">
          <label class="flex grow items-center gap-2"
            ><input type="checkbox" class="checkbox checkbox-xs" checked onchange={() => columns.toggle(id)} />
            {label}</label
          >
          <button type="button" aria-label="{label} to the left" disabled={i === 0} onclick={() => columns.move(id, -1)}
            >↑</button
          >
          <button
            type="button"
            aria-label="{label} to the right"
            disabled={i === columns.shown.length - 1}
            onclick={() => columns.move(id, 1)}>↓</button
          >
        </li>
      {/each}
    </ol>
    <ul aria-label="Not shown">
      {#each hidden as { id, label } (id)}
        <li>
          <label class="flex items-center gap-2"
            ><input type="checkbox" class="checkbox checkbox-xs" checked={false} onchange={() => columns.toggle(id)} />
            {label}</label
          >
        </li>
      {/each}
    </ul>
  </div>
  <div class="mt-4 flex justify-between text-[12.5px]">
    <button type="button" class="text-implied" disabled={columns.isUsual} onclick={() => columns.reset()}
      >as they were at first</button
    >
    <button type="button" class="text-implied" onclick={() => (isOpen = false)}>close</button>
  </div>
</dialog>
