<!-- At-the-money volatility by expiry; of a future also the prices of its delivery months. -->
<script lang="ts">
  import TableMenu from '$lib/shell/table-menu.svelte';
  import CarryTable from './carry-table.svelte';
  import FixedDays from './fixed-days.svelte';
  import CompareBar from '../../shell/compare-bar.svelte';
  import Figure from '../../shell/figure.svelte';
  import Plot from '../../ui/plot.svelte';
  import Reading from '../../shell/reading.svelte';
  import ViewFrame from '../../shell/view-frame.svelte';
  import { PALETTES } from '$lib/ui/palette';
  import { curveLabel, futuresCurveChart } from './futures-curve-chart';
  import { termChart } from './term-chart';
  import { besideName } from '$lib/shell/beside-name';
  import { dateText, daysText, numberText, pointsText, signedText, tickDecimals, volatilityText } from '$lib/ui/format';
  import { forwardVolatilityInto } from '$lib/market';
  import { expiryFile, figureId } from '$lib/measures';
  import { termReading } from './term-reading';
  import { readSurface } from '$lib/api/client/read-resources';
  import { Comparing } from '$lib/shell/comparing.svelte';
  import { TERM_LINES, type TermLine, termParameters } from './parameters';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { viewState } from '$lib/shell/view-state.svelte';

  /** Deviations on either side of a 90 % interval. */
  const NINETY = 1.645;
  const view = viewState();
  const page = pageState();
  const own = $derived(view.address.own(termParameters));
  const comparing = new Comparing(
    () => own.compare,
    () => view.live.minute,
    readSurface,
  );
  const lineNames: Record<TermLine, string> = {
    forward: 'forward',
    wings: '25 delta',
    index: 'model-free',
    realized: 'realized',
  };
  const beside = $derived(comparing.pictures.map((picture) => ({ picture, name: besideName(picture, view.picture) })));
  let width = $state(880);
  const curve = $derived(view.picture.futuresCurve);
  const curveChart = $derived(futuresCurveChart(view.picture, { beside, palette: PALETTES[page.theme] }));

  function toggleLine(line: TermLine): void {
    const { lines } = own;
    const next = TERM_LINES.filter((l) => (l === line ? !lines.includes(l) : lines.includes(l)));
    const isUsual = next.join() === 'forward,realized';
    void view.address.set({ lines: isUsual ? undefined : next.join(',') });
  }

  const chart = $derived(
    termChart(view.picture, {
      shown: view.shown,
      focus: view.focus,
      lines: own.lines,
      beside,
      palette: PALETTES[page.theme],
      width,
    }),
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
    <div class="segment" role="group" aria-label="Lines beside the level">
      {#each TERM_LINES as line (line)}
        <button type="button" aria-pressed={own.lines.includes(line)} onclick={() => toggleLine(line)}
          >{lineNames[line]}</button
        >
      {/each}
    </div>
    <CompareBar {comparing} />
  {/snippet}
  {#snippet main()}
    {#if view.shown.length === 0}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is shown. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      <div class="flex {curve ? 'h-[62%]' : 'h-[56%]'} min-h-[280px]">
        <div class="min-w-0 grow" bind:clientWidth={width}>
          <Plot
            {chart}
            label="At-the-money volatility by expiry"
            onpick={(date) => view.address.set({ expiry: date })}
          />
        </div>
        {#if curve}
          <div class="flex w-[36%] flex-col">
            <p class="quiet text-[11.5px]" data-testid="futures-curve">
              delivery months: prices {curveLabel(curve.prices)}, first to last {signedText(
                ((curve.prices.at(-1) ?? NaN) / curve.prices[0] - 1) * 100,
                1,
              )} %
            </p>
            <div class="min-h-0 grow"><Plot chart={curveChart} label="Prices of the delivery months" /></div>
          </div>
        {/if}
      </div>
      <TableMenu
        name={`${view.picture.underlying.symbol} term`}
        values={() => expiryFile({ picture: view.picture, context: view.context }, view.shown)}
      />
      <table class="figures mt-2 text-[12.5px]">
        <thead>
          <tr
            ><th>expiry</th><th>days</th><th>forward</th><th title="half of its 90 % interval">± 90 %</th><th>factor</th
            ><th>at money %</th><th>pct</th><th>rank</th><th>forward vol %</th><th>ex event %</th><th>model-free %</th
            ><th>realized %</th><th>RR 25</th><th>BF 25</th><th>inside</th></tr
          >
        </thead>
        <tbody>
          {#each view.shown as e (e.date)}
            <tr class="border-hair border-b {e.date === view.focus?.date ? 'font-semibold' : ''}">
              <td>{dateText(e.date, view.picture.asOf)}</td>
              <td>{daysText(e.days)}</td>
              <td><Figure id={figureId('forward', e.date)} text={numberText(e.forward, decimals)} /></td>
              <td class="quiet">{e.forwardError === null ? '—' : numberText(NINETY * e.forwardError, decimals + 1)}</td>
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
              <td><Figure id={figureId('index', e.date)} text={volatilityText(e.index)} /></td>
              <td class="text-realized"
                ><Figure id={figureId('realized', e.date)} text={volatilityText(e.realized?.volatility)} /></td
              >
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
      <CarryTable />
      <FixedDays days={own.at} />
    {/if}
  {/snippet}
  {#snippet aside()}<Reading
      sentences={termReading(view.picture, view.context)}
      onaction={view.act}
      picture={view.picture}
    />{/snippet}
</ViewFrame>
