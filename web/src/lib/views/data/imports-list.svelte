<!-- Files that were imported or refused, with the rows to mend. -->
<script lang="ts">
  import { ask, troubleText } from '$lib/api/client/ask';
  import { clearRefusedRoute, undoImportRoute } from '$lib/api/contract/files';
  import { invalidate } from '$app/navigation';
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { instantLabel, numberText } from '$lib/ui/format';

  interface Import {
    id: string;
    fileName: string;
    table: string;
    rows: number;
    slices: number;
    leftOut: number;
    undo: 'possible' | 'undone' | 'dropped' | 'never';
    refusal: { message: string; problems: { row: number; column: string; value: string; remedy: string }[] } | null;
    createdAt: string;
  }
  interface Props {
    imports: Import[];
  }
  let { imports }: Props = $props();
  let openId = $state<string>();
  let undoing = $state<string>();
  let said = $state<{ text: string; isTrouble: boolean }>();

  const WHY_NOT = {
    undone: 'taken back',
    dropped: 'stored; too long ago to take back',
    never: 'stored; from before imports could be taken back',
  } as const;
  async function undo(i: Import): Promise<void> {
    undoing = i.id;
    said = undefined;
    try {
      const { restored, kept, removed } = await ask(undoImportRoute, { parameters: { id: i.id } });
      const stay = kept > 0 ? `; ${kept} that were changed since stay` : '';
      const gone = removed.length > 0 ? `. Nothing is left of ${removed.join(', ')}` : '';
      said = { text: `${i.fileName} is taken back: ${restored} rows are as before${stay}${gone}.`, isTrouble: false };
      await invalidate('umwelt:underlyings');
    } catch (error) {
      said = { text: `${i.fileName}: ${troubleText(error)}`, isTrouble: true };
    } finally {
      undoing = undefined;
    }
  }

  async function clearRefused(): Promise<void> {
    await ask(clearRefusedRoute).catch((error: unknown) => (said = { text: troubleText(error), isTrouble: true }));
    await invalidate('umwelt:underlyings');
  }

  const outcomeText = (i: Import) =>
    i.refusal
      ? 'refused'
      : i.undo === 'possible'
        ? `stored${i.leftOut > 0 ? `, ${i.leftOut} left out` : ''}`
        : WHY_NOT[i.undo];
  const columns: TableColumn<Import>[] = [
    {
      id: 'file',
      head: 'file',
      isFixed: true,
      least: 120,
      align: 'left',
      value: (i) => i.fileName,
      text: (i) => i.fileName,
      tone: () => '!whitespace-normal [overflow-wrap:anywhere]',
    },
    {
      id: 'table',
      head: 'table',
      width: 66,
      align: 'left',
      value: (i) => i.table,
      text: (i) => i.table,
      tone: () => '!whitespace-normal',
    },
    { id: 'rows', head: 'rows', width: 60, value: (i) => i.rows, text: (i) => numberText(i.rows, 0) },
    { id: 'slices', head: 'slices', width: 48, value: (i) => i.slices, text: (i) => String(i.slices) },
    {
      id: 'outcome',
      head: 'outcome',
      width: 130,
      value: outcomeText,
      text: outcomeText,
      cell: outcome,
      tone: () => '!whitespace-normal',
    },
    { id: 'when', head: 'when (UTC)', width: 116, value: (i) => i.createdAt, text: (i) => instantLabel(i.createdAt) },
  ];
</script>

{#snippet outcome(i: Import)}
  {#if i.refusal}
    <button
      type="button"
      class="text-loss min-h-6 underline"
      aria-expanded={openId === i.id}
      onclick={() => (openId = openId === i.id ? undefined : i.id)}>refused</button
    >
  {:else if i.undo === 'possible'}
    {outcomeText(i)}
    <button
      type="button"
      class="text-implied ml-1 min-h-6 underline"
      disabled={undoing !== undefined}
      aria-label="Take back {i.fileName}"
      onclick={() => undo(i)}>{undoing === i.id ? 'taking back …' : 'take back'}</button
    >
  {:else}<span class="quiet">{outcomeText(i)}</span>{/if}
{/snippet}

{#snippet refusal(i: Import)}
  <p class="font-serif text-[13.5px]">{i.refusal?.message}</p>
  {#each (i.refusal?.problems ?? []).slice(0, 12) as p, n (n)}
    <p class="quiet">{p.row > 0 ? `row ${p.row}, ` : ''}{p.column} {p.value}: {p.remedy}</p>
  {/each}
{/snippet}

<h2 class="small-caps mt-6 mb-1">Imports</h2>
{#if said}<p class="mb-1 font-serif text-[14px] {said.isTrouble ? 'text-loss' : ''}" role="status">{said.text}</p>{/if}
{#if imports.length === 0}
  <p class="quiet">None yet.</p>
{:else}
  {#if imports.some((i) => i.refusal)}
    <button type="button" class="text-implied mb-1 text-[12.5px] underline" onclick={clearRefused}
      >Clear refused files from the list</button
    >
  {/if}
  <ValueTable
    name="Imports"
    storage="import-columns"
    {columns}
    rows={imports}
    rowKey={(i) => i.id}
    under={{ of: (i) => i.refusal !== null && openId === i.id, draw: refusal }}
    testid="imports"
    class="text-[12.5px]"
  />
{/if}
