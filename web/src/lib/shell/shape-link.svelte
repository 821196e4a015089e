<!-- A combination that trades, to be taken to Structure as its legs at the same instant and under the same assumptions. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import { page } from '$app/state';
  import { asOfContext } from '$lib/api/as-of-context';
  import { legsText } from '$lib/api/picked-legs';
  import type { TradedLegText } from '$lib/api/traded';
  import { quotedViewState } from './view-state.svelte';
  import { queryText } from './query-text';

  interface Props {
    legs: readonly TradedLegText[];
    /** What it is, for who hears it */
    name: string;
  }
  let { legs, name }: Props = $props();
  const view = quotedViewState();
  const href = $derived.by(() => {
    const next = new URLSearchParams([...page.url.searchParams].filter(([key]) => key in asOfContext.shape));
    next.set('legs', legsText(legs) ?? '');
    return `/structure/${symbolPart(view.picture.underlying.symbol)}${queryText(next)}`;
  });
</script>

<a class="text-implied inline-block min-h-6" {href} aria-label="Shape {name} in Structure">shape</a>
