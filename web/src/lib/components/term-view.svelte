<!-- At-the-money volatility by expiry. -->
<script lang="ts">
  import TableMenu from '$lib/components/table-menu.svelte';
  import Figure from './figure.svelte';
  import Plot from './plot.svelte';
  import Reading from './reading.svelte';
  import ViewFrame from './view-frame.svelte';
  import { PALETTES } from '$lib/chart/palette';
  import { termFigure } from '$lib/chart/term-figure';
  import { dateText, daysText, numberText, pointsText, tickDecimals, volatilityText } from '$lib/figures/format';
  import { forwardVolatilityInto } from '$lib/figures/term-rows';
  import { figureId } from '$lib/measures/workings';
  import { termReading } from '$lib/reading/readings';
  import { pageState } from '$lib/state/page-state.svelte';
  import { viewState } from '$lib/state/view-state.svelte';

  const view = viewState();
  const page = pageState();
  const figure = $derived(
    termFigure(view.picture, { shown: view.shown, focus: view.focus, palette: PALETTES[page.theme] }),
  );
  const decimals = $derived(tickDecimals(view.picture.underlying.underlyingTick));
</script>

<ViewFrame title="Term">
  {#snippet controls()}
    {#if view.picture.term}
      <span
        >{view.picture.term.name}, 30 to 90 days <Figure
          id="termSlope"
          text="{pointsText(view.picture.term.slope)} pts"
          isInline
        /></span
      >
    {/if}
    <span class="quiet ml-auto text-[11.5px]">filled monthly, hollow others · steps: forward volatility</span>
  {/snippet}
  {#snippet main()}
    {#if view.shown.length === 0}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is shown. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      <div class="h-[56%] min-h-[280px]">
        <Plot {figure} label="At-the-money volatility by expiry" onpick={(date) => view.set({ expiry: date })} />
      </div>
      <TableMenu name={`${view.picture.underlying.symbol} term`} />
      <table class="figures mt-2 text-[12.5px]">
        <thead>
          <tr
            ><th>expiry</th><th>days</th><th>forward</th><th>factor</th><th>at money %</th><th>pct</th><th>rank</th><th
              >forward vol %</th
            ><th>ex event %</th><th>RR 25</th><th>BF 25</th><th>inside</th></tr
          >
        </thead>
        <tbody>
          {#each view.shown as e (e.date)}
            <tr class="border-hair border-b {e.date === view.focus?.date ? 'font-semibold' : ''}">
              <td>{dateText(e.date, view.picture.asOf)}</td>
              <td>{daysText(e.days)}</td>
              <td><Figure id={figureId('forward', e.date)} text={numberText(e.forward, decimals)} /></td>
              <td><Figure id={figureId('discountFactor', e.date)} text={numberText(e.discountFactor, 4)} /></td>
              <td><Figure id={figureId('atm', e.date)} text={volatilityText(e.atm)} /></td>
              <td
                ><Figure
                  id={figureId('expiryPercentile', e.date)}
                  text={e.standing ? String(Math.round(e.standing.percentile * 100)) : '—'}
                /></td
              >
              <td>{e.standing?.rank == null ? '—' : Math.round(e.standing.rank * 100)}</td>
              <td
                ><Figure
                  id={figureId('forwardVolatility', e.date)}
                  text={volatilityText(forwardVolatilityInto(view.picture, e))}
                /></td
              >
              <td><Figure id={figureId('exEvent', e.date)} text={volatilityText(e.exEvent)} /></td>
              <td><Figure id={figureId('riskReversal25', e.date)} text={pointsText(e.riskReversal25)} /></td>
              <td><Figure id={figureId('butterfly25', e.date)} text={pointsText(e.butterfly25)} /></td>
              <td
                ><Figure
                  id={figureId('insideMarket', e.date)}
                  text={e.smile ? `${Math.round(e.smile.insideMarket * 100)} %` : '—'}
                /></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  {/snippet}
  {#snippet aside()}<Reading sentences={termReading(view.picture, view.context)} onaction={view.act} />{/snippet}
</ViewFrame>
