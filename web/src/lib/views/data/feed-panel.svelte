<!-- The feed: what it does, and how often its state is stored. -->
<script lang="ts">
  import { toast } from 'svelte-sonner';
  import { instantLabel } from '$lib/ui/format';
  import { STORE_MINUTES } from '$lib/api/live';
  import { liveState } from '$lib/shell/live-state.svelte';

  const live = liveState();
  const feed = $derived(live.status?.feed);
  const WORDS = {
    running: 'running',
    paused: 'paused',
    stopped: 'stopped: its process gives no sign of life; ./start starts it again, npm run feed by hand',
  };

  async function store(minutes: number): Promise<void> {
    if (!(await live.command({ storeMinutes: minutes }))) toast.error('The feed did not take it.');
  }
</script>

<h2 class="small-caps mt-5 mb-1">Feed</h2>
{#if !live.isConnected && live.since > 0}
  <p class="text-loss text-[12.5px]" role="alert">No connection to the server; trying again.</p>
{:else if live.status && !live.status.isDatabaseUp}
  <p class="text-loss text-[12.5px]" role="alert">The database is away; trying again.</p>
{:else if !feed}
  <p class="quiet">{live.status ? 'No feed has run yet.' : 'Waiting for the server.'}</p>
{:else}
  <p class="flex flex-wrap items-center gap-x-4 gap-y-1 text-[12.5px]" data-testid="feed">
    <span class={feed.state === 'stopped' ? 'text-loss' : ''}>{WORDS[feed.state]}</span>
    {#if feed.instant}<span class="quiet">market time {instantLabel(feed.instant)}</span>{/if}
    <span class="quiet">wave {feed.sequence}, {feed.speed}×</span>
    <label class="flex items-center gap-1.5"
      ><span class="quiet">stored every</span>
      <select
        class="select select-xs w-24"
        value={feed.storeMinutes}
        onchange={(event) => store(Number(event.currentTarget.value))}
      >
        {#each STORE_MINUTES as minutes (minutes)}<option value={minutes}
            >{minutes === 0 ? 'never' : `${minutes} min`}</option
          >{/each}
      </select></label
    >
    {#if feed.storedAt}<span class="quiet">last {instantLabel(feed.storedAt)}</span>{/if}
  </p>
{/if}
