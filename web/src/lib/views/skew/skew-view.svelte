<!-- Smiles of the shown expiries. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import ExcludedQuotes from '../../shell/excluded-quotes.svelte';
  import ValueTable from '$lib/shell/value-table.svelte';
  import Plot from '../../ui/plot.svelte';
  import BorrowDialog from './borrow-dialog.svelte';
  import CompareBar from '../../shell/compare-bar.svelte';
  import SameDistance from './same-distance.svelte';
  import SkewOthers from './skew-others.svelte';
  import SkewReplay from './skew-replay.svelte';
  import SkewSurface from './skew-surface.svelte';
  import SkewYear from './skew-year.svelte';
  import Reading from '../../shell/reading.svelte';
  import ViewFrame from '../../shell/view-frame.svelte';
  import { PALETTES } from '$lib/ui/palette';
  import { shownAxis } from './skew-axis';
  import { skewChart } from './skew-chart';
  import { distantOptions, ON_SMILE, sameDistance, toldDistance, withValues } from '$lib/theory';
  import { expiryColumns } from '$lib/shell/expiry-columns';
  import { expiryFile, figureId } from '$lib/measures';
  import { skewReading } from './skew-reading';
  import { SKEW_AXES, SKEW_PANELS, type SkewAxis, type SkewPanel, skewParameters } from './parameters';
  import { skewHistoryRoute } from '$lib/api/contract/views';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { readQuotedSurface } from '$lib/api/client/read-resources';
  import { Comparing } from '$lib/shell/comparing.svelte';
  import type { Side } from '$lib/api/quantity';
  import { Room } from '$lib/ui/room.svelte';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { TheoryValues } from '$lib/theory/thread';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  const USUAL = ['atm', 'riskReversal25', 'butterfly25', 'expiryPercentile'];
  const view = quotedViewState();
  const page = pageState();
  const own = $derived(view.address.own(skewParameters));
  const axis = $derived(shownAxis(own.axis, view.shown));
  const axisNames: Record<SkewAxis, string> = {
    strike: 'strike',
    distance: 'distance %',
    moneyness: 'ln K/F',
    deviations: 'deviations',
    delta: 'delta',
  };
  const panelNames: Record<SkewPanel, string> = {
    smiles: 'smiles',
    distance: 'same distance',
    others: 'compare with',
    year: 'past year',
    replay: 'replay',
    surface: 'surface',
  };
  const history = new Fetched(skewHistoryRoute, () =>
    own.skew === 'year' || own.skew === 'replay'
      ? { parameters: { symbol: view.picture.underlying.symbol }, query: { asOf: view.picture.asOf } }
      : undefined,
  );
  // Only where they are drawn.
  const comparing = new Comparing(
    () => (own.skew === 'others' ? own.compare : []),
    () => view.live.minute,
    readQuotedSurface,
  );
  const isDistance = $derived(own.skew === 'distance');
  const distant = $derived(view.focus && isDistance ? sameDistance(view.focus, own.by) : []);
  /** The row that the Reading tells */
  const told = $derived(view.focus ? toldDistance(view.focus) : []);
  const theory = new TheoryValues(() => {
    const { focus: expiry } = view;
    if (!expiry) return undefined;
    const parts = [told, distant].map((rows) => ({ expiry, options: distantOptions(rows) }));
    return { parts, inForce: ON_SMILE, stamp: view.theoryStamp };
  });
  const distances = $derived(withValues(distant, theory.values[1] ?? []));
  let isBorrowing = $state(false);
  const room = new Room('smiles');
  const chart = $derived(
    skewChart(view.picture, {
      shown: view.shown,
      focus: view.focus,
      axis,
      palette: PALETTES[page.theme],
      width: room.size?.width ?? 900,
      height: room.size?.height ?? 560,
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
    } else void view.address.set({ workings: figureId('midVolatility', focus.date, Number(strikeText), side) });
  }
  const columns = $derived(expiryColumns(view, USUAL));
</script>

<BorrowDialog bind:isOpen={isBorrowing} />
<ViewFrame title="Skew">
  {#snippet controls()}
    <Choice
      label="What Skew shows"
      choices={SKEW_PANELS}
      chosen={own.skew}
      words={(panel) => panelNames[panel]}
      onchoose={(panel) => view.address.set({ skew: panel === 'smiles' ? undefined : panel })}
    />
    <button type="button" class="text-implied" onclick={() => (isBorrowing = true)}>borrow…</button>
    {#if own.skew === 'smiles'}
      <Choice
        label="Horizontal axis"
        choices={SKEW_AXES}
        chosen={axis}
        words={(choice) => axisNames[choice]}
        onchoose={(choice) => view.address.set({ axis: choice })}
      />
      <span class="ml-auto flex items-baseline gap-2 text-[11.5px]">
        <span class="quiet">filled call, hollow put · ring excluded</span>
        {#if view.focus}<ExcludedQuotes expiries={[view.focus]} />{/if}
      </span>
    {:else if own.skew === 'others'}
      <CompareBar {comparing} />
    {:else if own.skew === 'year' || own.skew === 'replay'}
      <span class="quiet ml-auto text-[11.5px]"
        >{own.skew === 'year' ? 'at 30 days, session by session' : 'expiry nearest to 30 days · dotted: now'}</span
      >
    {/if}
  {/snippet}
  {#snippet main()}
    {#if own.skew === 'distance'}
      <SameDistance by={own.by} rows={distances} isPending={theory.isPending} trouble={theory.trouble} />
    {:else if own.skew === 'others'}
      <SkewOthers {comparing} />
    {:else if own.skew === 'year'}
      <SkewYear {history} />
    {:else if own.skew === 'replay'}
      <SkewReplay {history} />
    {:else if own.skew === 'surface'}
      <SkewSurface />
    {:else if view.shown.length === 0}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is shown. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      <div class="h-full min-h-[420px]" bind:contentRect={null, room.tell}>
        {#if room.size}<Plot {chart} label="Implied volatility by {axisNames[axis]}" onpick={pick} />{/if}
      </div>
    {/if}
  {/snippet}
  {#snippet aside()}
    <Reading
      sentences={skewReading(view.picture, view.focus, view.context, {
        borrow: view.borrowing.answer?.state,
        told: theory.isPending ? undefined : withValues(told, theory.values[0] ?? [])[0],
      })}
      onaction={view.act}
      excluded={view.shown}
      picture={view.picture}
    />
    <section class="mt-5">
      <h2 class="small-caps mb-1">By expiry</h2>
      <ValueTable
        name="{view.picture.underlying.symbol} skew by expiry"
        storage="skew-columns"
        {columns}
        rows={view.shown}
        rowKey={(e) => e.date}
        file={() => expiryFile({ picture: view.picture, context: view.context }, view.shown)}
        rowTone={(e) => (e.date === view.focus?.date ? 'font-semibold' : '')}
        testid="skew-by-expiry"
        firstRows={2}
        class="text-[12.5px] [--table-ground:var(--sheet)]"
      />
    </section>
  {/snippet}
</ViewFrame>
