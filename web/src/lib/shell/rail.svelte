<!-- Views, with their keys. A view that does not exist yet is not shown. -->
<script lang="ts">
  import Popover from '../ui/popover.svelte';
  import { page } from '$app/state';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import { liveState } from './live-state.svelte';
  import { pageState } from './page-state.svelte';
  import type { Here } from './left-views';
  import { type RailEntry, railEntries } from './rail-entries';

  interface Props {
    /** What is shown, was shown last, or comes first */
    here: Here | undefined;
  }
  let { here }: Props = $props();
  const shell = pageState();
  const live = liveState();
  /** What workers are busy with. */
  const work = $derived(live.status?.jobs.find((g) => g.running + g.waiting > 0));
  const entries = $derived(railEntries(shell.views, page.url.pathname, here, shell.left));
</script>

{#snippet entry({ view, href, isHere }: RailEntry)}
  <a
    {href}
    class="border-l-3 py-1.5 max-[700px]:px-3 {isHere ? 'border-ink font-semibold' : 'border-transparent'}"
    aria-current={isHere ? 'page' : undefined}
  >
    {view.label}<br /><span class="text-soft text-[11px] font-normal">{shell.keys.keyOf(view.id)}</span>
  </a>
{/snippet}

<nav
  aria-label="Views"
  data-sveltekit-keepfocus
  class="border-line flex w-16 shrink-0 flex-col items-stretch border-r pt-2 pb-3 text-center max-[700px]:w-full max-[700px]:flex-row max-[700px]:border-r-0 max-[700px]:border-b max-[700px]:py-1"
>
  <a href="/" class="pb-3 font-serif text-[18px]" aria-label="Umwelt, start">U</a>
  {#each entries.questions as item (item.view.id)}{@render entry(item)}{/each}
  <hr class="border-line mx-3 my-2 max-[700px]:hidden" />
  {#each entries.asides as item (item.view.id)}{@render entry(item)}{/each}
  <span class="grow"></span>
  {#if work}
    <Popover triggerClass="text-soft px-1 pb-2 text-[11px] leading-tight" class="w-64">
      {#snippet trigger()}<span data-testid="work"
          >{work.group}<br /><strong class="text-ink">{Math.floor((work.share ?? 0) * 100)} %</strong></span
        >{/snippet}
      <p class="font-serif text-[14px]">{work.group}: {work.current ?? 'waiting for a worker'}</p>
      <p class="mt-2"><a class="text-implied" href="/data">All work, and its end, under Data</a></p>
    </Popover>
  {/if}
  <button
    type="button"
    class="mx-auto p-2"
    aria-label={shell.theme === 'day' ? 'Night theme' : 'Day theme'}
    onclick={() => shell.toggleTheme()}
  >
    {#if shell.theme === 'day'}<Moon size={15} />{:else}<Sun size={15} />{/if}
  </button>
  <button type="button" class="kbd-mark mx-auto" aria-label="Keys" onclick={() => (shell.isKeysOpen = true)}>?</button>
</nav>
