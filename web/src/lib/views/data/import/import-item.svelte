<!-- One file as it was recognised: what it would do, the terms it would have, the smile it would give, and how it is read. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import ColumnTable from './column-table.svelte';
  import ImportCounts from './import-counts.svelte';
  import ImportFormat from './import-format.svelte';
  import PreviewSmile from './preview-smile.svelte';
  import TablePreview from './table-preview.svelte';
  import TermsForm from './terms-form.svelte';
  import TroubleNote from './trouble-note.svelte';
  import { numberText } from '$lib/ui/format';
  import { type FileImport, viewLinks } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    onremove: () => void;
    action: Snippet;
  }
  let { item, onremove, action }: Props = $props();
  const chain = $derived(item.chain);
  const news = $derived((chain?.whole ?? item.tableRows)?.underlyings.filter((u) => u.isNew) ?? []);
</script>

<p class="mt-1 flex items-baseline gap-3">
  <strong class="truncate">{item.name}</strong>
  <span class="quiet whitespace-nowrap">{numberText(item.file.size / 1024, item.file.size < 10_240 ? 1 : 0)} kB</span>
  {#if !item.outcome}<button type="button" class="text-implied ml-auto text-[12.5px] underline" onclick={onremove}
      >leave it out</button
    >{/if}
</p>

{#if item.outcome}
  {@const { result } = item.outcome}
  <div class="border-line bg-sheet mt-2 border-l-3 px-3 py-2 font-serif text-[14.5px]" role="status">
    {#if 'slices' in result}
      {#if result.status === 'unchanged'}
        All of this is stored already; nothing was changed ({numberText(result.rows, 0)} rows, {result.slices} slices).
      {:else}
        Imported {numberText(result.rows, 0)} rows into {result.slices} slices: {result.newSlices} new, {result.changedSlices}
        changed.
      {/if}
      {#if result.leftOut > 0}{numberText(result.leftOut, 0)} rows could not be read and were left out.{/if}
    {:else}
      {result.changed > 0 ? 'Stored' : 'All of this is stored already; nothing was changed:'}
      {numberText(result.rows, 0)} rows of {result.table}{result.changed > 0 && result.changed < result.rows
        ? `, ${numberText(result.changed, 0)} new or changed`
        : ''}.
    {/if}
    {#each viewLinks(item.outcome) as { symbol, href } (symbol)}
      Open {symbol} in
      {#each ['skew', 'term', 'chain'] as view (view)}<a class="text-implied mx-1 underline" href={href(view)}>{view}</a
        >{/each}
    {/each}
    {#if result.id !== null}It can be taken back under Imports below.{/if}
  </div>
{/if}

{#if item.trouble}<TroubleNote trouble={item.trouble} />{/if}

{#if item.progress}
  {@const { text, share } = item.progress}
  <div class="mt-3 flex items-center gap-3" role="status">
    <progress class="progress w-56" value={share} max="1" aria-label="Progress of the file"></progress>
    <span class="quiet">{text}</span>
    <button type="button" class="btn btn-sm" onclick={() => item.cancel()}>Cancel</button>
  </div>
{/if}

{#if item.preview && !item.outcome}
  {#if news.length > 0}<TermsForm {item} symbols={news} />{/if}
  <div class="mt-3 flex flex-wrap items-start gap-x-8 gap-y-3">
    <div class="min-w-72 flex-1">
      {#if chain}<ImportCounts {item} {chain} />{/if}
      {#if item.tableRows}<TablePreview {item} preview={item.tableRows} />{/if}
      <div class="mt-3 flex items-center gap-3">
        {@render action()}
        <span class="quiet"
          >{item.isBusy ? 'Nothing is stored before all of it is.' : 'Enter takes it; it can be taken back.'}</span
        >
      </div>
    </div>
    {#if chain?.whole?.smile}<PreviewSmile smile={chain.whole.smile} />{/if}
  </div>
  {#if chain}
    <details class="mt-4" open={chain.missing.length > 0 || (chain.whole?.leftOut ?? 0) > 0}>
      <summary class="small-caps cursor-pointer">How it is read</summary>
      <ImportFormat {item} preview={chain} />
      <ColumnTable {item} preview={chain} />
    </details>
  {/if}
{/if}
