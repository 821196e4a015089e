<!-- Where a value stands among its past: one tick per past value, a pin for the present one. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';

  interface Props {
    past: number[];
    now: number;
  }
  let { past, now }: Props = $props();
  const WIDTH = 76;
  const scale = $derived(
    scaleLinear()
      .domain([Math.min(now, ...past), Math.max(now, ...past)])
      .range([3, WIDTH - 3]),
  );
  // One path: hundreds of lines cost a step to another session a noticeable part of its time.
  const ticks = $derived(past.map((value) => `M${scale(value).toFixed(2)},10v5`).join(''));
</script>

<svg width={WIDTH} height="18" aria-hidden="true">
  <line x1="0" x2={WIDTH} y1="15" y2="15" stroke="var(--line)" />
  <path d={ticks} stroke="var(--faint)" />
  <path d="M{scale(now) - 3},2 h6 l-3,8 z" fill="var(--implied)" />
</svg>
