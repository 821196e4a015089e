<!-- Market in volatility: whisker from bid to offer (put dashed), fitted diamond (call filled, put hollow). -->
<script lang="ts">
  import type { ChainRow } from '$lib/api/chain-row';

  interface Props {
    row: ChainRow;
    scale: (volatility: number) => number;
    onpick: () => void;
  }
  let { row, scale, onpick }: Props = $props();
  const low = $derived(row.bidVolatility === null ? null : scale(row.bidVolatility));
  const high = $derived(row.askVolatility === null ? null : scale(row.askVolatility));
  const fit = $derived(row.fitVolatility === null ? null : scale(row.fitVolatility));
  const stroke = $derived(row.verdict === null ? 'var(--ink)' : 'var(--faint)');
</script>

<button type="button" class="block" aria-label="Workings of the market's volatility" onclick={onpick}>
  <svg width="190" height="18" class="block">
    {#if low !== null && high !== null}
      <line
        x1={low}
        x2={high}
        y1="9"
        y2="9"
        {stroke}
        stroke-width="1.4"
        stroke-dasharray={row.side === 'put' ? '3 2' : undefined}
      />
    {/if}
    {#each [low, high] as end, i (i)}
      {#if end !== null}<line x1={end} x2={end} y1="5.5" y2="12.5" {stroke} stroke-width="1.4" />{/if}
    {/each}
    {#if fit !== null}
      <path
        d="M{fit},3.5 l4,5.5 l-4,5.5 l-4,-5.5 z"
        fill={row.side === 'call' ? 'var(--implied)' : 'var(--paper)'}
        stroke="var(--implied)"
        stroke-width="1.3"
      />
    {/if}
  </svg>
</button>
