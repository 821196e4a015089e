<!-- The one place that owns Plotly: loaded on demand, resized, themed by its figure, disposed; with a text alternative. -->
<script lang="ts">
  import type { ChartFigure } from '$lib/chart/figure';

  interface Props {
    figure: ChartFigure;
    label: string;
    onpick?: (value: string) => void;
  }
  let { figure, label, onpick }: Props = $props();
  let holder = $state<HTMLDivElement>();
  let isReady = $state(false);

  $effect(() => {
    const node = holder;
    if (!node) return;
    const { data, layout } = figure;
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

  $effect(() => {
    const node = holder;
    return () => {
      if (node) void import('plotly.js-cartesian-dist-min').then(({ default: Plotly }) => Plotly.purge(node));
    };
  });
</script>

<figure class="relative h-full w-full" aria-label={label}>
  <div bind:this={holder} class="h-full w-full" data-ready={isReady}></div>
  <figcaption class="sr-only">{figure.description}</figcaption>
</figure>
