<!-- A put and a call the same distance from the forward, side by side: what the tilt costs. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import Choice from '$lib/ui/choice.svelte';
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import PickedFoot from '../../shell/picked-foot.svelte';
  import PickOption from '../../shell/pick-option.svelte';
  import ValueTable from '../../shell/value-table.svelte';
  import Plot from '$lib/ui/plot.svelte';
  import { PALETTES } from '$lib/ui/palette';
  import { distanceChart } from './distance-chart';
  import { pageState } from '$lib/shell/page-state.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { dateText, numberText, pointsText, signedText, tickDecimals, volatilityText } from '$lib/ui/format';
  import { DISTANCE_WORDS, type DistanceCount, DISTANCES, type SameDistanceRow } from '$lib/theory';
  import { distanceFigure, figureScale, figureText, premiumDecimals } from '$lib/measures';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    by: DistanceCount;
    rows: readonly SameDistanceRow[];
    /** Whether values still leave early exercise out */
    isPending: boolean;
    trouble: string | undefined;
  }
  let { by, rows, isPending, trouble }: Props = $props();
  const view = quotedViewState();
  const page = pageState();
  const underlying = $derived(view.picture.underlying);
  const isContract = $derived(view.context.basis === 'contract');
  const factor = $derived(isContract ? underlying.multiplier : 1);
  const scale = $derived(figureScale(view.picture, factor));
  const decimals = $derived(premiumDecimals(scale));
  const strikeDecimals = $derived(by === 'strikes' ? tickDecimals(underlying.underlyingTick) : 2);
  const scaled = (value: number | null | undefined) => (value == null ? null : value * factor);
  const priceText = (price: number | undefined) => figureText(scaled(price), 'premium', scale);
  const dimmed = $derived(isPending ? 'opacity-50' : '');
  /** Values are per unit of underlying; only what is shown follows the switch. */
  const difference = (row: SameDistanceRow) =>
    row.put?.price !== undefined && row.call?.price !== undefined ? row.put.price - row.call.price : null;
  const ratio = (row: SameDistanceRow) => (row.put?.price && row.call?.price ? row.put.price / row.call.price : null);
  const points = (row: SameDistanceRow) => (row.put && row.call ? row.put.volatility - row.call.volatility : null);
  const chart = $derived(
    distanceChart(rows, { by, palette: PALETTES[page.theme], factor, decimals, currency: underlying.currency }),
  );
  type Side = 'put' | 'call';
  const explained = (id: string) => ({
    id,
    figure: (row: SameDistanceRow) => distanceFigure(id, view.focus?.date ?? '', by, row.distance),
  });
  const strikeOf = (side: Side): TableColumn<SameDistanceRow> => ({
    ...explained(`${side}Strike`),
    head: `${side} strike`,
    width: 72,
    value: (row) => row[side]?.strike,
    text: (row) => numberText(row[side]?.strike, strikeDecimals),
  });
  const volatilityOf = (side: Side): TableColumn<SameDistanceRow> => ({
    ...explained(`${side}Volatility`),
    head: `${side} vol %`,
    definition: 'Fitted volatility at the strike.',
    width: 66,
    value: (row) => row[side]?.volatility,
    text: (row) => volatilityText(row[side]?.volatility),
    tone: () => 'text-implied',
  });
  const valueOf = (side: Side): TableColumn<SameDistanceRow> => ({
    ...explained(`${side}Value`),
    head: `${side} value`,
    definition: 'Value of theory on the fitted smile; in files per unit of underlying.',
    width: 70,
    value: (row) => row[side]?.price,
    text: (row) => priceText(row[side]?.price),
    tone: () => dimmed,
  });
  /** The strike that is listed nearest to one of the smile; undefined without any. */
  function listedAt(strike: number | undefined): number | undefined {
    const strikes = view.focus?.strikes ?? [];
    if (strike === undefined || strikes.length === 0) return undefined;
    return strikes.reduce((best, k) => (Math.abs(k - strike) < Math.abs(best - strike) ? k : best));
  }
  const pickOf = (side: Side, cell: Snippet<[SameDistanceRow]>): TableColumn<SameDistanceRow> => ({
    id: `${side}Listed`,
    head: `${side} listed`,
    definition: 'Strike listed nearest to it, to be picked as a leg.',
    width: 118,
    value: (row) => listedAt(row[side]?.strike),
    text: (row) => numberText(listedAt(row[side]?.strike), 2),
    cell,
  });
  const columns = $derived<TableColumn<SameDistanceRow>[]>([
    {
      id: 'distance',
      head: DISTANCE_WORDS[by],
      width: 60,
      isFixed: true,
      value: (row) => row.distance,
      text: (row) => String(row.distance),
      tone: () => 'font-semibold',
    },
    ...[strikeOf('put'), volatilityOf('put'), valueOf('put'), valueOf('call'), volatilityOf('call'), strikeOf('call')],
    {
      ...explained('ratio'),
      head: 'put / call',
      definition: 'Value of the put over that of the call.',
      width: 58,
      value: ratio,
      text: (row) => numberText(ratio(row), 2),
      tone: () => `font-semibold ${dimmed}`,
    },
    {
      ...explained('difference'),
      head: 'difference',
      label: `difference, ${underlying.currency}`,
      definition: 'Value of the put less that of the call; in files per unit of underlying.',
      width: 84,
      value: difference,
      text: (row) => signedText(scaled(difference(row)), decimals),
      tone: () => dimmed,
    },
    {
      ...explained('points'),
      head: 'points',
      definition: 'Volatility of the put less that of the call.',
      width: 50,
      value: points,
      text: (row) => pointsText(points(row)),
    },
    pickOf('put', pickPut),
    pickOf('call', pickCall),
  ]);
</script>

{#snippet listed(side: Side, row: SameDistanceRow)}
  {@const strike = listedAt(row[side]?.strike)}
  {#if strike === undefined || !view.focus}—{:else}<PickOption
      option={{ expiry: view.focus.date, strike, side }}
    />{/if}
{/snippet}
{#snippet pickPut(row: SameDistanceRow)}{@render listed('put', row)}{/snippet}
{#snippet pickCall(row: SameDistanceRow)}{@render listed('call', row)}{/snippet}

<div class="flex items-center gap-4">
  <Choice
    label="Distance counted in"
    choices={DISTANCES}
    chosen={by}
    words={(count) => DISTANCE_WORDS[count]}
    onchoose={(count) => view.address.set({ by: count === 'percent' ? undefined : count })}
  />
  {#if view.focus}
    <span class="quiet"
      >{dateText(view.focus.date, view.picture.asOf)}, forward {numberText(
        view.focus.forward,
        tickDecimals(underlying.underlyingTick),
      )}, values on the fitted smile per {isContract ? `contract of ${underlying.multiplier}` : 'share'}</span
    >
  {/if}
</div>
{#if rows.length === 0}
  <p class="quiet p-8 font-serif text-[15px]">
    {view.focus?.smile?.model === 'flat'
      ? 'Too few quotes of this expiry make a smile: it has a level, the same both ways, and nothing to compare.'
      : view.focus
        ? 'This expiry has no smile to read from.'
        : 'Pick an expiry in the ribbon above.'}
  </p>
{:else}
  <TheoryTrouble {trouble} />
  <div class="flex h-[calc(100%-30px)] flex-col">
    <div class="mt-2 shrink-0">
      <ValueTable
        name="{underlying.symbol} same distance {view.focus?.date}"
        storage="distance-columns"
        {columns}
        {rows}
        rowKey={(row) => String(row.distance)}
        context={{
          symbol: underlying.symbol,
          currency: underlying.currency,
          multiplier: underlying.multiplier,
          asOf: view.picture.asOf,
          expiry: view.focus?.date ?? null,
          countedIn: DISTANCE_WORDS[by],
        }}
        testid="same-distance"
        class="text-[13px]"
        isBusy={isPending}
      />
      <PickedFoot />
    </div>
    <div class="mt-3 min-h-[260px] grow {dimmed}"><Plot {chart} label="Put and call at the same distance" /></div>
  </div>
{/if}
