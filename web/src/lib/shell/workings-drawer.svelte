<!-- How a figure comes about: formula, every input with unit and source, reference. Copyable as JSON and as a link. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import WorkingsSeries from '$lib/shell/workings-series.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import Check from '@lucide/svelte/icons/check';
  import X from '@lucide/svelte/icons/x';
  import { instantLabel } from '$lib/ui/format';
  import { isDialogOpen } from '$lib/ui/is-dialog-open';
  import { exactText, figureWithUnit, inputText } from '$lib/measures';
  import { workingsHost } from './workings-host';

  const host = workingsHost();
  const id = $derived(host.workingsId);
  const workings = $derived(id === undefined ? undefined : host.explain(id));
  const exact = $derived(workings && exactText(workings.value, workings.unit, host.scale));
  const settingsText = $derived(
    Object.entries(workings?.core?.settings ?? {})
      .map(([name, value]) => `${name} ${value}`)
      .join(', '),
  );
  const pricer = $derived(id === undefined ? undefined : host.pricerHref?.(id));
  /** Inputs that were typed have no instant */
  const stamp = $derived(Number.isNaN(Date.parse(host.stamp)) ? host.stamp : instantLabel(host.stamp));
  let copied = $state<'json' | 'link'>();

  async function copy(what: 'json' | 'link'): Promise<void> {
    const text = what === 'link' ? location.href : JSON.stringify({ asOf: host.stamp, ...workings }, null, 2);
    await navigator.clipboard.writeText(text);
    copied = what;
  }
  $effect(() => {
    if (id) copied = undefined;
  });

  /** The keyboard goes into the drawer and, when that closes, back to where it was. */
  function takeFocus(drawer: HTMLElement): () => void {
    const before = document.activeElement;
    if (before !== document.body) drawer.focus();
    return () => {
      // It was in what is gone.
      if (document.activeElement === document.body && before instanceof HTMLElement) before.focus();
    };
  }

  const inputs = $derived((workings?.inputs ?? []).map((input, index) => ({ ...input, index })));
  type Input = (typeof inputs)[number];
  const said = (name: 'unit' | 'source', width: number): TableColumn<Input> => ({
    id: name,
    head: name,
    width,
    align: 'left',
    isExtra: true,
    value: (input) => input[name],
    text: (input) => input[name],
  });
  const columns: TableColumn<Input>[] = [
    {
      id: 'input',
      head: 'input',
      isFixed: true,
      align: 'left',
      value: (input) => `${input.symbol} ${input.label}`.trim(),
      text: (input) => `${input.symbol} ${input.label}`.trim(),
      cell: told,
      tone: () => '!whitespace-normal !py-0.5 align-top',
    },
    {
      id: 'value',
      head: 'value',
      width: 84,
      value: (input) => input.value,
      text: (input) => inputText(input.value, input.unit, host.scale),
      tone: () => '!py-0.5 align-top',
    },
    said('unit', 60),
    said('source', 120),
  ];
</script>

{#snippet told(input: Input)}
  <span class="mr-1 italic">{input.symbol}</span>{input.label}<br /><span class="text-soft text-[11px]"
    >{input.source}</span
  >
{/snippet}

<svelte:window
  onkeydown={(event) => {
    // Only what lies on top closes.
    if (event.key === 'Escape' && id !== undefined && !event.defaultPrevented && !isDialogOpen()) host.closeWorkings();
  }}
/>

{#if id !== undefined}
  <aside
    {@attach takeFocus}
    tabindex="-1"
    aria-label="Workings"
    class="outline-none border-line bg-sheet absolute inset-y-0 right-0 z-20 flex w-[300px] flex-col overflow-y-auto border-l px-4 py-4"
  >
    <div class="flex items-start justify-between">
      <h2 class="small-caps">Workings</h2>
      <button type="button" aria-label="Close Workings" onclick={() => host.closeWorkings()}><X size={15} /></button>
    </div>
    {#if workings}
      <p class="quiet mt-1 text-[11.5px]">{workings.subject} · {stamp}</p>
      <p class="mt-2 font-serif text-[16px]">
        {workings.label.charAt(0).toUpperCase() + workings.label.slice(1)}
        <strong data-testid="workings-value">{figureWithUnit(workings.value, workings.unit, host.scale)}</strong>
        {#if exact}<span class="quiet font-sans text-[11.5px]">unrounded {exact}</span>{/if}
      </p>
      <p class="mt-2 font-serif text-[14px]">{workings.definition}</p>
      {#if workings.value === null && workings.absence}
        <p class="text-event mt-2 font-serif text-[14px]">There is none {workings.absence}.</p>
      {/if}
      {#if workings.note}<p class="text-event mt-2 font-serif text-[14px]">{workings.note}</p>{/if}
      <div class="border-hair mt-3 border-y py-2 text-[12.5px]">
        <p>{workings.formula}</p>
        {#each workings.intermediate as { symbol, expression, value } (symbol)}
          <p class="text-soft mt-1 flex justify-between gap-3">
            <span>{symbol} = {expression}</span>
            <span class="tabular-nums">{inputText(value, 'factor', host.scale)}</span>
          </p>
        {/each}
        {#if workings.core}
          <p class="quiet mt-1 text-[11.5px]">
            computed by {workings.core.name}{settingsText === '' ? '' : `: ${settingsText}`}
          </p>
        {/if}
      </div>
      {#if workings.inputs.length > 0}
        <div class="mt-1">
          <ValueTable
            name="Workings inputs"
            storage="workings-columns"
            {columns}
            rows={inputs}
            rowKey={(input) => String(input.index)}
            isOrdered
            testid="workings-inputs"
            class="text-[12.5px] [--table-ground:var(--sheet)]"
          />
        </div>
      {/if}
      {#each workings.series ?? [] as series (series.label)}
        <WorkingsSeries {series} scale={host.scale} />
      {/each}
      {#if workings.lacksQuotes}
        <p class="quiet mt-3 text-[11.5px]" role="status">
          {host.quotesTrouble ?? 'The quotes that it rests on are on their way.'}
        </p>
      {/if}
      <p class="quiet border-hair mt-3 border-t pt-2 text-[11.5px]">{workings.source}</p>
      <p class="mt-3 flex gap-4 text-[12.5px]">
        {#each [['json', 'Copy as JSON'], ['link', 'Copy link']] as const as [what, label] (what)}
          <button type="button" class="text-implied flex items-center gap-1" onclick={() => copy(what)}>
            {label}{#if copied === what}<Check size={12} aria-label="copied" />{/if}
          </button>
        {/each}
        {#if pricer}<a class="text-implied" href={pricer} data-pricer>Open in Pricer</a>{/if}
      </p>
    {:else}
      <p class="mt-3 font-serif text-[14.5px]">
        This figure does not exist at {stamp}. Step to another instant, or close this.
      </p>
    {/if}
  </aside>
{/if}
