<!-- The instant that everything is seen as of: stepping, going to a date, and the market as it runs on. -->
<script lang="ts">
  import { toast } from 'svelte-sonner';
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import StepForward from '@lucide/svelte/icons/step-forward';
  import { ageText, instantLabel } from '$lib/ui/format';
  import { FEED_SPEEDS } from '$lib/api/live';
  import { liveState } from './live-state.svelte';
  import { pageState } from './page-state.svelte';
  import { viewState } from './view-state.svelte';

  const view = viewState();
  const page = pageState();
  const live = liveState();
  const picture = $derived(view.picture);
  const feed = $derived(live.status?.feed);
  $effect(() => live.show(view.live.topic));
  const isRunning = $derived(feed?.isToRun === true);
  const age = $derived(live.picture ? (live.now - live.picture.at) / 1000 : undefined);
  /** Why nothing newer may come, if so. */
  const trouble = $derived.by(() => {
    if (!view.live.isLive) return undefined;
    if (live.since > 0 && !live.isConnected)
      return `no connection for ${ageText((live.now - live.since) / 1000)}; trying again`;
    if (live.status && !live.status.isDatabaseUp) return 'the database is away; trying again';
    if (feed?.state === 'stopped') return 'the feed has stopped; it is started again by itself';
    if (!picture.isLive) return 'no live quotes of this underlying';
    return undefined;
  });

  async function command(c: Parameters<typeof live.command>[0]): Promise<void> {
    if (!(await live.command(c))) toast.error('The feed did not take it: the server or its database is away.');
  }
</script>

<span class="chip flex items-center gap-1.5">
  <span class="quiet text-[11.5px]">as of</span>
  <button type="button" onclick={() => (page.isGoToOpen = true)} aria-keyshortcuts="g">
    <time datetime={picture.asOf}>{instantLabel(picture.asOf)}</time>
  </button>
  <button
    type="button"
    class="kbd-mark disabled:opacity-40"
    aria-label="Instant before"
    disabled={!picture.previous}
    onclick={() => view.stepping.instant(-1)}>[</button
  >
  <button
    type="button"
    class="kbd-mark disabled:opacity-40"
    aria-label="Instant after"
    disabled={view.live.isLive}
    onclick={() => view.stepping.instant(1)}>]</button
  >
  <button
    type="button"
    class="kbd-mark {view.live.isLive ? 'border-ink font-semibold' : ''}"
    aria-pressed={view.live.isLive}
    onclick={() => view.live.toggle()}>live</button
  >
  {#if view.live.isLive}
    <button
      type="button"
      class="p-1"
      aria-label={isRunning ? 'Pause the market' : 'Start the market'}
      onclick={() => command({ action: isRunning ? 'pause' : 'start' })}
    >
      {#if isRunning}<Pause size={13} />{:else}<Play size={13} />{/if}
    </button>
    <button type="button" class="p-1" aria-label="One wave" onclick={() => command({ action: 'step' })}>
      <StepForward size={13} />
    </button>
    <select
      class="bg-transparent text-[12px]"
      aria-label="Speed of the market"
      value={feed?.speed ?? 60}
      onchange={(event) => command({ speed: Number(event.currentTarget.value) })}
    >
      {#each FEED_SPEEDS as speed (speed)}<option value={speed}>{speed}×</option>{/each}
    </select>
    <span
      class="min-w-16 text-[11.5px] {trouble ? 'text-loss font-semibold' : 'text-soft'}"
      role="status"
      data-testid="live-age"
    >
      {#if trouble}{trouble}{:else if isRunning}{age === undefined
          ? 'waiting'
          : `${ageText(age)} old`}{:else}paused{/if}
    </span>
  {/if}
</span>
