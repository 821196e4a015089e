<!-- Smiles of the shown expiries. -->
<script lang="ts">
  import TableMenu from '$lib/components/table-menu.svelte';
  import Figure from './figure.svelte';
  import Plot from './plot.svelte';
  import Reading from './reading.svelte';
  import ViewFrame from './view-frame.svelte';
  import { PALETTES } from '$lib/chart/palette';
  import { skewFigure } from '$lib/chart/skew-figure';
  import { dateText, pointsText, volatilityText } from '$lib/figures/format';
  import { figureId } from '$lib/measures/workings';
  import { skewReading } from '$lib/reading/readings';
  import { SKEW_AXES, type AsOfContext } from '$lib/schema/as-of-context';
  import type { Side } from '$lib/schema/picture';
  import { pageState } from '$lib/state/page-state.svelte';
  import { viewState } from '$lib/state/view-state.svelte';

  const view = viewState();
  const page = pageState();
  const axisNames: Record<AsOfContext['axis'], string> = {
    strike: 'strike',
    distance: 'distance %',
    moneyness: 'ln K/F',
    delta: 'delta',
  };
  let height = $state(560);
  let width = $state(900);
  const figure = $derived(
    skewFigure(view.picture, {
      shown: view.shown,
      focus: view.focus,
      axis: view.context.axis,
      palette: PALETTES[page.theme],
      width,
      height,
    }),
  );

  /** A click on a quote that was kept out puts it back. */
  function pick(value: string): void {
    const [strikeText, side] = value.split('/') as [string, Side];
    const { focus } = view;
    const index = focus?.strikes.indexOf(Number(strikeText)) ?? -1;
    if (!focus || index < 0) return;
    if (focus[side].verdict[index] !== null || view.isRestored(focus.date, Number(strikeText), side)) {
      void view.toggleRestored(focus.date, Number(strikeText), side);
    } else void view.set({ workings: figureId('midVolatility', focus.date, Number(strikeText), side) });
  }
</script>

<ViewFrame title="Skew">
  {#snippet controls()}
    <div class="segment" role="group" aria-label="Horizontal axis">
      {#each SKEW_AXES as axis (axis)}
        <button
          type="button"
          aria-pressed={view.context.axis === axis}
          onclick={() => view.set({ axis: axis === 'strike' ? undefined : axis })}>{axisNames[axis]}</button
        >
      {/each}
    </div>
    <span class="quiet ml-auto text-[11.5px]">whiskers bid to offer · filled call, hollow put · gray ring kept out</span
    >
  {/snippet}
  {#snippet main()}
    {#if view.shown.length === 0}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is shown. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      <div class="h-full min-h-[420px]" bind:clientHeight={height} bind:clientWidth={width}>
        <Plot {figure} label="Implied volatility by {axisNames[view.context.axis]}" onpick={pick} />
      </div>
    {/if}
  {/snippet}
  {#snippet aside()}
    <Reading
      sentences={skewReading(view.picture, view.focus, view.context)}
      onaction={() => view.set({ restored: undefined }, { isStep: true })}
    />
    <section class="mt-5">
      <h2 class="small-caps mb-1">By expiry</h2>
      <TableMenu name={`${view.picture.underlying.symbol} skew by expiry`} />
      <table class="figures text-[12.5px]">
        <thead><tr><th>expiry</th><th>at money</th><th>RR 25</th><th>BF 25</th><th>pct</th></tr></thead>
        <tbody>
          {#each view.shown as e (e.date)}
            <tr class={e.date === view.focus?.date ? 'font-semibold' : ''}>
              <td>{dateText(e.date, view.picture.asOf)}</td>
              <td><Figure id={figureId('atm', e.date)} text={volatilityText(e.atm)} /></td>
              <td><Figure id={figureId('riskReversal25', e.date)} text={pointsText(e.riskReversal25)} /></td>
              <td><Figure id={figureId('butterfly25', e.date)} text={pointsText(e.butterfly25)} /></td>
              <td
                ><Figure
                  id={figureId('expiryPercentile', e.date)}
                  text={e.standing ? String(Math.round(e.standing.percentile * 100)) : '—'}
                /></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </section>
  {/snippet}
</ViewFrame>
