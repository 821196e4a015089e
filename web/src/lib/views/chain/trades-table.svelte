<!-- The session's trades up to the instant, latest first. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import ShapeLink from '../../shell/shape-link.svelte';
  import ValueTable from '../../shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { figureScale, figureText } from '$lib/measures';
  import { countText, pointsText } from '$lib/ui/format';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { legTheory, spreadParts, tradeDistance } from '$lib/theory';
  import { TheoryValues } from '$lib/theory/thread';
  import { type chainParameters, TRADE_SIDES } from './parameters';
  import type { z } from 'zod';
  import { tradedText } from '$lib/market';
  import { tradesRoute } from '$lib/api/contract/views';
  import { addressOf } from '$lib/api/client/ask';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    own: z.output<typeof chainParameters>;
  }
  let { own }: Props = $props();
  const view = quotedViewState();
  const symbol = $derived(view.picture.underlying.symbol);
  const scale = $derived(figureScale(view.picture));
  let scope = $state<'focus' | 'all' | 'spreads'>('focus');
  const asked = $derived({ parameters: { symbol }, query: { asOf: view.picture.asOf } });
  const fetched = new Fetched(tradesRoute, () => asked);
  const inScope = $derived(
    (fetched.answer?.trades ?? [])
      .map((trade, index) => ({ ...trade, index }))
      .filter((t) =>
        scope === 'all'
          ? true
          : scope === 'spreads'
            ? t.kind !== 'outright'
            : t.legs.some((l) => l.expiry === view.focus?.date),
      ),
  );
  const parts = $derived(
    spreadParts(
      view.picture,
      inScope.map((t) => t.legs),
    ),
  );
  const values = new TheoryValues(() => ({ parts, inForce: view.inForce, stamp: view.theoryStamp }));
  const rows = $derived(
    inScope
      .map((t) => ({ ...t, distance: tradeDistance(view.picture, t, legTheory(t.legs, parts, values.values)) }))
      .filter(
        (t) =>
          (own.met === 'any' || met(t) === own.met) &&
          t.size >= own.size &&
          (own.apart === 0 || Math.abs(100 * (t.distance ?? 0)) >= own.apart),
      ),
  );
  const contracts = $derived(rows.reduce((sum, t) => sum + t.size * t.legs.length, 0));
  const met = (t: { price: number; bid: number; ask: number }) =>
    t.price >= t.ask ? 'at offer' : t.price <= t.bid ? 'at bid' : 'between';
  const SCOPES = ['focus', 'spreads', 'all'] as const;
  type Row = (typeof rows)[number];
  const priced = (id: 'price' | 'bid' | 'ask', head: string, tone: string): TableColumn<Row> => ({
    id,
    head,
    width: 76,
    value: (row) => row[id],
    text: (row) => figureText(row[id], 'quote', scale),
    tone: () => tone,
  });
  const columns = $derived<TableColumn<Row>[]>([
    {
      id: 'instant',
      head: 'time',
      width: 70,
      isFixed: true,
      value: (row) => row.instant,
      text: (row) => row.instant.slice(11, 19),
    },
    {
      id: 'traded',
      head: 'traded',
      least: 200,
      align: 'left',
      value: (row) => tradedText(row.kind, row.legs, view.picture.asOf),
      text: (row) => tradedText(row.kind, row.legs, view.picture.asOf),
      tone: (row) => (row.kind === 'outright' ? '' : 'font-semibold'),
    },
    priced('price', 'price', 'font-semibold'),
    { id: 'size', head: 'size', width: 60, value: (row) => row.size, text: (row) => countText(row.size) },
    priced('bid', 'bid', 'quiet'),
    priced('ask', 'offer', 'quiet'),
    {
      id: 'met',
      head: 'met',
      definition: 'Whether it traded at the bid, at the offer or between.',
      width: 74,
      value: met,
      text: met,
      tone: () => 'quiet',
    },
    {
      id: 'distance',
      head: 'from the fit',
      label: 'distance from the fit, points',
      definition:
        'Points of volatility, by the vega of all legs: its price from the middle of the quote that it met, and that middle from theory as it stands at the instant that is shown.',
      width: 88,
      value: (row) => row.distance,
      text: (row) => pointsText(row.distance, 2),
      tone: () => (values.isPending ? 'opacity-50' : ''),
    },
    { id: 'shape', head: '', label: 'to Structure', width: 56, isFixed: true, text: () => 'shape', cell: shape },
  ]);
</script>

{#snippet shape(row: Row)}
  <ShapeLink legs={row.legs} name={tradedText(row.kind, row.legs, view.picture.asOf)} />
{/snippet}

{#if fetched.error !== undefined}
  <AnswerTrouble what="The trades" of={fetched} />
{:else if fetched.answer && fetched.answer.trades.length === 0}
  <p class="quiet p-8 font-serif text-[15px]">
    No trades are stored for this session. The demo keeps them for the days with quarter-hours of VM50, MERRO, TYNDA and
    RYE.
  </p>
{:else}
  <div class="mb-1 flex flex-wrap items-center gap-x-4 gap-y-1">
    <Choice
      label="Trades shown"
      choices={SCOPES}
      chosen={scope}
      words={(key) => (key === 'focus' ? 'expiry in focus' : key)}
      onchoose={(key) => (scope = key)}
    />
    <select
      class="select select-xs w-[116px]"
      aria-label="Where trades met their quote"
      value={own.met}
      onchange={(event) =>
        view.address.set({ met: event.currentTarget.value === 'any' ? undefined : event.currentTarget.value })}
    >
      {#each TRADE_SIDES as side (side)}<option value={side}>{side === 'any' ? 'at any price' : side}</option>{/each}
    </select>
    <span class="flex items-baseline gap-1 text-[12.5px]">
      <span class="quiet">size from</span>
      <TypedNumber
        label="Fewest contracts of a trade"
        text={String(own.size)}
        isOwn={own.size > 0}
        isWhole
        within={[0, 1e9]}
        ontype={(size) => view.address.set({ size: size > 0 ? String(size) : undefined })}
      />
      <span class="quiet">from the fit</span>
      <TypedNumber
        label="Least distance of a trade from the fit, points"
        text={String(own.apart)}
        isOwn={own.apart > 0}
        within={[0, 1000]}
        ontype={(points) => view.address.set({ apart: points > 0 ? String(points) : undefined })}
      />
    </span>
    <span class="quiet"
      >{countText(rows.length)}
      {rows.length === 1 ? 'trade' : 'trades'}, {countText(contracts)}
      {contracts === 1 ? 'contract' : 'contracts'}</span
    >
    <a
      class="quiet underline decoration-dotted"
      href={addressOf(tradesRoute, { ...asked, query: { ...asked.query, format: 'csv' } })}
      download>all as csv</a
    >
  </div>
  <ValueTable
    name="{symbol} trades"
    storage="print-columns"
    {columns}
    {rows}
    rowKey={(row) => String(row.index)}
    context={{ symbol, currency: view.picture.underlying.currency }}
    testid="trades"
    class="text-[12.5px] {fetched.isLoading ? 'opacity-60' : ''}"
    isBusy={fetched.isLoading || values.isPending}
  />
{/if}
