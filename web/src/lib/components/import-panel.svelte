<!-- Reading a chain file: drop or choose, check what was recognised, correct it, import all or nothing. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import { invalidate } from '$app/navigation';
  import Upload from '@lucide/svelte/icons/upload';
  import ImportFormat from './import-format.svelte';
  import ImportPreviewTable from './import-preview-table.svelte';
  import ImportTermsForm from './import-terms-form.svelte';
  import ImportTroubleNote from './import-trouble-note.svelte';
  import { numberText } from '$lib/figures/format';
  import { ChainImport } from '$lib/state/chain-import.svelte';

  const task = new ChainImport();
  let isOver = $state(false);
  const wrongRows = $derived(task.preview?.count?.problems.reduce((sum, p) => sum + p.rows, 0) ?? 0);
  const newSymbols = $derived(task.preview?.underlyings.filter((u) => u.terms === null).map((u) => u.symbol) ?? []);

  async function store(): Promise<void> {
    await task.store();
    if (task.result) await invalidate('umwelt:underlyings');
  }
</script>

<h2 class="text-[15px] font-semibold">Import a chain</h2>
<label
  class="mt-2 flex h-24 cursor-pointer items-center justify-center gap-3 border border-dashed {isOver
    ? 'border-implied bg-sheet'
    : 'border-line'}"
  ondragover={(event) => {
    event.preventDefault();
    isOver = true;
  }}
  ondragleave={() => (isOver = false)}
  ondrop={(event) => {
    event.preventDefault();
    isOver = false;
    const file = event.dataTransfer?.files[0];
    if (file && !task.isBusy) void task.choose(file);
  }}
>
  <Upload size={18} />
  <span
    >{task.file
      ? `${task.file.name}, ${(task.file.size / 1024).toFixed(0)} kB`
      : 'Drop a CSV file of quotes here, or choose one'}</span
  >
  <input
    type="file"
    class="sr-only"
    accept=".csv,.txt,.tsv,text/csv,text/plain"
    disabled={task.isBusy}
    onclick={(event) => {
      // So that choosing the same file again counts as a choice; clearing it later would take the bytes away.
      event.currentTarget.value = '';
    }}
    onchange={(event) => {
      const file = event.currentTarget.files?.[0];
      if (file) void task.choose(file);
    }}
  />
</label>

{#if task.result}
  {@const r = task.result}
  <div class="border-line bg-sheet mt-3 border-l-3 px-3 py-2 font-serif text-[14.5px]" role="status">
    {#if r.status === 'unchanged'}
      This file was imported before; nothing was changed ({r.rows} rows, {r.slices} slices).
    {:else}
      Imported {r.rows} rows into {r.slices} slices: {r.newSlices} new, {r.changedSlices} changed.
    {/if}
    {#each r.underlyings as u (u.symbol)}
      Open {u.symbol} in
      {#each ['skew', 'term', 'chain'] as view (view)}<a
          class="text-implied mx-1 underline"
          href="/{view}/{symbolPart(u.symbol)}?asOf={u.asOf.replace('+', '%2B')}">{view}</a
        >{/each}
    {/each}
  </div>
{/if}

{#if task.trouble}<ImportTroubleNote trouble={task.trouble} />{/if}

{#if task.progress}
  {@const { text, share } = task.progress}
  <div class="mt-3 flex items-center gap-3" role="status">
    <progress class="progress w-56" value={share} max="1" aria-label="Progress of the file"></progress>
    <span class="quiet">{text}</span>
    <button type="button" class="btn btn-sm" onclick={() => task.cancel()}>Cancel</button>
  </div>
{/if}

{#if task.preview && task.file}
  {@const preview = task.preview}
  <ImportFormat {task} {preview} />
  {#if newSymbols.length > 0}<ImportTermsForm {task} symbols={newSymbols} />{/if}
  <div class="mt-4 flex items-center gap-3">
    <button
      type="button"
      class="btn btn-sm btn-neutral"
      disabled={task.isBusy || preview.missing.length > 0}
      onclick={store}>Import</button
    >
    {#if task.isBusy}
      <span class="quiet">Nothing is stored before all of it is.</span>
    {:else if preview.missing.length > 0}
      <span class="text-loss"
        >No column for {preview.missing.join(', ')}: choose one below{preview.missing.some((m) =>
          ['underlying', 'asOf', 'underlyingPrice'].includes(m),
        )
          ? ', or type the value'
          : ''}.</span
      >
    {:else}
      <span class="quiet"
        >{#if preview.count}{numberText(preview.count.rows, 0)} rows{#if wrongRows > 0}, <strong class="text-loss"
              >{numberText(wrongRows, 0)} wrong ({preview.count.problems
                .map((p) => `${numberText(p.rows, 0)} ${p.code}`)
                .join(', ')})</strong
            >{/if}.&nbsp;{/if}All rows or none are stored.{preview.isMappingRemembered
          ? ' Columns are as you mapped such files before.'
          : ''}</span
      >
    {/if}
  </div>
  <ImportPreviewTable {task} {preview} />
{/if}
