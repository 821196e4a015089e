<!-- The smile playing through a year beside the price: play, speed, scrub, stop at any session. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import ReplayPrice from './replay-price.svelte';
  import ReplaySmile from './replay-smile.svelte';
  import { dateText, numberText, tickDecimals, volatilityText } from '$lib/ui/format';
  import { replayFrames } from './replay-frames';
  import { skewParameters } from './parameters';
  import type { SkewHistory } from '$lib/api/skew-history';
  import type { FollowedAnswer } from '$lib/api/client/fetched.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    history: FollowedAnswer<SkewHistory>;
  }
  let { history }: Props = $props();

  const SPEEDS = [10, 25, 60];
  /** Milliseconds for which a hand rests before where it stands is written into the address. */
  const RESTS = 250;
  const view = quotedViewState();
  const own = $derived(view.address.own(skewParameters));
  const replay = $derived(replayFrames(history.answer?.sessions ?? []));
  const { frames } = $derived(replay);
  const asOf = $derived(history.answer?.asOf ?? '');
  /** Sessions a second */
  let speed = $state(25);
  let isPlaying = $state(false);
  /** While it plays or is scrubbed; else the address says where it stands. */
  let moving = $state<number>();
  const resting = $derived.by(() => {
    const at = own.session === undefined ? -1 : frames.findIndex((f) => f.date >= (own.session ?? ''));
    return at < 0 ? frames.length - 1 : at;
  });
  const index = $derived(Math.min(Math.floor(moving ?? resting), frames.length - 1));
  const frame = $derived(frames[index]);
  const decimals = $derived(tickDecimals(view.picture.underlying.underlyingTick));

  function play(): void {
    if (isPlaying) {
      isPlaying = false;
      return;
    }
    moving = index >= frames.length - 1 ? 0 : index;
    isPlaying = true;
  }

  function goTo(at: number): void {
    isPlaying = false;
    moving = at;
  }

  $effect(() => {
    if (!isPlaying) return;
    let before = performance.now();
    let request = requestAnimationFrame(function draw(now) {
      const next = (moving ?? 0) + ((now - before) / 1000) * speed;
      before = now;
      moving = Math.min(next, frames.length - 1);
      if (moving >= frames.length - 1) isPlaying = false;
      else request = requestAnimationFrame(draw);
    });
    return () => cancelAnimationFrame(request);
  });

  $effect(() => {
    if (isPlaying || moving === undefined) return;
    const at = Math.floor(moving);
    const timer = setTimeout(() => {
      const isLast = at >= frames.length - 1;
      void view.address.set({ session: isLast ? undefined : frames[at].date }).then(() => {
        if (moving !== undefined && Math.floor(moving) === at && !isPlaying) moving = undefined;
      });
    }, RESTS);
    return () => clearTimeout(timer);
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
      <Choice
        label="Sessions a second"
        choices={SPEEDS}
        chosen={speed}
        words={(value) => `${value} / s`}
        onchoose={(value) => (speed = value)}
      />
      <input
        type="range"
        class="slider grow"
        aria-label="Session"
        aria-valuetext={frame?.date}
        min="0"
        max={frames.length - 1}
        value={index}
        oninput={(event) => goTo(Number(event.currentTarget.value))}
      />
      <output class="min-w-52 text-right text-[12.5px]" data-testid="replay-session">
        {#if frame}
          <b>{dateText(frame.date, asOf)}</b> · {numberText(frame.price, decimals)} · at the money {volatilityText(
            frame.atm,
          )} %
        {/if}
      </output>
    </div>
    {#if frame}
      <ReplaySmile {replay} {frame} {asOf} />
      <ReplayPrice
        {frames}
        events={history.answer?.events ?? []}
        {index}
        {asOf}
        {decimals}
        currency={view.picture.underlying.currency}
        onpick={goTo}
      />
    {/if}
  </div>
{/if}
