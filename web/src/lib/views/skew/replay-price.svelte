<!-- The price through the year: where the replay stands, what took place; a pointer reads a session, a click goes there. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import { dateText, numberText } from '$lib/ui/format';
  import { labelRows } from '$lib/ui/label-rows';
  import { tickText } from '$lib/ui/tick-text';
  import type { PastEvent } from '$lib/api/skew-history';
  import type { ReplayFrame } from './replay-frames';

  interface Props {
    frames: readonly ReplayFrame[];
    events: readonly PastEvent[];
    index: number;
    asOf: string;
    decimals: number;
    currency: string;
    /** Goes to a session */
    onpick: (index: number) => void;
  }
  let { frames, events, index, asOf, decimals, currency, onpick }: Props = $props();
  const HEIGHT = 168;
  const MARGIN = { left: 60, right: 16, top: 34, bottom: 20 };
  let width = $state(800);
  let pointed = $state<number>();
  const time = $derived(
    scaleLinear()
      .domain([0, Math.max(1, frames.length - 1)])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  const bottom = HEIGHT - MARGIN.bottom;
  const prices = $derived(frames.map((f) => f.price));
  const price = $derived(
    scaleLinear()
      .domain([Math.min(...prices), Math.max(...prices)])
      .nice(4)
      .range([bottom, MARGIN.top]),
  );
  const path = $derived(
    line<number>()
      .x((_, i) => time(i))
      .y((p) => price(p))(prices) ?? '',
  );
  const months = $derived(
    frames.flatMap((f, i) => (i > 0 && f.date.slice(0, 7) !== frames[i - 1].date.slice(0, 7) ? [{ i, f }] : [])),
  );
  /** Each at the first session whose price knew of it. */
  const flags = $derived.by(() => {
    const placed = events.flatMap((event) => {
      const at = frames.findIndex((f) => f.date >= event.instant.slice(0, 10));
      return at < 0 ? [] : [{ event, at }];
    });
    const rows = labelRows(
      placed.map(({ event, at }) => ({ at: time(at), text: event.label })),
      1,
    );
    return placed.map((flag, i) => ({ ...flag, isNamed: rows[i] !== undefined }));
  });
  const nearest = (pixels: number) => Math.round(Math.max(0, Math.min(frames.length - 1, time.invert(pixels))));
  const read = $derived(pointed === undefined ? undefined : frames[nearest(pointed)]);
  const priceText = $derived(tickText(price.ticks(4)));
</script>

<div bind:clientWidth={width} class="shrink-0">
  <!-- The slider above does the same by keys. -->
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
  <svg
    {width}
    height={HEIGHT}
    role="img"
    aria-label="Price through the year, {numberText(Math.min(...prices), decimals)} to {numberText(
      Math.max(...prices),
      decimals,
    )} {currency}; {flags.length} {flags.length === 1 ? 'event' : 'events'}"
    class="cursor-crosshair"
    onpointermove={(event) => (pointed = event.offsetX)}
    onpointerleave={() => (pointed = undefined)}
    onclick={(event) => onpick(nearest(event.offsetX))}
  >
    <text x="0" y="12" class="chart-word fill-[var(--soft)]">price, {currency}</text>
    {#each price.ticks(4) as tick (tick)}
      <line x1={MARGIN.left} x2={width - MARGIN.right} y1={price(tick)} y2={price(tick)} stroke="var(--hair)" />
      <text x={MARGIN.left - 6} y={price(tick) + 4} text-anchor="end" class="chart-word fill-[var(--soft)]"
        >{priceText(tick)}</text
      >
    {/each}
    {#each flags as { event, at, isNamed } (event.instant + event.label)}
      <line x1={time(at)} x2={time(at)} y1="20" y2={bottom} stroke="var(--event)" stroke-dasharray="2 3" />
      {#if isNamed}<text x={time(at) + 3} y="27" class="chart-word fill-[var(--event)]">{event.label}</text>{/if}
    {/each}
    {#each months as { i, f } (f.date)}
      <line x1={time(i)} x2={time(i)} y1={bottom} y2={bottom + 4} stroke="var(--faint)" />
      <text x={time(i)} y={HEIGHT - 3} text-anchor="middle" class="chart-word fill-[var(--soft)]"
        >{dateText(f.date, asOf).split(' ')[1]}</text
      >
    {/each}
    <path d={path} fill="none" stroke="var(--ink)" stroke-width="1.1" />
    <line x1={time(index)} x2={time(index)} y1={MARGIN.top - 4} y2={bottom} stroke="var(--implied)" />
    <circle cx={time(index)} cy={price(frames[index].price)} r="3.5" fill="var(--implied)" />
    {#if read}
      <line x1={pointed} x2={pointed} y1={MARGIN.top} y2={bottom} stroke="var(--ink)" stroke-width="0.8" />
      <text
        x={width - MARGIN.right}
        y="12"
        text-anchor="end"
        class="chart-word fill-[var(--ink)]"
        data-testid="replay-price-read">{dateText(read.date, asOf)}: {numberText(read.price, decimals)} {currency}</text
      >
    {/if}
  </svg>
</div>
