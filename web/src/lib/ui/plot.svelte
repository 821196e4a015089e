<!-- The one place that owns Plotly: loaded on demand, resized, themed by its chart, disposed. Reading and zoom are in our dress. -->
<script lang="ts">
  import type { PlotDatum, PlotlyHTMLElement } from 'plotly.js';
  import { untrack } from 'svelte';
  import ChartFrame from './chart-frame.svelte';
  import Readout, { type Read } from './readout.svelte';
  import type { Chart } from './chart';
  import type { Crosshair } from './crosshair.svelte';
  import { chartTable } from './chart-table';
  import { Room } from './room.svelte';
  import { strokesShape } from './strokes';

  interface Props {
    chart: Chart;
    label: string;
    onpick?: (value: string) => void;
    /** What the charts of a view share, where there are several */
    crosshair?: Crosshair;
  }
  let { chart, label, onpick, crosshair }: Props = $props();
  /** Narrower charts have no room for it, pixels. */
  const ROOM = 420;
  /** Of an axis that is drawn: where it begins, how long it is, and from a value to pixels along it. */
  interface DrawnAxis {
    _offset: number;
    _length: number;
    d2p: (x: unknown) => number;
  }
  let holder = $state<HTMLDivElement>();
  let isReady = $state(false);
  let isZoomed = $state(false);
  const room = new Room(untrack(() => label));
  const width = $derived(room.size?.width ?? 0);
  /** Counts how often the whole was asked for again: a zoom lasts through new data until then. */
  let wholes = $state(0);
  let read = $state.raw<Read>();
  const margin = $derived({ t: chart.layout.margin?.t ?? 0, b: chart.layout.margin?.b ?? 0 });
  const kept = $derived(`${label} ${chart.subject ?? ''} ${wholes}`);

  $effect(() => {
    void kept;
    isZoomed = false;
  });

  $effect(() => {
    const node = holder;
    const { size } = room;
    if (!node || !size) return;
    const { data, layout, strokes = [] } = chart;
    const shapes = [...(layout.shapes ?? []), ...strokes.filter((s) => s.x.length > 0).map(strokesShape)];
    const uirevision = kept;
    let isGone = false;
    void import('plotly.js-cartesian-dist-min').then(async ({ default: Plotly }) => {
      if (isGone) return;
      const element = await Plotly.react(
        node,
        data,
        // Plotly writes a zoom into what it is given.
        { ...structuredClone(layout), shapes, ...size, uirevision },
        { displayModeBar: false, doubleClick: 'reset', showTips: false },
      );
      listen(element);
      isReady = true;
    });
    return () => {
      isGone = true;
    };
  });

  function listen(element: PlotlyHTMLElement): void {
    for (const event of ['click', 'hover', 'unhover', 'relayout', 'doubleclick'])
      element.removeAllListeners(`plotly_${event}`);
    element.on('plotly_click', (event) => {
      const [point] = event.points.filter((p) => typeof p.customdata === 'string');
      if (point) onpick?.(point.customdata as unknown as string);
    });
    element.on('plotly_hover', (event) => {
      read = readOf(event.points);
      if (crosshair && chart.place) crosshair.at = chart.place.toShared(event.points[0].x as number | string);
    });
    element.on('plotly_unhover', () => {
      read = undefined;
      if (crosshair) crosshair.at = undefined;
    });
    element.on('plotly_relayout', (changes) => {
      if (Object.keys(changes).some((name) => /axis\d*\.range/.test(name))) isZoomed = true;
    });
    element.on('plotly_doubleclick', () => (isZoomed = false));
  }

  /** The numbers of all lines at a place, as they are written everywhere. */
  function readOf(points: PlotDatum[]): Read | undefined {
    const told = points.flatMap((p) => {
      const { text } = p as { text?: string };
      return text ? [{ p, text }] : [];
    });
    const [first] = told;
    if (!first) return undefined;
    // Of an axis Plotly's types know what is asked for, not what it is drawn by.
    const axis = first.p.xaxis as unknown as DrawnAxis;
    const rows = told.map(({ p, text }) => {
      const { line, marker, name } = p.data as {
        line?: { color?: string };
        marker?: { color?: string };
        name?: string;
      };
      return { name: name ?? '', text, color: line?.color ?? marker?.color ?? 'transparent' };
    });
    return { at: axis._offset + axis.d2p(first.p.x), title: chart.titleAt?.(first.p.x as number | string) ?? '', rows };
  }

  /** Where another chart of the view is read, pixels from the left edge; undefined where this one does not reach. */
  const elsewhere = $derived.by(() => {
    if (read || crosshair?.at === undefined || !chart.place || !holder) return undefined;
    const { xaxis } = (holder as unknown as { _fullLayout: { xaxis: DrawnAxis } })._fullLayout;
    const at = xaxis.d2p(chart.place.fromShared(crosshair.at));
    return at >= 0 && at <= xaxis._length ? xaxis._offset + at : undefined;
  });

  async function pictureOf(format: 'svg' | 'png'): Promise<string> {
    const { default: Plotly } = await import('plotly.js-cartesian-dist-min');
    if (!holder) throw new Error('nothing is drawn');
    const { clientWidth, clientHeight } = holder;
    // Twice the size of the screen, sharp in print.
    const scale = format === 'png' ? 2 : 1;
    return Plotly.toImage(holder, { format, width: clientWidth, height: clientHeight, scale });
  }

  $effect(() => {
    const node = holder;
    return () => {
      if (node) void import('plotly.js-cartesian-dist-min').then(({ default: Plotly }) => Plotly.purge(node));
    };
  });
</script>

<ChartFrame {label} description={chart.description} table={() => chartTable(chart)} picture={pictureOf}>
  {#snippet beside()}
    {#if isZoomed}
      <button type="button" class="text-implied min-h-6" onclick={() => (wholes += 1)}>zoomed · show all</button>
    {:else if width > ROOM}<span>drag to zoom</span>{/if}
  {/snippet}
  <div
    bind:this={holder}
    bind:contentRect={null, room.tell}
    class="plot h-full w-full contain-strict"
    data-ready={isReady}
  ></div>
  {#if elsewhere !== undefined}
    <div
      class="bg-ink pointer-events-none absolute w-px opacity-60"
      style:left="{elsewhere}px"
      style:top="{margin.t}px"
      style:bottom="{margin.b}px"
      data-testid="crosshair-elsewhere"
    ></div>
  {/if}
  {#if read}<Readout {read} {width} top={margin.t} bottom={margin.b} />{/if}
</ChartFrame>

<style>
  /* What a pointer reads is written by us. */
  .plot :global(.hoverlayer) {
    display: none;
  }
</style>
