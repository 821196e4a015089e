<!-- Why a file was refused: what, where, how to mend it; the list can be taken along. -->
<script lang="ts">
  import { type ImportTrouble, problemsCsv } from '$lib/api/client/file-import.svelte';

  interface Props {
    trouble: ImportTrouble;
  }
  let { trouble }: Props = $props();

  function download(): void {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(problemsCsv(trouble.problems));
    link.download = 'rows-to-mend.csv';
    link.click();
    URL.revokeObjectURL(link.href);
  }
</script>

<div class="border-loss bg-sheet mt-3 border-l-3 px-3 py-2" role="alert">
  <p class="font-serif text-[14.5px]">{trouble.message}</p>
  {#if trouble.problems.length > 0}
    <table class="figures mt-2 text-[12px]">
      <thead
        ><tr
          ><th>line</th><th class="!text-left">field</th><th class="!text-left">value</th><th class="!text-left"
            >problem</th
          ><th class="!text-left">remedy</th></tr
        ></thead
      >
      <tbody>
        {#each trouble.problems.slice(0, 8) as p, i (i)}
          <tr
            ><td>{p.line}</td><td class="!text-left">{p.field}</td><td class="!text-left">{p.value}</td><td
              class="!text-left">{p.code}</td
            ><td class="!text-left">{p.remedy}</td></tr
          >
        {/each}
      </tbody>
    </table>
    <button type="button" class="text-implied mt-2 underline" onclick={download}
      >Download all {trouble.problems.length} as CSV</button
    >
  {/if}
</div>
