<!-- Bringing bars, rates, dividends or events. -->
<script lang="ts">
  import { z } from 'zod';
  import { invalidate } from '$app/navigation';
  import { tableImportResult, tableProblem } from '$lib/schema/table-export';

  const TABLES = ['bars', 'rates', 'dividends', 'events'] as const;
  let table = $state<(typeof TABLES)[number]>('bars');
  let of = $state('');
  let files = $state<FileList>();
  let isBusy = $state(false);
  let done = $state<string>();
  let trouble = $state<{ message: string; problems: z.infer<typeof tableProblem>[] }>();

  const reply = z.object({
    title: z.string(),
    detail: z.string().optional(),
    problems: z.array(tableProblem).optional(),
  });

  async function send(): Promise<void> {
    const file = files?.[0];
    if (!file || isBusy) return;
    isBusy = true;
    done = undefined;
    trouble = undefined;
    const query = new URLSearchParams({ fileName: file.name });
    if (of.trim() !== '') query.set('of', of.trim());
    try {
      const response = await fetch(`/api/v1/imports/tables/${table}?${query}`, {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: file,
      });
      const body: unknown = await response.json();
      if (response.ok) {
        const { rows, underlyings } = tableImportResult.parse(body);
        done = `Stored ${rows} rows of ${table}${underlyings.length > 0 ? ` of ${underlyings.join(', ')}` : ''}.`;
      } else {
        const { title, detail, problems = [] } = reply.parse(body);
        trouble = { message: `${title}. ${detail ?? ''}`, problems };
      }
      await invalidate('umwelt:underlyings');
    } catch {
      trouble = {
        message: 'The server could not be reached; nothing was stored. Try again when it runs.',
        problems: [],
      };
    } finally {
      isBusy = false;
    }
  }
</script>

<h2 class="mt-6 text-[15px] font-semibold">Import a table</h2>
<form
  class="mt-2 flex flex-wrap items-center gap-3 text-[12.5px]"
  onsubmit={(event) => {
    event.preventDefault();
    void send();
  }}
>
  <label class="flex items-center gap-1.5"
    ><span class="quiet">table</span>
    <select class="select select-sm w-28" aria-label="Table to import" bind:value={table}>
      {#each TABLES as t (t)}<option value={t}>{t}</option>{/each}
    </select></label
  >
  <label class="flex items-center gap-1.5"
    ><span class="quiet">{table === 'rates' ? 'currency' : 'underlying'}, where the file has none</span>
    <input class="input input-sm w-24" bind:value={of} /></label
  >
  <input
    type="file"
    class="file-input file-input-sm"
    aria-label="File of the table"
    accept=".csv,.jsonl,.parquet,.ics"
    bind:files
  />
  <button type="submit" class="btn btn-sm btn-neutral" disabled={isBusy || !files?.length}>Import table</button>
</form>
<p class="quiet mt-1">CSV, JSON lines, Parquet; events also as iCalendar. All rows or none are stored.</p>
{#if done}<p class="border-line bg-sheet mt-2 border-l-3 px-3 py-2 font-serif text-[14.5px]" role="status">
    {done}
  </p>{/if}
{#if trouble}
  <div class="border-loss bg-sheet mt-2 border-l-3 px-3 py-2" role="alert">
    <p class="font-serif text-[14.5px]">{trouble.message}</p>
    {#each trouble.problems.slice(0, 8) as p, n (n)}
      <p class="quiet">{p.row > 0 ? `row ${p.row}, ` : ''}{p.column} {p.value}: {p.remedy}</p>
    {/each}
  </div>
{/if}
