<!-- The application's own processes: which there are, since when, and which gave no sign lately. -->
<script lang="ts">
  import { ageText } from '$lib/ui/format';
  import type { ProcessStatus } from '$lib/api/live';
  import { liveState } from '$lib/shell/live-state.svelte';

  const live = liveState();
  /** Seconds without a sign of life that make a process count as lost. */
  const SILENT = 8;
  const WHAT = { server: 'serves pages', worker: 'long work', feed: 'quotes' } as const;
  const processes = $derived(live.status?.processes ?? []);
  const isLost = (p: ProcessStatus) => p.silentFor > SILENT;
  const hasWorker = $derived(processes.some((p) => p.kind === 'worker' && !isLost(p)));
  const waiting = $derived((live.status?.jobs ?? []).reduce((sum, g) => sum + g.waiting, 0));
</script>

<h2 class="small-caps mt-5 mb-1">Processes</h2>
{#if live.status && !hasWorker && waiting > 0}
  <p class="text-loss text-[12.5px]" role="alert">
    {waiting}
    {waiting === 1 ? 'job waits' : 'jobs wait'}, and no worker runs: start one with npm run worker, on any machine.
  </p>
{/if}
{#if processes.length === 0}
  <p class="quiet">{live.status ? 'None has given a sign yet.' : 'Waiting for the server.'}</p>
{:else}
  <table class="figures text-[12.5px]" data-testid="processes">
    <thead
      ><tr
        ><th>process</th><th class="!text-left">for</th><th class="!text-left">machine</th><th>number</th><th>runs</th
        ><th>last sign</th></tr
      ></thead
    >
    <tbody>
      {#each processes as p (p.id)}
        <tr class="border-hair border-b {isLost(p) ? 'text-loss' : ''}">
          <td>{p.kind}</td>
          <td class="!text-left">{WHAT[p.kind]}</td>
          <td class="!text-left">{p.host}</td>
          <td>{p.pid}</td>
          <td>{ageText(p.age)}</td>
          <td>{isLost(p) ? `lost, ${ageText(p.silentFor)} ago` : 'just now'}</td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
