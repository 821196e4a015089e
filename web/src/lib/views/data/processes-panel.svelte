<!-- The application's own processes: which there are, since when, and which gave no sign lately. -->
<script lang="ts">
  import { ageText } from '$lib/ui/format';
  import type { ProcessStatus } from '$lib/api/live';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import ValueTable from '$lib/shell/value-table.svelte';
  import { liveState } from '$lib/shell/live-state.svelte';

  const live = liveState();
  /** Seconds without a sign of life that make a process count as lost. */
  const SILENT = 8;
  const WHAT = { server: 'serves pages', worker: 'long work', feed: 'quotes' } as const;
  const processes = $derived(live.status?.processes ?? []);
  const isLost = (p: ProcessStatus) => p.silentFor > SILENT;
  const hasWorker = $derived(processes.some((p) => p.kind === 'worker' && !isLost(p)));
  const waiting = $derived((live.status?.jobs ?? []).reduce((sum, g) => sum + g.waiting, 0));

  const columns: TableColumn<ProcessStatus>[] = [
    {
      id: 'process',
      head: 'process',
      width: 64,
      isFixed: true,
      align: 'left',
      value: (p) => p.kind,
      text: (p) => p.kind,
    },
    { id: 'for', head: 'for', width: 90, align: 'left', value: (p) => WHAT[p.kind], text: (p) => WHAT[p.kind] },
    { id: 'machine', head: 'machine', align: 'left', value: (p) => p.host, text: (p) => p.host },
    { id: 'number', head: 'number', width: 70, value: (p) => p.pid, text: (p) => String(p.pid) },
    {
      id: 'age',
      head: 'runs',
      label: 'seconds that it runs',
      width: 80,
      value: (p) => p.age,
      text: (p) => ageText(p.age),
    },
    {
      id: 'silentFor',
      head: 'last sign',
      label: 'seconds since its last sign',
      width: 120,
      value: (p) => p.silentFor,
      text: (p) => (isLost(p) ? `lost, ${ageText(p.silentFor)} ago` : 'just now'),
    },
  ];
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
  <ValueTable
    name="Processes"
    storage="process-columns"
    {columns}
    rows={processes}
    rowKey={(p) => p.id}
    rowTone={(p) => (isLost(p) ? 'text-loss' : '')}
    testid="processes"
    class="text-[12.5px]"
  />
{/if}
