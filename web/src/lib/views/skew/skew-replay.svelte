<!-- The smile playing through a year beside the price: play, speed, scrub, stop at any session. -->
<script lang="ts">
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import { dateText, numberText, tickDecimals, volatilityText } from '$lib/ui/format';
  import { replayFrames } from './replay-frames';
  import type { SkewHistory } from '$lib/api/skew-history';
  import type { FollowedAnswer } from '$lib/api/client/fetched.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    history: FollowedAnswer<SkewHistory>;
  }
  let { history }: Props = $props();

  const SPEEDS = [10, 25, 60];
  const MARGIN = { left: 44, right: 16, top: 22, bottom: 22 };
  /** Height of the strip with the price, pixels. */
  const STRIP = 96;
  const view = quotedViewState();
  const replay = $derived(replayFrames(history.answer?.sessions ?? []));
  const { frames } = $derived(replay);
  const asOf = $derived(history.answer?.asOf ?? '');
  let width = $state(800);
  let height = $state(520);
  /** Sessions a second */
  let speed = $state(25);
  let isPlaying = $state(false);
  /** Undefined: the last session */
  let chosen = $state<number>();
  const index = $derived(Math.min(Math.floor(chosen ?? frames.length - 1), frames.length - 1));
  const frame = $derived(frames[index]);
  const decimals = $derived(tickDecimals(view.picture.underlying.underlyingTick));

  const bottom = $derived(height - STRIP - MARGIN.bottom);
  const x = $derived(
    scaleLinear()
      .domain([replay.logMoneyness[0] ?? -1, replay.logMoneyness[replay.logMoneyness.length - 1] ?? 1])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  /** Round distances along the axis. */
  const percents = $derived(
    scaleLinear()
      .domain(x.domain().map((k) => Math.expm1(k) * 100))
      .ticks(8),
  );
  const y = $derived(scaleLinear().domain(replay.range).nice().range([bottom, MARGIN.top]));
  const time = $derived(
    scaleLinear()
      .domain([0, Math.max(1, frames.length - 1)])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  const prices = $derived(frames.map((f) => f.price));
  const price = $derived(
    scaleLinear()
      .domain([Math.min(...prices), Math.max(...prices)])
      .range([height - 12, height - STRIP + 18]),
  );
  const curveOf = (volatility: Float64Array) =>
    line<number>()
      .defined((v) => !Number.isNaN(v))
      .x((_, i) => x(replay.logMoneyness[i]))
      .y((v) => y(v))(Array.from(volatility)) ?? '';
  const pricePath = $derived(
    line<number>()
      .x((_, i) => time(i))
      .y((p) => price(p))(prices) ?? '',
  );
  const months = $derived(
    frames.flatMap((f, i) => (i > 0 && f.date.slice(0, 7) !== frames[i - 1].date.slice(0, 7) ? [{ i, f }] : [])),
  );

  function play(): void {
    if (isPlaying) {
      isPlaying = false;
      return;
    }
    if (index >= frames.length - 1) chosen = 0;
    isPlaying = true;
  }

  $effect(() => {
    if (!isPlaying) return;
    let before = performance.now();
    let request = requestAnimationFrame(function draw(now) {
      const next = (chosen ?? 0) + ((now - before) / 1000) * speed;
      before = now;
      chosen = Math.min(next, frames.length - 1);
      if (chosen >= frames.length - 1) isPlaying = false;
      else request = requestAnimationFrame(draw);
    });
    return () => cancelAnimationFrame(request);
  });
</script>

{#if history.error !== undefined}
  <AnswerTrouble what="The year" of={history} />
{:else if frames.length < 2}
  <p class="quiet p-8 font-serif text-[15px]">
    {history.isLoading ? 'Fetching the year…' : 'No smiles of past sessions are stored for this underlying yet.'}
  </p>
{:else}
  <div class="flex h-full min-h-[420px] flex-col">
    <div class="flex items-center gap-3">
      <button type="button" class="btn btn-xs min-w-16" onclick={play}>{isPlaying ? 'stop' : 'play'}</button>
      <div class="segment" role="group" aria-label="Sessions a second">
        {#each SPEEDS as value (value)}
          <button type="button" aria-pressed={speed === value} onclick={() => (speed = value)}>{value} / s</button>
        {/each}
      </div>
      <input
        type="range"
        class="range range-xs grow"
        aria-label="Session"
        aria-valuetext={frame?.date}
        min="0"
        max={frames.length - 1}
        value={index}
        oninput={(event) => {
          isPlaying = false;
          chosen = Number(event.currentTarget.value);
        }}
      />
      <output class="min-w-52 text-right text-[12.5px]" data-testid="replay-session">
        {#if frame}
          <b>{dateText(frame.date, asOf)}</b> · {numberText(frame.price, decimals)} · at money {volatilityText(
            frame.atm,
          )} %
        {/if}
      </output>
    </div>
    <div class="min-h-0 grow" bind:clientWidth={width} bind:clientHeight={height}>
      <svg {width} {height} role="img" aria-label="Smile of {frame?.date}, expiry {frame?.expiry}">
        <text x="0" y="12" class="fill-[var(--soft)]" font-size="11.5">implied volatility, %</text>
        {#each y.ticks(6) as tick (tick)}
          <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(tick)} y2={y(tick)} stroke="var(--hair)" />
          <text x={MARGIN.left - 6} y={y(tick) + 4} font-size="11.5" text-anchor="end" fill="var(--soft)"
            >{Math.round(tick * 100)}</text
          >
        {/each}
        {#each percents as percent (percent)}
          <text
            x={x(Math.log1p(percent / 100))}
            y={bottom + 15}
            font-size="11.5"
            text-anchor="middle"
            fill="var(--soft)">{percent} %</text
          >
        {/each}
        <line x1={x(0)} x2={x(0)} y1={MARGIN.top} y2={bottom} stroke="var(--line)" />
        <path
          d={curveOf(frames[frames.length - 1].volatility)}
          fill="none"
          stroke="var(--faint)"
          stroke-dasharray="2 3"
        />
        {#if frame}
          <path
            d={curveOf(frame.volatility)}
            fill="none"
            stroke="var(--implied)"
            stroke-width="2.2"
            data-testid="replay-smile"
          />
          <circle cx={x(0)} cy={y(frame.atm)} r="4" fill="var(--implied)" />
        {/if}
        <text x="0" y={height - STRIP + 12} font-size="11.5" fill="var(--soft)">price</text>
        {#each months as { i, f } (f.date)}
          <text x={time(i)} y={height - 1} font-size="10.5" text-anchor="middle" fill="var(--soft)"
            >{dateText(f.date, asOf).split(' ')[1]}</text
          >
        {/each}
        <path d={pricePath} fill="none" stroke="var(--ink)" stroke-width="1.1" />
        {#if frame}
          <line x1={time(index)} x2={time(index)} y1={height - STRIP + 14} y2={height - 12} stroke="var(--implied)" />
          <circle cx={time(index)} cy={price(frame.price)} r="3.5" fill="var(--implied)" />
        {/if}
      </svg>
    </div>
  </div>
{/if}
