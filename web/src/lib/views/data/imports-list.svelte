<!-- Files that were imported or refused, with the rows to mend. -->
<script lang="ts">
  import { ask, troubleText } from '$lib/api/client/ask';
  import { clearRefusedRoute, undoImportRoute } from '$lib/api/contract/files';
  import { invalidate } from '$app/navigation';
  import TableMenu from '../../shell/table-menu.svelte';
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
</script>

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
  <TableMenu name="Imports" />
  <table class="figures text-[12.5px]" data-testid="imports">
    <thead><tr><th>file</th><th>table</th><th>rows</th><th>slices</th><th>outcome</th><th>when (UTC)</th></tr></thead>
    <tbody>
      {#each imports as i (i.id)}
        <tr class="border-hair border-b">
          <td class="max-w-36 truncate" title={i.fileName}>{i.fileName}</td>
          <td>{i.table}</td>
          <td>{numberText(i.rows, 0)}</td>
          <td>{i.slices}</td>
          <td>
            {#if i.refusal}
              <button
                type="button"
                class="text-loss min-h-6 underline"
                aria-expanded={openId === i.id}
                onclick={() => (openId = openId === i.id ? undefined : i.id)}>refused</button
              >
            {:else if i.undo === 'possible'}
              stored{i.leftOut > 0 ? `, ${i.leftOut} left out` : ''}
              <button
                type="button"
                class="text-implied ml-1 min-h-6 underline"
                disabled={undoing !== undefined}
                aria-label="Take back {i.fileName}"
                onclick={() => undo(i)}>{undoing === i.id ? 'taking back …' : 'take back'}</button
              >
            {:else}<span class="quiet">{WHY_NOT[i.undo]}</span>{/if}
          </td>
          <td class="whitespace-nowrap">{instantLabel(i.createdAt)}</td>
        </tr>
        {#if i.refusal && openId === i.id}
          <tr>
            <td colspan="6" class="!text-left">
              <p class="font-serif text-[13.5px]">{i.refusal.message}</p>
              {#each i.refusal.problems.slice(0, 12) as p, n (n)}
                <p class="quiet">{p.row > 0 ? `row ${p.row}, ` : ''}{p.column} {p.value}: {p.remedy}</p>
              {/each}
            </td>
          </tr>
        {/if}
      {/each}
    </tbody>
  </table>
{/if}
