<!-- Strike ladder: market against theory in price and volatility, the columns as they were chosen. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import Figure from '../../shell/figure.svelte';
  import LadderWhisker from './ladder-whisker.svelte';
  import { type ChainColumnId, chainColumn } from './chain-columns';
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
  import { figureId } from '$lib/measures';
  import { reasonWords } from '$lib/market';
  import type { ExpiryPicture } from '$lib/api/picture';
  import type { ChainColumns } from './chosen-columns.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    chosen: ChainColumns;
    focus: ExpiryPicture;
    rows: ChainRow[];
    /** Whether theory still leaves the right to exercise early out */
    isProvisional: boolean;
  }
  let { chosen, focus, rows, isProvisional }: Props = $props();
  const view = quotedViewState();
  const columns = $derived(chosen.shown.map(chainColumn));
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
  const ruleAt = $derived(rows.findIndex((r) => r.strike < focus.forward));

  const id = (measure: string, row: ChainRow) => figureId(measure, focus.date, row.strike, row.side);
  /** Premiums stay per unit; only Greeks change their basis with the switch. */
  const scaled = (value: number | null) => (value === null ? null : value * factor);
  const greek = (value: number | null, digits: number) =>
    signedText(scaled(value), isContract ? Math.max(0, digits - 1) : digits);
  /** More than its own width away from theory: the triangle is filled. */
  const isFar = (row: ChainRow) => Math.abs(row.gap ?? 0) > (row.ask ?? NaN) - (row.bid ?? NaN);

  const LEFT: readonly ChainColumnId[] = ['market', 'openInterest', 'volume'];

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
      default:
        return '';
    }
  }
  /** Ticks, or price where the tick is unknown, and volatility points. */
  function gapText(row: ChainRow): string {
    const gap = Math.abs(row.gap ?? 0);
    const tick = underlying.optionTick;
    const distance = tick === null ? numberText(gap, decimals) : numberText(gap / tick, 0);
    return `${distance} / ${numberText(row.gapVolatility === null ? null : Math.abs(row.gapVolatility) * 100, 1)}`;
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
  const dimmed = (column: ChainColumnId) => (isProvisional && BY_THEORY.includes(column) ? 'opacity-50' : '');

  const titles: Partial<Record<ChainColumnId, string>> = $derived({
    standing:
      'ticks / volatility points to the nearer of bid and offer; filled triangle: more than the width of the quote',
    theta: `per calendar day, per ${isContract ? 'contract' : 'share'}`,
    vega: `per volatility point, per ${isContract ? 'contract' : 'share'}`,
    rho: `per point of rate, per ${isContract ? 'contract' : 'share'}`,
  });
</script>

{#snippet standing(row: ChainRow)}
  {@const isBack = view.isRestored(focus.date, row.strike, row.side)}
  {#if row.verdict !== null || isBack}
    <button
      type="button"
      class="underline decoration-dotted underline-offset-2 disabled:no-underline"
      disabled={row.verdict === 'no-ask'}
      title={isBack
        ? 'put back by hand; click to take it out again'
        : `${reasonWords(row.verdict ?? 'stale')}; click to put it back`}
      onclick={() => view.toggleRestored(focus.date, row.strike, row.side)}>{isBack ? 'put back' : row.verdict}</button
    >
  {:else if row.standing === 'dear' || row.standing === 'cheap'}
    {@const isDear = row.standing === 'dear'}
    <span class={isFar(row) ? 'font-semibold' : ''}
      >{isFar(row) ? (isDear ? '▲' : '▼') : isDear ? '△' : '▽'}
      {row.standing}</span
    >
    <Figure id={id('gap', row)} text={gapText(row)} />
  {:else}<span class="quiet">{row.standing ?? '—'}</span>{/if}
{/snippet}

{#snippet bar(value: number | null, largest: number, name: string)}
  <svg width="50" height="8" aria-label="{name} {countText(value)}"
    ><rect width={(50 * (value ?? 0)) / largest} height="7" fill="var(--faint)" /></svg
  >
{/snippet}

<table class="figures table-fixed text-[12.5px]" data-testid="ladder" aria-busy={isProvisional}>
  <colgroup>
    <col style:width="60px" />
    <col style:width="36px" />
    {#each columns as { id: name, width } (name)}<col style:width="{width}px" />{/each}
  </colgroup>
  <thead class="bg-paper sticky top-0 z-10">
    <tr>
      <th>strike</th>
      <th class="!text-left">side</th>
      {#each columns as { id: name, label } (name)}
        <th class={LEFT.includes(name) ? '!text-left' : ''} title={titles[name]}
          >{name === 'market' && good.length > 0
            ? `vol, bid to offer and fit ${volatilityText(Math.min(...good))} … ${volatilityText(Math.max(...good))}`
            : label}</th
        >
      {/each}
    </tr>
  </thead>
  <tbody>
    {#each rows as row, i (`${row.strike}${row.side}`)}
      <tr
        class="border-hair border-b {i === ruleAt && i > 0 ? '!border-t-ink border-t-2' : ''} {row.verdict === null
          ? ''
          : 'text-soft'}"
      >
        <td class="font-semibold"
          ><a
            class="hover:underline"
            href={view.pricerHref(id('theory', row))}
            title="Take to Pricer"
            aria-label="{strikeText(row.strike)} {row.side}, take to Pricer">{strikeText(row.strike)}</a
          ></td
        >
        <td class="!text-left">{row.side}</td>
        {#each columns as { id: name } (name)}
          {#if name === 'standing'}
            <td class={dimmed(name)}>{@render standing(row)}</td>
          {:else if name === 'market'}
            <td class="!py-0 !text-left"
              ><LadderWhisker
                {row}
                {scale}
                onpick={() => view.address.set({ workings: id('midVolatility', row) })}
              /></td
            >
          {:else if name === 'openInterest' || name === 'volume'}
            <td class="!text-left" title="open {countText(row.openInterest)}, traded {countText(row.volume)}"
              >{@render bar(row[name], most[name], name === 'volume' ? 'traded' : 'open')}</td
            >
          {:else}
            <td class="{name === 'theory' ? 'font-semibold' : ''} {dimmed(name)}"
              ><Figure id={id(name, row)} text={textOf(row, name)} /></td
            >
          {/if}
        {/each}
      </tr>
    {/each}
  </tbody>
</table>
