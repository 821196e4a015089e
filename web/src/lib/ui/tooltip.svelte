<!-- A word on what a button does, on hover and on focus. What touch must reach stands in a popover instead. -->
<script lang="ts">
  import { Tooltip } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    words: string;
    /** Draws the button with what it must carry */
    of: Snippet<[Record<string, unknown>]>;
  }
  let { words, of }: Props = $props();
</script>

<Tooltip.Provider delayDuration={300}>
  <Tooltip.Root>
    <Tooltip.Trigger>
      {#snippet child({ props })}{@render of(props)}{/snippet}
    </Tooltip.Trigger>
    <Tooltip.Portal>
      <Tooltip.Content class="tooltip-words" sideOffset={4}>{words}</Tooltip.Content>
    </Tooltip.Portal>
  </Tooltip.Root>
</Tooltip.Provider>
