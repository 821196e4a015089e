<!-- Long work: how far it is, and an end to it. -->
<script lang="ts">
  import { toast } from 'svelte-sonner';
  import { liveState } from '$lib/shell/live-state.svelte';
  import { ask, troubleText } from '$lib/api/client/ask';
  import { cancelJobsRoute } from '$lib/api/contract/work';
  import type { JobGroup } from '$lib/api/live';

  const live = liveState();
  const groups = $derived(live.status?.jobs ?? []);

  async function cancel(group: JobGroup): Promise<void> {
    try {
      await ask(cancelJobsRoute, { parameters: { group: group.group } });
    } catch (error) {
      toast.error(`It was not cancelled: ${troubleText(error)}.`);
    }
  }

  function stateOf(g: JobGroup): string {
    if (g.running > 0) return g.current ?? 'running';
    if (g.waiting > 0) return 'waiting for a worker';
    if (g.failed > 0) return `${g.failed} failed: ${g.error ?? ''}`;
    if (g.cancelled > 0) return `cancelled after ${g.done} of ${g.total}`;
    return 'done';
  }
</script>

<h2 class="small-caps mt-5 mb-1">Work</h2>
{#if groups.length === 0}
  <p class="quiet">None{live.status ? ' yet' : '; waiting for the server'}.</p>
{:else}
  <ul class="flex flex-col gap-2 text-[12.5px]" data-testid="work-list">
    {#each groups as g (g.group)}
      <li>
        <div class="flex items-center gap-3">
          <strong>{g.group}</strong>
          <progress class="progress w-40" value={g.share ?? 0} max="1" aria-label="{g.group}, share done"></progress>
          <span>{Math.floor((g.share ?? 0) * 100)} %</span>
          <span class="quiet">{g.done} of {g.total} jobs</span>
          {#if g.running + g.waiting > 0}
            <button type="button" class="btn btn-xs ml-auto" onclick={() => cancel(g)}>Cancel</button>
          {/if}
        </div>
        <span class={g.failed > 0 ? 'text-loss' : 'quiet'}>{stateOf(g)}</span>
      </li>
    {/each}
  </ul>
{/if}
