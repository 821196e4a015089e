<!-- Quotes of the focus expiry against theory, as a strike ladder. -->
<script lang="ts">
  import TableMenu from '$lib/components/table-menu.svelte';
  import { scaleLinear } from 'd3-scale';
  import ListedSpreads from './chain/listed-spreads.svelte';
  import TradePrints from './chain/trade-prints.svelte';
  import Figure from './figure.svelte';
  import LadderWhisker from './ladder-whisker.svelte';
  import Reading from './reading.svelte';
  import ViewFrame from './view-frame.svelte';
  import { type ChainRow, chainRows } from '$lib/figures/chain-rows';
  import {
    countText,
    dateText,
    daysText,
    numberText,
    probabilityText,
    signedText,
    strikeText,
    tickDecimals,
    volatilityText,
  } from '$lib/figures/format';
  import { figureId } from '$lib/measures/workings';
  import { chainReading, reasonWords } from '$lib/reading/readings';
  import { CHAIN_TABLES } from '$lib/schema/as-of-context';
  import { viewState } from '$lib/state/view-state.svelte';

  /** Fixed, so that the browser need not measure every cell to place one. */
  const COLUMN_WIDTHS = [60, 36, 56, 56, 60, 96, 190, 48, 52, 64, 56, 60, 60];
  const view = viewState();
  const focus = $derived(view.focus);
  const rows = $derived(focus ? chainRows(focus, view.context) : []);
  const underlying = $derived(view.picture.underlying);
  const decimals = $derived(tickDecimals(underlying.optionTick));
  const factor = $derived(view.context.basis === 'contract' ? underlying.multiplier : 1);
  const good = $derived(
    rows
      .filter((r) => r.verdict === null)
      .flatMap((r) => [r.bidVolatility, r.askVolatility, r.fitVolatility])
      .filter((v) => v !== null),
  );
  const scale = $derived(
    scaleLinear()
      .domain([Math.min(...good), Math.max(...good)])
      .range([8, 182])
      .clamp(true),
  );
  const mostOpen = $derived(Math.max(1, ...rows.map((r) => r.openInterest ?? 0)));
  const out = $derived(rows.filter((r) => r.verdict !== null).length);
  const isContract = $derived(view.context.basis === 'contract');

  const id = (measure: string, row: ChainRow) => figureId(measure, focus?.date, row.strike, row.side);
  /** Premiums stay per unit; only Greeks change their basis with the switch. */
  const greek = (value: number | null, digits: number) =>
    signedText(value === null ? null : value * factor, isContract ? Math.max(0, digits - 1) : digits);
  /** The first row at or below the forward carries the heavy rule above it. */
  const ruleAt = $derived(rows.findIndex((r) => focus && r.strike < focus.forward));
</script>

<ViewFrame title="Chain">
  {#snippet controls()}
    {#if focus}
      <span>
        <strong>{dateText(focus.date, view.picture.asOf)}</strong> · {daysText(focus.days)} days · forward
        <Figure
          id={figureId('forward', focus.date)}
          text={numberText(focus.forward, tickDecimals(underlying.underlyingTick))}
        /> · factor
        <Figure id={figureId('discountFactor', focus.date)} text={numberText(focus.discountFactor, 4)} /> · at money
        <Figure id={figureId('atm', focus.date)} text="{volatilityText(focus.atm)} %" />{#if focus.standing}<span
            class="quiet"
            >&nbsp;{Math.round(focus.standing.percentile * 100)} pct · rank {Math.round(
              (focus.standing.rank ?? 0) * 100,
            )}</span
          >{/if}
      </span>
      <div class="segment" role="group" aria-label="Table">
        {#each CHAIN_TABLES as table (table)}
          <button
            type="button"
            aria-pressed={view.context.table === table}
            onclick={() => view.set({ table: table === 'quotes' ? undefined : table })}>{table}</button
          >
        {/each}
      </div>
      {#if view.context.table === 'quotes'}
        <div class="segment" role="group" aria-label="Sides">
          <button
            type="button"
            aria-pressed={view.context.sides === 'out'}
            onclick={() => view.set({ sides: undefined })}>out of the money</button
          >
          <button type="button" aria-pressed={view.context.sides === 'both'} onclick={() => view.set({ sides: 'both' })}
            >both sides</button
          >
        </div>
        <div class="segment" role="group" aria-label="Basis of Greeks">
          <button type="button" aria-pressed={!isContract} onclick={() => view.set({ basis: undefined })}>share</button>
          <button type="button" aria-pressed={isContract} onclick={() => view.set({ basis: 'contract' })}
            >contract ×{underlying.multiplier}</button
          >
        </div>
        <span class="quiet ml-auto">kept out {out}</span>
      {/if}
    {/if}
  {/snippet}
  {#snippet main()}
    {#if !focus}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is in focus. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      {#if view.context.table === 'spreads'}<ListedSpreads />{:else if view.context.table === 'prints'}<TradePrints
        />{:else}
        <TableMenu name={`${view.picture.underlying.symbol} chain ${view.focus?.date ?? ''}`} />
        <table class="figures table-fixed text-[12.5px]" data-testid="ladder">
          <colgroup>
            {#each COLUMN_WIDTHS as width, i (i)}<col style:width="{width}px" />{/each}
          </colgroup>
          <thead class="bg-paper sticky top-0 z-10">
            <tr>
              <th>strike</th>
              <th class="!text-left">side</th>
              <th>bid</th>
              <th>offer</th>
              <th>theory</th>
              <th>dear / cheap</th>
              <th class="w-[190px] !text-left"
                >vol, bid to offer and fit {volatilityText(Math.min(...good))} … {volatilityText(Math.max(...good))}</th
              >
              <th>fit %</th>
              <th>delta</th>
              <th title="per calendar day, per {isContract ? 'contract' : 'share'}">theta/day</th>
              <th title="per volatility point, per {isContract ? 'contract' : 'share'}">vega/pt</th>
              <th>in money</th>
              <th class="!text-left">open</th>
            </tr>
          </thead>
          <tbody>
            {#each rows as row, i (`${row.strike}${row.side}`)}
              {@const isOut = row.verdict !== null}
              {@const isBack = view.isRestored(focus.date, row.strike, row.side)}
              <tr
                class="border-hair border-b {i === ruleAt && i > 0 ? '!border-t-ink border-t-2' : ''} {isOut
                  ? 'text-soft'
                  : ''}"
              >
                <td class="font-semibold">{strikeText(row.strike)}</td>
                <td class="!text-left">{row.side}</td>
                <td><Figure id={id('bid', row)} text={numberText(row.bid, decimals)} /></td>
                <td><Figure id={id('ask', row)} text={numberText(row.ask, decimals)} /></td>
                <td class="font-semibold"><Figure id={id('theory', row)} text={numberText(row.theory, decimals)} /></td>
                <td>
                  {#if isOut || isBack}
                    <button
                      type="button"
                      class="underline decoration-dotted underline-offset-2 disabled:no-underline"
                      disabled={row.verdict === 'no-ask'}
                      title={isBack
                        ? 'put back by hand; click to take it out again'
                        : `${reasonWords(row.verdict ?? 'stale')}; click to put it back`}
                      onclick={() => view.toggleRestored(focus.date, row.strike, row.side)}
                      >{isBack ? 'put back' : row.verdict}</button
                    >
                  {:else if row.standing === 'dear'}▲ dear <Figure
                      id={id('gap', row)}
                      text={numberText(row.gap, decimals)}
                    />
                  {:else if row.standing === 'cheap'}▼ cheap <Figure
                      id={id('gap', row)}
                      text={numberText(Math.abs(row.gap ?? 0), decimals)}
                    />
                  {:else}<span class="quiet">{row.standing ?? '—'}</span>{/if}
                </td>
                <td class="!py-0 !text-left"
                  ><LadderWhisker {row} {scale} onpick={() => view.set({ workings: id('midVolatility', row) })} /></td
                >
                <td><Figure id={id('fitVolatility', row)} text={volatilityText(row.fitVolatility)} /></td>
                <td><Figure id={id('delta', row)} text={greek(row.delta, 2)} /></td>
                <td><Figure id={id('theta', row)} text={greek(row.theta, Math.max(2, decimals))} /></td>
                <td
                  ><Figure
                    id={id('vega', row)}
                    text={numberText(row.vega === null ? null : row.vega * factor, Math.max(2, decimals))}
                  /></td
                >
                <td><Figure id={id('probabilityItm', row)} text={probabilityText(row.probabilityItm)} /></td>
                <td class="!text-left" title="open {countText(row.openInterest)}, traded {countText(row.volume)}">
                  <svg width="52" height="8" aria-label="open {countText(row.openInterest)}"
                    ><rect width={(52 * (row.openInterest ?? 0)) / mostOpen} height="7" fill="var(--faint)" /></svg
                  >
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    {/if}
  {/snippet}
  {#snippet aside()}<Reading
      sentences={chainReading(view.picture, focus, view.context)}
      onaction={view.act}
    />{/snippet}
</ViewFrame>
