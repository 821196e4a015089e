<!-- At-the-money volatility by expiry; of a future also the prices of its delivery months. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import CarryTable from './carry-table.svelte';
  import FixedDays from './fixed-days.svelte';
  import CompareBar from '../../shell/compare-bar.svelte';
  import Figure from '../../shell/figure.svelte';
  import Plot from '../../ui/plot.svelte';
  import Reading from '../../shell/reading.svelte';
  import ViewFrame from '../../shell/view-frame.svelte';
  import { Crosshair } from '$lib/ui/crosshair.svelte';
  import { PALETTES } from '$lib/ui/palette';
  import { curveLabel, futuresCurveChart } from './futures-curve-chart';
  import { termChart } from './term-chart';
  import { expiryColumns } from '$lib/shell/expiry-columns';
  import { besideName } from '$lib/shell/beside-name';
  import { pointsText, signedText } from '$lib/ui/format';
  import { expiryFile } from '$lib/measures';
  import { termReading } from './term-reading';
  import { readSurface } from '$lib/api/client/read-resources';
  import { Comparing } from '$lib/shell/comparing.svelte';
  import { TERM_LINES, type TermLine, termParameters } from './parameters';
  import { Room } from '$lib/ui/room.svelte';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { viewState } from '$lib/shell/view-state.svelte';

  const USUAL = [
    ...['days', 'forward', 'forwardInterval', 'discountFactor', 'atm', 'expiryPercentile', 'expiryRank'],
    ...['forwardVolatility', 'exEvent', 'index', 'realized', 'riskReversal25', 'butterfly25', 'insideMarket'],
  ];
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
  const isCompared = $derived(own.compare.length > 0);
  /** Against nothing else a level needs no base. */
  const scale = $derived(isCompared ? own.scale : 'level');
  const crosshair = new Crosshair();
  const room = new Room('term structure');
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
      scale,
      palette: PALETTES[page.theme],
      width: room.size?.width ?? 880,
      height: room.size?.height ?? 360,
    }),
  );
  const columns = $derived(expiryColumns(view, USUAL));
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
        <button
          type="button"
          class="disabled:opacity-40"
          disabled={scale === 'month'}
          aria-pressed={own.lines.includes(line)}
          onclick={() => toggleLine(line)}>{lineNames[line]}</button
        >
      {/each}
    </div>
    <CompareBar {comparing} />
    {#if isCompared}
      <div class="segment" role="group" aria-label="What levels are shown as">
        <button
          type="button"
          aria-pressed={own.scale === 'month'}
          onclick={() => view.address.set({ scale: own.scale === 'month' ? undefined : 'month' })}
          >each less its own 30 days</button
        >
      </div>
    {/if}
  {/snippet}
  {#snippet main()}
    {#if view.shown.length === 0}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is shown. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      <div class="flex min-h-[280px] {curve ? 'h-[62%] max-[1000px]:h-[620px] max-[1000px]:flex-col' : 'h-[56%]'}">
        <div class="min-h-0 min-w-0 grow" bind:contentRect={null, room.tell}>
          {#if room.size}<Plot
              {chart}
              label="At-the-money volatility by expiry"
              {crosshair}
              onpick={(date) => view.address.set({ expiry: date })}
            />{/if}
        </div>
        {#if curve}
          <div class="flex w-[36%] flex-col max-[1000px]:h-[280px] max-[1000px]:w-full max-[1000px]:shrink-0">
            <p class="quiet text-[11.5px]" data-testid="futures-curve">
              delivery months: prices {curveLabel(curve.prices)}, first to last {signedText(
                ((curve.prices.at(-1) ?? NaN) / curve.prices[0] - 1) * 100,
                1,
              )} %
            </p>
            <div class="min-h-0 grow">
              <Plot chart={curveChart} {crosshair} label="Prices of the delivery months" />
            </div>
          </div>
        {/if}
      </div>
      <div class="mt-2">
        <ValueTable
          name="{view.picture.underlying.symbol} term"
          storage="term-columns"
          {columns}
          rows={view.shown}
          rowKey={(e) => e.date}
          file={() => expiryFile({ picture: view.picture, context: view.context }, view.shown)}
          rowTone={(e) => (e.date === view.focus?.date ? 'font-semibold' : '')}
          testid="term"
          firstRows={8}
          class="text-[12.5px]"
        />
      </div>
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
