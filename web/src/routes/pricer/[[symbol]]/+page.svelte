<script lang="ts">
  import type { PageProps } from './$types';
  import PricerAlone from '$lib/views/pricer/pricer-alone.svelte';
  import PricerOnMarket from '$lib/views/pricer/pricer-on-market.svelte';

  let { data }: PageProps = $props();
</script>

{#if data.picture}
  <!-- Another underlying is another Pricer. -->
  {#key data.picture.underlying.symbol}<PricerOnMarket picture={data.picture} />{/key}
{:else}<PricerAlone />{/if}
