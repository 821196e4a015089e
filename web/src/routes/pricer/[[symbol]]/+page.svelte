<script lang="ts">
  import type { PageProps } from './$types';
  import PricerAlone from '$lib/views/pricer/pricer-alone.svelte';
  import PricerOnMarket from '$lib/views/pricer/pricer-on-market.svelte';

  let { data }: PageProps = $props();
</script>

{#if data.seen}
  <!-- Another underlying is another Pricer. -->
  {#key data.seen.underlying.symbol}<PricerOnMarket picture={data.seen} />{/key}
{:else}<PricerAlone />{/if}
