<!-- The Shelf: structures that were kept, what each is worth now, and files of them. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import type { KeepRequest, KeptChange, KeptStructure } from '$lib/api/kept-structure';
  import { legsText } from '$lib/api/picked-legs';
  import { figureScale, figureText } from '$lib/measures';
  import ValueTable from '$lib/shell/value-table.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { dateText, instantLabel, numberText, probabilityText, signedText } from '$lib/ui/format';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { paidText, type StructureParameters } from './parameters';
  import type { Shelf } from './shelf.svelte';
  import { inUnitsOfNow } from './structure-edit';
  import { structureWords } from './structure-words';

  interface Props {
    shelf: Shelf;
    own: StructureParameters;
    /** What would be kept now; undefined where there is nothing */
    current: Omit<KeepRequest, 'name' | 'tags'> | undefined;
    /** What it is called where nothing is typed */
    usualName: string;
  }
  let { shelf, own, current, usualName }: Props = $props();
  const view = quotedViewState();
  const scale = $derived(figureScale(view.picture));
  const MOST_BESIDE = 3;
  let name = $state('');
  let tags = $state('');
  /** The one that gets another name. */
  let renamed = $state<{ id: string; name: string; tags: string }>();
  const { minute } = $derived(view.live);
  $effect(() => {
    if (shelf.kept) void shelf.reprice(minute);
    return () => shelf.leave();
  });
  const tagsOf = (text: string) =>
    text
      .split(',')
      .map((tag) => tag.trim())
      .filter((tag) => tag !== '');

  async function keep(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    if (!current) return;
    await shelf.keep({ ...current, name: name.trim() || usualName, tags: tagsOf(tags) });
    if (shelf.trouble === undefined) name = tags = '';
  }
  async function rename(event: SubmitEvent): Promise<void> {
    event.preventDefault();
    const one = shelf.kept?.find((k) => k.id === renamed?.id);
    if (!one || !renamed) return;
    await shelf.change(one, { name: renamed.name.trim() || one.name, tags: tagsOf(renamed.tags) });
    if (shelf.trouble === undefined && !shelf.conflict) renamed = undefined;
  }
  /** Ends a conflict: with what was wanted, or as it is kept now. */
  async function settle(now: KeptStructure, wanted?: KeptChange): Promise<void> {
    if (wanted) await shelf.change(now, wanted);
    else shelf.conflict = undefined;
    if (!shelf.conflict) renamed = undefined;
  }
  async function take(event: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const input = event.currentTarget;
    const file = input.files?.[0];
    if (file) await shelf.import(await file.text());
    input.value = '';
  }
  function hrefOf(kept: KeptStructure, isThen = false): string {
    const query = new URLSearchParams();
    const seen = isThen ? undefined : seenOf(kept.id);
    const { symbol, legs, held, paid } = inUnitsOfNow(kept, (seen?.ok && seen.evaluation.splitFactor) || 1);
    const instant = isThen ? kept.asOf : view.address.context.asOf;
    if (instant !== undefined) query.set('asOf', instant);
    const text = legsText(legs);
    if (text) query.set('legs', text);
    if (held !== 0) query.set('held', String(held));
    const prices = paidText(paid);
    if (prices) query.set('paid', prices);
    return `/structure/${symbolPart(symbol)}?${query.toString()}`;
  }
  const beside = (id: string) => own.with.includes(id);
  function toggle(id: string): void {
    const next = beside(id) ? own.with.filter((other) => other !== id) : [...own.with, id].slice(-MOST_BESIDE);
    void view.address.set({ with: next.length === 0 ? undefined : next.join(',') });
  }

  interface Row extends KeptStructure {
    evaluation: Extract<ReturnType<typeof seenOf>, { ok: true }>['evaluation'] | undefined;
    reason: string | undefined;
  }
  const seenOf = (id: string) => shelf.repriced.get(id);
  const rows = $derived(
    (shelf.kept ?? []).map((one): Row => {
      const seen = seenOf(one.id);
      return {
        ...one,
        evaluation: seen?.ok ? seen.evaluation : undefined,
        reason: seen && !seen.ok ? seen.reason : undefined,
      };
    }),
  );
  /** What its legs rest on where that is no quote, and what a split made of it. */
  function standing({ evaluation }: Row): string {
    const by = new Set(evaluation?.legs?.map((leg) => leg.valuedBy));
    const said = [
      ...(by.has('settlement') ? ['settled'] : []),
      ...(by.has('smile') ? ['by the smile'] : []),
      ...(evaluation?.assignments ?? []).map(
        ({ exDate, cost }) => `may be assigned before ${dateText(exDate, view.picture.asOf)}: ${numberText(cost, 0)}`,
      ),
      ...(evaluation?.splitFactor
        ? [`split ${numberText(evaluation.splitFactor, 3).replace(/\.?0+$/, '')} for 1`]
        : []),
    ];
    return said.length === 0 ? '' : ` (${said.join(', ')})`;
  }
  const gain = ({ evaluation, cost }: Row) =>
    evaluation?.value === undefined || cost === null ? null : evaluation.value - cost;
  const money = (
    id: string,
    head: string,
    definition: string,
    value: (r: Row) => number | null | undefined,
    isExtra = false,
  ) => ({
    ...{ id, head, definition, width: 66, isExtra },
    value: (r: Row) => value(r) ?? null,
    text: (r: Row) => figureText(value(r), 'money', scale),
  });
  const columns = $derived<TableColumn<Row>[]>([
    {
      ...{ id: 'name', head: 'kept as', isFixed: true, width: 150, align: 'left' as const },
      value: (r) => r.name,
      text: (r) => r.name,
      cell: opened,
    },
    { id: 'underlying', head: 'underlying', width: 70, align: 'left', value: (r) => r.symbol, text: (r) => r.symbol },
    {
      ...{ id: 'structure', head: 'structure', width: 104, align: 'left' as const },
      value: (r) => r.evaluation?.name ?? null,
      text: (r) => r.reason ?? (r.evaluation ? `${structureWords(r.evaluation)}${standing(r)}` : '…'),
      tone: (r) => (r.reason ? 'text-event' : ''),
    },
    {
      id: 'tags',
      head: 'tags',
      width: 90,
      align: 'left',
      value: (r) => r.tags.join(', '),
      text: (r) => r.tags.join(', '),
    },
    {
      ...{ id: 'instant', head: 'of', label: 'kept at', width: 96, isExtra: true, align: 'left' as const },
      value: (r) => r.asOf,
      text: (r) => instantLabel(r.asOf),
    },
    money('cost', 'cost then', 'Of the position when it was kept, currency.', (r) => r.cost),
    money(
      'value',
      'theory now',
      'Of the position by the fitted smile at the instant that is shown.',
      (r) => r.evaluation?.value,
    ),
    {
      ...{ id: 'gain', head: 'since', definition: 'Theory now less the cost then.', width: 66 },
      value: gain,
      text: (r) => signedText(gain(r), 2),
      tone: (r) => ((gain(r) ?? 0) > 0 ? 'text-gain' : (gain(r) ?? 0) < 0 ? 'text-loss' : ''),
    },
    {
      ...{ id: 'chance', head: 'chance', label: 'chance of profit', width: 56 },
      value: (r) => r.evaluation?.probabilityOfProfit ?? null,
      text: (r) => probabilityText(r.evaluation?.probabilityOfProfit),
    },
    money(
      'most',
      'most',
      'Highest profit at the first expiry; none where it has no end.',
      (r) => r.evaluation?.maxProfit,
    ),
    money(
      'lost',
      'most lost',
      'Most that can be lost at the first expiry; none where it has no end.',
      (r) => r.evaluation?.maxLoss,
    ),
    money('delta', 'delta', 'Of the position.', (r) => r.evaluation?.greeks.delta, true),
    money('theta', 'theta', 'Of the position a day.', (r) => r.evaluation?.greeks.theta, true),
    money('vega', 'vega', 'Of the position a point.', (r) => r.evaluation?.greeks.vega, true),
    { ...{ id: 'do', head: 'do', width: 156, isFixed: false, align: 'left' as const }, text: () => '', cell: actions },
  ]);
</script>

{#snippet opened(r: Row)}<a
    class="text-implied font-semibold"
    href={hrefOf(r)}
    title="Open at the instant that is shown">{r.name}</a
  >{/snippet}
{#snippet actions(r: Row)}
  <span class="flex gap-2 whitespace-nowrap">
    <a class="text-implied" href={hrefOf(r, true)} aria-label="Open {r.name} at the instant that it was kept at">then</a
    >
    {#if r.symbol === view.picture.underlying.symbol}
      <button
        type="button"
        class="text-implied"
        aria-pressed={beside(r.id)}
        aria-label="Compare with {r.name}"
        onclick={() => toggle(r.id)}>{beside(r.id) ? 'compared ✓' : 'compare'}</button
      >
    {/if}
    <button
      type="button"
      class="quiet"
      aria-label="Rename {r.name}"
      onclick={() => (renamed = { id: r.id, name: r.name, tags: r.tags.join(', ') })}>name</button
    >
    <button
      type="button"
      class="quiet"
      aria-label="Delete {r.name}"
      disabled={shelf.isBusy}
      onclick={() => shelf.drop(r)}>×</button
    >
  </span>
{/snippet}

<form class="flex flex-wrap items-baseline gap-x-2 gap-y-1 text-[12.5px]" onsubmit={keep}>
  <span class="quiet">keep this as</span>
  <input
    type="text"
    class="typed w-[180px]"
    maxlength="80"
    placeholder={usualName}
    bind:value={name}
    aria-label="Name of what is kept"
    disabled={!current}
  />
  <span class="quiet">tags</span>
  <input
    type="text"
    class="typed w-[120px]"
    placeholder="one, two"
    bind:value={tags}
    aria-label="Tags of what is kept, between commas"
    disabled={!current}
  />
  <button type="submit" class="btn btn-xs" disabled={!current || shelf.isBusy}>keep</button>
  <span class="quiet ml-auto flex gap-3">
    <span>the whole Shelf:</span>
    <a class="text-implied" href={shelf.fileAddress('csv')} download="shelf.csv">csv</a>
    <a class="text-implied" href={shelf.fileAddress('json')} download="shelf.json">json</a>
    <label class="text-implied cursor-pointer"
      >import<input
        type="file"
        class="sr-only"
        accept=".csv,.json,text/csv,application/json"
        aria-label="File of kept structures, CSV or JSON"
        onchange={take}
      /></label
    >
  </span>
</form>
{#if renamed}
  <form class="mt-1 flex flex-wrap items-baseline gap-2 text-[12.5px]" onsubmit={rename}>
    <span class="quiet">call it</span>
    <input type="text" class="typed w-[180px]" maxlength="80" bind:value={renamed.name} aria-label="Its new name" />
    <span class="quiet">tags</span>
    <input type="text" class="typed w-[120px]" bind:value={renamed.tags} aria-label="Its new tags, between commas" />
    <button type="submit" class="btn btn-xs" disabled={shelf.isBusy}>save</button>
    <button type="button" class="quiet min-h-6" onclick={() => (renamed = undefined)}>leave it</button>
  </form>
{/if}
{#if shelf.conflict}
  {@const { now, wanted } = shelf.conflict}
  <p class="mt-1 text-[12.5px]" role="alert">
    Meanwhile somebody else changed it: it is called “{now.name}”{now.tags.length > 0
      ? `, tags ${now.tags.join(', ')}`
      : ''} now.
    {#if wanted}
      <button type="button" class="text-implied min-h-6" disabled={shelf.isBusy} onclick={() => settle(now, wanted)}
        >call it “{wanted.name}” all the same</button
      >
    {:else}
      <button type="button" class="text-implied min-h-6" disabled={shelf.isBusy} onclick={() => shelf.drop(now)}
        >delete it all the same</button
      >
    {/if}
    <button type="button" class="quiet min-h-6" onclick={() => settle(now)}>leave it as it is</button>
  </p>
{/if}
{#if shelf.trouble}<p class="text-loss mt-1 text-[12.5px]" role="alert">{shelf.trouble}</p>{/if}
{#if shelf.deleted}
  <p class="mt-1 text-[12.5px]" role="status">
    “{shelf.deleted.name}” is deleted.
    <button type="button" class="text-implied min-h-6" disabled={shelf.isBusy} onclick={() => shelf.putBack()}
      >put back</button
    >
  </p>
{/if}
{#if rows.length > 0}
  <ValueTable
    name="Shelf"
    storage="structure-shelf-columns"
    {columns}
    {rows}
    rowKey={(r) => r.id}
    testid="shelf"
    class="mt-1 text-[12.5px]"
  />
{:else if shelf.kept}
  <p class="quiet mt-2 font-serif text-[14px]">
    Nothing is kept yet. What is kept here stays with its instant and its cost, and is priced anew at every instant that
    is shown.
  </p>
{:else if !shelf.trouble}
  <p class="quiet mt-2 text-[12.5px]" aria-busy="true">Looking at the Shelf.</p>
{/if}
