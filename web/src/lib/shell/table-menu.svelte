<!-- What can be done with a table: taken along as a file, its columns chosen. -->
<script lang="ts">
  import { toast } from 'svelte-sonner';
  import { csvText } from '../ui/csv-text';
  import { fileName, saveFile } from '../ui/save-file';
  import type { ShownTable } from '../ui/shown-table';

  import { askFile, troubleText } from '$lib/api/client/ask';
  import { workbookRoute } from '$lib/api/contract/pricing';

  interface Props {
    /** What the table shows, for the file's name */
    name: string;
    values: () => ShownTable;
    /** Whether some of it is still to come: no file is made of it */
    isBusy?: boolean;
    onchoose?: () => void;
  }
  let { name, values, isBusy = false, onchoose }: Props = $props();

  function takeCsv(): void {
    saveFile(`${fileName(name)}.csv`, new Blob([csvText(values())], { type: 'text/csv;charset=utf-8' }));
  }

  async function takeXlsx(): Promise<void> {
    try {
      const body = { name: name.slice(0, 80), ...values() };
      saveFile(`${fileName(name)}.xlsx`, await askFile(workbookRoute, { body }));
    } catch (error) {
      toast.error(`The workbook could not be made: ${troubleText(error)}. CSV works without it.`);
    }
  }
</script>

<span class="text-soft float-right flex gap-2 pl-2 text-[11.5px]" role="group" aria-label="Take {name} along">
  <button type="button" class="min-h-6 min-w-6" disabled={isBusy} onclick={takeCsv} aria-label="{name} as CSV"
    >csv</button
  >
  <button type="button" class="min-h-6 min-w-6" disabled={isBusy} onclick={takeXlsx} aria-label="{name} as XLSX"
    >xlsx</button
  >
  {#if onchoose}<button type="button" class="min-h-6 min-w-6" onclick={onchoose} aria-label="Columns of {name}"
      >columns…</button
    >{/if}
</span>
