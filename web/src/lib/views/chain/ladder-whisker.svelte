<!-- Market in volatility: whisker from bid to offer (put dashed), fitted diamond (call filled, put hollow). -->
<script lang="ts">
  import type { ChainRow } from '$lib/api/chain-row';

  interface Props {
    row: ChainRow;
    scale: (volatility: number) => number;
    /** Pixels */
    width?: number;
    onpick: () => void;
  }
  let { row, scale, width = 190, onpick }: Props = $props();
  const low = $derived(row.bidVolatility === null ? null : scale(row.bidVolatility));
  const high = $derived(row.askVolatility === null ? null : scale(row.askVolatility));
  const fit = $derived(row.fitVolatility === null ? null : scale(row.fitVolatility));
  const stroke = $derived(row.verdict === null ? 'var(--ink)' : 'var(--faint)');
</script>

<button type="button" class="block" aria-label="Workings of the market's volatility" onclick={onpick}>
  <svg {width} height="18" class="block">
    <path
      d="{low === null ? '' : `M${low},5.5v7`}{high === null ? '' : `M${high},5.5v7`}"
      {stroke}
      stroke-width="1.4"
    />
    {#if low !== null && high !== null}
      <path d="M{low},9H{high}" {stroke} stroke-width="1.4" stroke-dasharray={row.side === 'put' ? '3 2' : undefined} />
    {/if}
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
