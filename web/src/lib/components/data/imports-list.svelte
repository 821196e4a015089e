<!-- Files that were imported or refused, with the rows to mend. -->
<script lang="ts">
  import TableMenu from '../table-menu.svelte';
  import { instantLabel, numberText } from '$lib/figures/format';

  interface Import {
    id: string;
    fileName: string;
    table: string;
    rows: number;
    slices: number;
    refusal: { message: string; problems: { row: number; column: string; value: string; remedy: string }[] } | null;
    createdAt: string;
  }
  interface Props {
    imports: Import[];
  }
  let { imports }: Props = $props();
  let openId = $state<string>();
</script>

<h2 class="small-caps mt-6 mb-1">Imports</h2>
{#if imports.length === 0}
  <p class="quiet">None yet.</p>
{:else}
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
            {:else}stored{/if}
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
