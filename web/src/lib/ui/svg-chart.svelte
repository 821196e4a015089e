<!-- A chart that is drawn as SVG where it stands: its frame, its room, and how it leaves as a picture. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { SVGAttributes } from 'svelte/elements';
  import { CHART_FONT } from './chart';
  import ChartFrame from './chart-frame.svelte';
  import type { ShownTable } from './shown-table';
  import { svgPicture } from './svg-picture';

  interface Props extends Omit<SVGAttributes<SVGSVGElement>, 'width' | 'height'> {
    label: string;
    /** Text alternative */
    description: string;
    table: () => ShownTable;
    /** Pixels that there are, told by the browser after its layout */
    width: number;
    height: number;
    drawing?: SVGSVGElement;
    /** Whether what is drawn is there */
    isReady?: boolean;
    /** Beside the buttons of the frame */
    beside?: Snippet;
    /** Over the drawing, not in its picture */
    over?: Snippet;
    children: Snippet;
  }
  let {
    label,
    description,
    table,
    width = $bindable(),
    height = $bindable(),
    drawing = $bindable(),
    isReady = true,
    beside,
    over,
    children,
    ...rest
  }: Props = $props();
</script>

<ChartFrame {label} {description} {table} picture={(format) => svgPicture(drawing, format, { width, height })} {beside}>
  <div class="absolute inset-0" bind:clientWidth={width} bind:clientHeight={height}>
    <svg
      bind:this={drawing}
      {width}
      {height}
      xmlns="http://www.w3.org/2000/svg"
      font-family={CHART_FONT}
      font-size="11.5"
      role="presentation"
      data-ready={String(isReady)}
      {...rest}
    >
      {@render children()}
    </svg>
    {@render over?.()}
  </div>
</ChartFrame>
