<!-- Chance of profit at the first expiry by every source of odds, and how far each stands from the smile. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { derivingQuery } from '$lib/api/as-of-context';
  import { ask, troubleText } from '$lib/api/client/ask';
  import { probabilityRoute } from '$lib/api/contract/views';
  import type { SourceOddsRow } from '$lib/api/range';
  import { ODDS_SOURCE_NAMES } from '$lib/measures';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { dateText, numberText, probabilityText, signedText } from '$lib/ui/format';
  import { chanceBySource, type SourceChance, type SourceDay } from './chance-by-source';
  import { measureText, type MeasureScale } from './structure-measure';

  interface Props {
    front: SourceDay;
    /** Civil date of the first expiry */
    expiry: string;
    /** That is looked at before, and its name */
    day: (SourceDay & { name: string }) | undefined;
    scale: MeasureScale;
  }
  let { front, expiry, day, scale }: Props = $props();
  const view = quotedViewState();
  const symbol = $derived(view.picture.underlying.symbol);
  /** Without a break-even any price tells which sources there are. */
  const levels = $derived(front.structure.breakEvens.length > 0 ? front.structure.breakEvens : [front.forward]);
  const asked = $derived(JSON.stringify([symbol, view.live.minute, expiry, levels, route.url.search]));
  let told = $state.raw<SourceOddsRow[][]>([]);
  const rows = $derived(told.length === levels.length ? chanceBySource(front, day, told) : []);
  let isLoading = $state(true);
  let trouble = $state<string>();

  $effect(() => {
    void asked;
    const abort = new AbortController();
    isLoading = true;
    void Promise.all(
      levels.map((level) => {
        const query = derivingQuery(route.url.searchParams);
        query.set('asOf', view.live.minute);
        query.set('expiry', expiry);
        query.set('kind', 'below');
        query.append('level', String(level));
        const { typedVolatility } = view.context;
        if (typedVolatility !== undefined) query.set('volatility', String(typedVolatility));
        return ask(probabilityRoute, { parameters: { symbol }, query, signal: abort.signal });
      }),
    ).then(
      (answers) => {
        told = answers.map((a) => a.results);
        [isLoading, trouble] = [false, undefined];
      },
      (error: unknown) => {
        if (!abort.signal.aborted) [isLoading, trouble] = [false, troubleText(error)];
      },
    );
    return () => abort.abort();
  });
  const smile = $derived(rows.find((r) => r.source === 'smile')?.chance ?? null);
  const apart = (r: SourceChance) => (r.chance === null || smile === null ? null : 100 * (r.chance - smile));
  const columns = $derived<TableColumn<SourceChance>[]>([
    {
      id: 'source',
      head: 'source',
      isFixed: true,
      width: 150,
      align: 'left',
      value: (r) => ODDS_SOURCE_NAMES[r.source],
      text: (r) => ODDS_SOURCE_NAMES[r.source],
      tone: (r) => (r.source === 'smile' ? 'font-semibold' : ''),
    },
    {
      id: 'chance',
      head: 'chance of profit',
      width: 104,
      value: (r) => r.chance,
      text: (r) =>
        `${probabilityText(r.chance)}${r.error === undefined || r.chance === null ? '' : ` ± ${numberText(100 * r.error, 1)}`}`,
    },
    {
      id: 'apart',
      head: 'points apart',
      definition: 'From the smile, points of chance.',
      width: 84,
      value: apart,
      text: (r) => (r.source === 'smile' ? '' : signedText(apart(r), 1)),
    },
    ...(day
      ? [
          {
            ...{ id: 'onDay', head: day.name, label: `chance of profit, ${day.name}`, width: 84 },
            definition: 'Of the smile, and of sources with one volatility for all prices.',
            value: (r: SourceChance) => r.onDay ?? null,
            text: (r: SourceChance) => probabilityText(r.onDay),
          },
        ]
      : []),
    {
      ...{ id: 'expected', head: 'expected profit', width: 104 },
      definition: 'Mean profit at the first expiry; of the smile, and of sources with one volatility for all prices.',
      value: (r) => r.expected,
      text: (r) => measureText(r.expected === null ? null : r.expected * scale.multiplier, 'profit'),
    },
    {
      id: 'reason',
      head: 'note',
      label: 'why not',
      align: 'left',
      value: (r) => r.reason ?? null,
      text: (r) => r.reason ?? '',
      tone: () => 'quiet',
    },
  ]);
</script>

<p class="quiet mb-1 text-[12.5px]">
  By {dateText(expiry, view.picture.asOf)}, from what each source tells of ending between the break-evens; why they
  differ, Range takes apart.
</p>
{#if trouble}<p class="text-loss text-[12.5px]" role="alert">{trouble}</p>{/if}
<div class={isLoading ? 'opacity-60' : ''} aria-busy={isLoading}>
  <ValueTable
    name="{symbol} chance of profit by source"
    storage="structure-chances-columns"
    {columns}
    {rows}
    rowKey={(r) => r.source}
    testid="chance-by-source"
    class="text-[12.5px]"
  />
</div>
