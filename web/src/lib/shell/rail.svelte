<!-- Views, with their keys. A view that does not exist yet is not shown. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import { page } from '$app/state';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';
  import { pricerHref } from './pricer-href';
  import { liveState } from './live-state.svelte';
  import { pageState } from './page-state.svelte';

  interface Props {
    symbol: string | undefined;
  }
  let { symbol }: Props = $props();
  const shell = pageState();
  const live = liveState();
  /** What workers are busy with. */
  const work = $derived(live.status?.jobs.find((g) => g.running + g.waiting > 0));
  const views = [
    { id: 'term', label: 'Term', key: 'term' },
    { id: 'skew', label: 'Skew', key: 'skew' },
    { id: 'chain', label: 'Chain', key: 'chain' },
  ] as const;
  const isHere = (id: string) => page.url.pathname.startsWith(`/${id}`);
  /** The query goes along between views of one underlying, but not to Data. */
  const query = $derived(page.params.symbol ? page.url.search : '');
  const below = $derived([
    {
      id: 'pricer',
      label: 'Pricer',
      href: pricerHref(symbol, query === '' ? new URLSearchParams() : page.url.searchParams),
    },
    { id: 'data', label: 'Data', href: '/data' },
  ] as const);
</script>

<nav
  aria-label="Views"
  class="border-line flex w-16 shrink-0 flex-col items-stretch border-r pt-2 pb-3 text-center max-[700px]:w-full max-[700px]:flex-row max-[700px]:border-r-0 max-[700px]:border-b max-[700px]:py-1"
>
  <a href="/" class="pb-3 font-serif text-[18px]" aria-label="Umwelt, start">U</a>
  {#each views as view (view.id)}
    {#if symbol}
      <a
        href="/{view.id}/{symbolPart(symbol)}{query}"
        class="border-l-3 py-1.5 max-[700px]:px-3 {isHere(view.id) ? 'border-ink font-semibold' : 'border-transparent'}"
        aria-current={isHere(view.id) ? 'page' : undefined}
      >
        {view.label}<br /><span class="text-soft text-[11px] font-normal">{shell.keys.keyOf(view.key)}</span>
      </a>
    {/if}
  {/each}
  <hr class="border-line mx-3 my-2 max-[700px]:hidden" />
  {#each below as item (item.id)}
    <a
      href={item.href}
      class="border-l-3 py-1.5 max-[700px]:px-3 {isHere(item.id) ? 'border-ink font-semibold' : 'border-transparent'}"
      aria-current={isHere(item.id) ? 'page' : undefined}
    >
      {item.label}<br /><span class="text-soft text-[11px] font-normal">{shell.keys.keyOf(item.id)}</span>
    </a>
  {/each}
  <span class="grow"></span>
  {#if work}
    <a
      href="/data"
      class="text-soft px-1 pb-2 text-[11px] leading-tight"
      title="{work.group}: {work.current ?? 'waiting for a worker'}"
      data-testid="work"
    >
      {work.group}<br /><strong class="text-ink">{Math.floor((work.share ?? 0) * 100)} %</strong>
    </a>
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
