<!-- Strike ladder: market against theory in price and volatility, the columns as they were chosen. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import Figure from '../../shell/figure.svelte';
  import ValueTable from '../../shell/value-table.svelte';
  import LadderWhisker from './ladder-whisker.svelte';
  import { CHAIN_COLUMNS, type ChainColumnId } from './chain-columns';
  import { ladderFile } from './ladder-file';
  import type { ChainRow } from '$lib/api/chain-row';
  import {
    countText,
    numberText,
    probabilityText,
    signedText,
    strikeText,
    tickDecimals,
    volatilityText,
  } from '$lib/ui/format';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { figureId } from '$lib/measures';
  import { reasonWords } from '$lib/market';
  import type { ExpiryPicture } from '$lib/api/picture';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    focus: ExpiryPicture;
    rows: ChainRow[];
    /** Whether theory still leaves the right to exercise early out */
    isProvisional: boolean;
  }
  let { focus, rows, isProvisional }: Props = $props();
  const view = quotedViewState();
  const underlying = $derived(view.picture.underlying);
  const decimals = $derived(tickDecimals(underlying.optionTick));
  const isContract = $derived(view.context.basis === 'contract');
  const factor = $derived(isContract ? underlying.multiplier : 1);
  const good = $derived(
    rows
      // In the money a width in price is a wide one in volatility, which would squeeze all others.
      .filter((r) => r.verdict === null && r.strike >= focus.forward === (r.side === 'call'))
      .flatMap((r) => [r.bidVolatility, r.askVolatility, r.fitVolatility])
      .filter((v) => v !== null),
  );
  const scale = $derived(
    scaleLinear()
      .domain([Math.min(...good), Math.max(...good)])
      .range([8, 182])
      .clamp(true),
  );
  const most = $derived({
    openInterest: Math.max(1, ...rows.map((r) => r.openInterest ?? 0)),
    volume: Math.max(1, ...rows.map((r) => r.volume ?? 0)),
  });
  /** The first row at or below the forward carries the heavy rule above it. */
  const ruled = $derived(rows.find((r, i) => i > 0 && r.strike < focus.forward));

  const id = (measure: string, row: ChainRow) => figureId(measure, focus.date, row.strike, row.side);
  /** Premiums stay per unit; only Greeks change their basis with the switch. */
  const scaled = (value: number | null) => (value === null ? null : value * factor);
  const greek = (value: number | null, digits: number) =>
    signedText(scaled(value), isContract ? Math.max(0, digits - 1) : digits);
  /** More than its own width away from theory: the triangle is filled. */
  const isFar = (row: ChainRow) => Math.abs(row.gap ?? 0) > (row.ask ?? NaN) - (row.bid ?? NaN);
  const markOf = (row: ChainRow) =>
    row.standing === 'dear' ? (isFar(row) ? '▲' : '△') : row.standing === 'cheap' ? (isFar(row) ? '▼' : '▽') : '';

  function textOf(row: ChainRow, column: ChainColumnId): string {
    switch (column) {
      case 'bid':
      case 'ask':
      case 'mid':
      case 'last':
      case 'theory':
        return numberText(row[column], decimals);
      case 'earlyExercise':
        return numberText(row.earlyExercise, decimals + 1);
      case 'bidVolatility':
      case 'midVolatility':
      case 'askVolatility':
      case 'fitVolatility':
      case 'theoryVolatility':
        return volatilityText(row[column]);
      case 'delta':
      case 'forwardDelta':
        return greek(row[column], 2);
      case 'theta':
        return greek(row.theta, Math.max(2, decimals));
      case 'gamma':
        return numberText(scaled(row.gamma), isContract ? 2 : 4);
      case 'vega':
      case 'rho':
        return numberText(scaled(row[column]), Math.max(2, decimals));
      case 'probabilityItm':
        return probabilityText(row.probabilityItm);
      case 'openInterest':
      case 'volume':
        return countText(row[column]);
      case 'standing':
        return (
          row.verdict ?? (markOf(row) === '' ? (row.standing ?? '—') : `${markOf(row)} ${row.standing} ${gapText(row)}`)
        );
      case 'market':
        return [row.bidVolatility, row.fitVolatility, row.askVolatility].map((v) => volatilityText(v)).join(' ');
    }
  }
  /** Ticks, or price where the tick is unknown, and volatility points. */
  function gapText(row: ChainRow): string {
    const gap = Math.abs(row.gap ?? 0);
    const tick = underlying.optionTick;
    const distance = tick === null ? numberText(gap, decimals) : numberText(gap / tick, 0);
    return `${distance} / ${numberText(row.gapVolatility === null ? null : Math.abs(row.gapVolatility) * 100, 1)}`;
  }
  /** What a column is sorted by. */
  function worth(row: ChainRow, column: ChainColumnId): string | number | null {
    if (column === 'standing')
      return row.standing === 'dear'
        ? Math.abs(row.gap ?? 0)
        : row.standing === 'cheap'
          ? -Math.abs(row.gap ?? 0)
          : row.standing
            ? 0
            : null;
    return column === 'market' ? row.midVolatility : row[column];
  }
  /** What changes when American values come. */
  const BY_THEORY: readonly ChainColumnId[] = [
    'theory',
    'earlyExercise',
    'standing',
    'delta',
    'gamma',
    'theta',
    'vega',
    'rho',
  ];
  /** What the switch between share and contract multiplies. */
  const BASED: readonly ChainColumnId[] = ['delta', 'forwardDelta', 'gamma', 'theta', 'vega', 'rho'];
  const cells: Partial<Record<ChainColumnId, typeof standing>> = { standing, market, openInterest, volume };

  const columns = $derived<TableColumn<ChainRow>[]>([
    {
      id: 'strike',
      head: 'strike',
      width: 60,
      isFixed: true,
      value: (row) => row.strike,
      text: (row) => strikeText(row.strike),
      cell: strike,
      tone: () => 'font-semibold',
    },
    {
      id: 'side',
      head: 'side',
      width: 36,
      isFixed: true,
      align: 'left',
      value: (row) => row.side,
      text: (row) => row.side,
    },
    ...CHAIN_COLUMNS.map(({ id: name, definition, ...column }): TableColumn<ChainRow> => ({
      ...column,
      id: name,
      head:
        name === 'market' && good.length > 0
          ? `vol, bid to offer and fit ${volatilityText(Math.min(...good))} … ${volatilityText(Math.max(...good))}`
          : column.head,
      definition: BASED.includes(name) ? `${definition} Here per ${isContract ? 'contract' : 'share'}.` : definition,
      align: name === 'market' || name === 'openInterest' || name === 'volume' ? 'left' : undefined,
      value: (row) => worth(row, name),
      text: (row) => textOf(row, name),
      figure: (row) => id(name, row),
      cell: cells[name],
      tone: () =>
        `${name === 'theory' ? 'font-semibold' : name === 'market' ? '!p-0' : ''} ${isProvisional && BY_THEORY.includes(name) ? 'opacity-50' : ''}`,
    })),
  ]);
</script>

{#snippet strike(row: ChainRow)}
  <a
    class="hover:underline"
    tabindex="-1"
    href={view.pricerHref(id('theory', row))}
    aria-label="{strikeText(row.strike)} {row.side}, take to Pricer">{strikeText(row.strike)}</a
  >
{/snippet}

{#snippet standing(row: ChainRow)}
  {@const isBack = view.isRestored(focus.date, row.strike, row.side)}
  {@const why = isBack ? 'by hand; takes it out again' : `${reasonWords(row.verdict ?? 'stale')}; puts it back`}
  {#if row.verdict !== null || isBack}
    <button
      type="button"
      tabindex="-1"
      class="underline decoration-dotted underline-offset-2 disabled:no-underline"
      disabled={row.verdict === 'no-ask'}
      title={why}
      aria-label="{isBack ? 'put back' : row.verdict}: {why}"
      onclick={() => view.toggleRestored(focus.date, row.strike, row.side)}>{isBack ? 'put back' : row.verdict}</button
    >
  {:else if markOf(row) !== ''}
    <span class={isFar(row) ? 'font-semibold' : ''}>{markOf(row)} {row.standing}</span>
    <Figure id={id('gap', row)} text={gapText(row)} isInTable />
  {:else}<span class="quiet">{row.standing ?? '—'}</span>{/if}
{/snippet}

{#snippet market(row: ChainRow)}
  <LadderWhisker {row} {scale} onpick={() => view.address.set({ workings: id('midVolatility', row) })} />
{/snippet}

{#snippet bar(value: number | null, largest: number, name: string)}
  <svg width="50" height="8" role="img" aria-label="{name} {countText(value)}"
    ><rect width={(50 * (value ?? 0)) / largest} height="7" fill="var(--faint)" /></svg
  >
{/snippet}
{#snippet openInterest(row: ChainRow)}{@render bar(row.openInterest, most.openInterest, 'open')}{/snippet}
{#snippet volume(row: ChainRow)}{@render bar(row.volume, most.volume, 'traded')}{/snippet}

<ValueTable
  name="{underlying.symbol} chain {focus.date}"
  storage="chain-columns"
  {columns}
  {rows}
  rowKey={(row) => `${row.strike}${row.side}`}
  file={(shown) => ladderFile(view.picture, focus, rows, shown as ChainColumnId[])}
  rowTone={(row, isSorted) =>
    `${row === ruled && !isSorted ? '!border-t-ink border-t-2' : ''} ${row.verdict === null ? '' : 'text-soft'}`}
  testid="ladder"
  class="text-[12.5px]"
  isBusy={isProvisional}
/>
