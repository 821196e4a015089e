<!-- The one place that owns Plotly: loaded on demand, resized, themed by its chart, disposed; with a text alternative. -->
<script lang="ts">
  import type { Chart } from './chart';
  import { chartTable } from './chart-table';
  import { csvText } from './csv-text';
  import { fileName, saveFile } from './save-file';

  interface Props {
    chart: Chart;
    label: string;
    onpick?: (value: string) => void;
  }
  let { chart, label, onpick }: Props = $props();
  let holder = $state<HTMLDivElement>();
  let isReady = $state(false);

  $effect(() => {
    const node = holder;
    if (!node) return;
    const { data, layout } = chart;
    let isGone = false;
    void import('plotly.js-cartesian-dist-min').then(async ({ default: Plotly }) => {
      if (isGone) return;
      const element = await Plotly.react(node, data, layout, {
        displayModeBar: false,
        responsive: true,
        doubleClick: 'reset',
      });
      element.removeAllListeners('plotly_click');
      element.on('plotly_click', (event) => {
        const [point] = event.points.filter((p) => typeof p.customdata === 'string');
        if (point) onpick?.(point.customdata as unknown as string);
      });
      isReady = true;
    });
    return () => {
      isGone = true;
    };
  });

  async function takePicture(format: 'svg' | 'png'): Promise<void> {
    if (!holder) return;
    const { default: Plotly } = await import('plotly.js-cartesian-dist-min');
    const { clientWidth: width, clientHeight: height } = holder;
    // Twice the size of the screen, sharp in print.
    const scale = format === 'png' ? 2 : 1;
    saveFile(`${fileName(label)}.${format}`, await Plotly.toImage(holder, { format, width, height, scale }));
  }

  function takeData(): void {
    saveFile(`${fileName(label)}.csv`, new Blob([csvText(chartTable(chart))], { type: 'text/csv;charset=utf-8' }));
  }

  $effect(() => {
    const node = holder;
    return () => {
      if (node) void import('plotly.js-cartesian-dist-min').then(({ default: Plotly }) => Plotly.purge(node));
    };
  });
</script>

<figure class="relative h-full w-full" aria-label={label}>
  <div bind:this={holder} class="h-full w-full contain-strict" data-ready={isReady}></div>
  <div class="text-soft absolute top-0 right-0 flex gap-2 text-[11.5px]" role="group" aria-label="Take the chart along">
    <button type="button" class="min-h-6 min-w-6" aria-label="{label} as SVG" onclick={() => takePicture('svg')}
      >svg</button
    >
    <button type="button" class="min-h-6 min-w-6" aria-label="{label} as PNG" onclick={() => takePicture('png')}
      >png</button
    >
    <button type="button" class="min-h-6 min-w-6" aria-label="Data of {label} as CSV" onclick={takeData}>csv</button>
  </div>
  <figcaption class="sr-only">{chart.description}</figcaption>
</figure>
