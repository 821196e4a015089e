<!-- Quotes judged bad, by reason. -->
<script lang="ts">
  import TableMenu from '../../shell/table-menu.svelte';
  import { countText } from '$lib/ui/format';

  interface Props {
    quality: {
      quotes: { latest: number; all: number };
      reasons: { reason: string; latest: number; all: number }[];
    };
  }
  let { quality }: Props = $props();
  const WORDS: Record<string, string> = {
    crossed: 'bid above offer',
    'no-ask': 'no offer',
    stale: 'stale against its neighbors',
    'no-bid': 'no bid',
    'below-intrinsic': 'at or below intrinsic',
    'too-wide': 'wider than its mid',
  };
  const FAULTS = ['crossed', 'no-ask', 'stale'];
  const shareText = (count: number, of: number) => (of > 0 ? `${((100 * count) / of).toFixed(2)} %` : '—');
</script>

<h2 class="small-caps mt-5 mb-1">Quotes judged bad</h2>
{#if quality.reasons.length === 0}
  <p class="quiet">None of {countText(quality.quotes.all)} quotes.</p>
{:else}
  <TableMenu name="Quotes judged bad" />
  <table class="figures text-[12.5px]" data-testid="quality">
    <thead><tr><th>reason</th><th>faulty</th><th>latest</th><th>share</th><th>all</th><th>share</th></tr></thead>
    <tbody>
      {#each quality.reasons as r (r.reason)}
        <tr class="border-hair border-b"
          ><td>{WORDS[r.reason] ?? r.reason}</td><td>{FAULTS.includes(r.reason) ? 'yes' : '—'}</td><td
            >{countText(r.latest)}</td
          ><td>{shareText(r.latest, quality.quotes.latest)}</td><td>{countText(r.all)}</td><td
            >{shareText(r.all, quality.quotes.all)}</td
          ></tr
        >
      {/each}
      <tr
        ><td>quotes in all</td><td>—</td><td>{countText(quality.quotes.latest)}</td><td></td><td
          >{countText(quality.quotes.all)}</td
        ><td></td></tr
      >
    </tbody>
  </table>
{/if}
