<!-- The one way in: drop or choose files and folders of any kind, check what was recognised, take all of them by Enter. -->
<script lang="ts">
  import FolderInput from '@lucide/svelte/icons/folder-input';
  import Upload from '@lucide/svelte/icons/upload';
  import { fromEvent } from 'file-selector';
  import { tick } from 'svelte';
  import { invalidate } from '$app/navigation';
  import ImportItem from './import-item.svelte';
  import ImportRow from './import-row.svelte';
  import { ImportQueue } from '$lib/api/client/import-queue.svelte';

  const queue = new ImportQueue();
  let isOver = $state(false);
  let importButton = $state<HTMLButtonElement>();
  const ready = $derived(queue.ready.length);

  async function take(files: readonly File[]): Promise<void> {
    // What systems leave beside files is none of the user's.
    const own = files.filter((file) => !file.name.startsWith('.') && file.size > 0);
    if (own.length === 0) return;
    await queue.add(own);
    await tick();
    // So that Enter takes what was dropped.
    importButton?.focus();
  }

  async function drop(event: DragEvent): Promise<void> {
    event.preventDefault();
    isOver = false;
    const found = await fromEvent(event);
    await take(found.filter((file): file is Extract<typeof file, File> => file instanceof File));
  }

  async function store(): Promise<void> {
    await queue.storeAll();
    await invalidate('umwelt:underlyings');
  }
</script>

<h2 class="text-[15px] font-semibold">Import</h2>
<div
  class="mt-2 flex h-24 items-center justify-center gap-4 border border-dashed {isOver
    ? 'border-implied bg-sheet'
    : 'border-line'}"
  role="group"
  aria-label="Files to import"
  ondragover={(event) => {
    event.preventDefault();
    isOver = true;
  }}
  ondragleave={() => (isOver = false)}
  ondrop={(event) => void drop(event)}
>
  <label class="flex cursor-pointer items-center gap-2 underline-offset-4 hover:underline">
    <Upload size={18} />
    Drop files or folders here, or choose files
    <input
      type="file"
      class="sr-only"
      multiple
      accept=".csv,.txt,.tsv,.json,.jsonl,.ndjson,.xlsx,.parquet,.gz,.ics,text/csv,text/plain"
      onclick={(event) => {
        // So that choosing the same file again counts as a choice; clearing it later would take the bytes away.
        event.currentTarget.value = '';
      }}
      onchange={(event) => void take([...(event.currentTarget.files ?? [])])}
    />
  </label>
  <label class="quiet flex cursor-pointer items-center gap-2 underline-offset-4 hover:underline">
    <FolderInput size={16} />
    a folder
    <input
      type="file"
      class="sr-only"
      webkitdirectory
      onclick={(event) => {
        event.currentTarget.value = '';
      }}
      onchange={(event) => void take([...(event.currentTarget.files ?? [])])}
    />
  </label>
</div>
<p class="quiet mt-1">
  Chains, bars, rates, dividends, events: CSV, workbook (xlsx), JSON, Parquet, iCalendar, gzip. Recognised by their
  columns.
</p>

{#if queue.items.length > 0}
  <form
    class="mt-3"
    onsubmit={(event) => {
      event.preventDefault();
      void store();
    }}
  >
    {#if queue.items.length > 1}
      <ul class="mb-2 flex flex-col" data-testid="import-queue">
        {#each queue.items as item (item.file)}
          <ImportRow
            {item}
            isSelected={item === queue.selected}
            onselect={() => (queue.selected = item)}
            onremove={() => queue.remove(item)}
          />
        {/each}
      </ul>
    {/if}
    {#if queue.selected}
      {#key queue.selected}
        <ImportItem item={queue.selected} onremove={() => queue.selected && queue.remove(queue.selected)}>
          {#snippet action()}
            <button
              type="submit"
              class="btn btn-sm btn-neutral"
              bind:this={importButton}
              disabled={ready === 0 || queue.working > 0}>{ready > 1 ? `Import all ${ready}` : 'Import'}</button
            >
          {/snippet}
        </ImportItem>
      {/key}
    {/if}
  </form>
{/if}
