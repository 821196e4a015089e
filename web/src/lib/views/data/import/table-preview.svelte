<!-- What a table would do to what is stored, and its first rows. -->
<script lang="ts">
  import type { TablePreview } from '$lib/api/table-export';
  import { numberText } from '$lib/ui/format';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    preview: TablePreview;
  }
  let { item, preview }: Props = $props();
  const of = $derived(
    preview.underlyings.length > 0 ? ` of ${preview.underlyings.map((u) => u.symbol).join(', ')}` : '',
  );
  const owner = $derived(preview.table === 'rates' ? 'currency' : 'underlying');
</script>

<div data-testid="table-preview">
  <p class="font-serif text-[14.5px]">
    {`${numberText(preview.rows, 0)} rows of ${preview.table}${of}`}: {preview.slices.new} new, {preview.slices.changed} would
    change, {preview.slices.same} stored just so.
  </p>
  {#if preview.isOfNeeded}
    <label class="mt-1 flex items-center gap-2 text-[12.5px]"
      ><span class="quiet">{owner} of all rows, which the file does not say</span>
      <input
        class="input input-xs w-28"
        value={item.of ?? preview.of ?? ''}
        onchange={(event) => {
          item.of = event.currentTarget.value;
          void item.correct({});
        }}
      /></label
    >
  {/if}
  {#each preview.problems.slice(0, 8) as p, n (n)}
    <p class="text-loss text-[12.5px]">{p.row > 0 ? `row ${p.row}, ` : ''}{p.column} {p.value}: {p.remedy}</p>
  {/each}
  {#if preview.first.length > 0}
    <table class="figures mt-2 text-[12px]">
      <thead
        ><tr
          >{#each preview.columns as name (name)}<th class="!text-left">{name}</th>{/each}</tr
        ></thead
      >
      <tbody>
        {#each preview.first.slice(0, 6) as cells, i (i)}
          <tr class="border-hair border-b"
            >{#each cells as cell, n (n)}<td class="!text-left">{cell}</td>{/each}</tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
</div>
