<!-- Says that American values could not be computed, and what stands in their place. -->
<script lang="ts">
  interface Props {
    trouble: string | undefined;
  }
  let { trouble }: Props = $props();
</script>

{#if trouble !== undefined}
  <p class="text-loss text-[12.5px]" role="alert">
    American values are missing: {trouble}. What is dimmed leaves early exercise out; reload the page to try again.
  </p>
{/if}
