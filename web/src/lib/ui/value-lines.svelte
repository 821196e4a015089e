<!-- Lines across a chart at round values, each with its number before it. -->
<script lang="ts">
  import type { Palette } from './palette';

  interface Props {
    ticks: readonly number[];
    /** Place of a value, pixels from the top */
    y: (value: number) => number;
    /** From where to where, pixels from the left */
    from: number;
    to: number;
    text: (value: number) => string;
    palette: Palette;
    /** Whether the line of nothing stands out */
    isZeroHeavy?: boolean;
  }
  let { ticks, y, from, to, text, palette, isZeroHeavy = false }: Props = $props();
</script>

{#each ticks as tick (tick)}
  <line
    x1={from}
    x2={to}
    y1={y(tick)}
    y2={y(tick)}
    stroke={isZeroHeavy && tick === 0 ? palette.ink : palette.hair}
    stroke-width={isZeroHeavy && tick === 0 ? 1.2 : 1}
  />
  <text x={from - 6} y={y(tick) + 4} text-anchor="end" fill={palette.soft}>{text(tick)}</text>
{/each}
