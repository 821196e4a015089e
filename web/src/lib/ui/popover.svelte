<!-- What a button opens beside itself: by touch and key as by mouse; Escape or a click elsewhere closes it. -->
<script lang="ts">
  import { Popover } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    /** Said of the button where what it shows does not say it */
    label?: string;
    trigger: Snippet;
    triggerClass?: string;
    class?: string;
    children: Snippet;
  }
  let { label, trigger, triggerClass = '', class: tone = 'w-80', children }: Props = $props();
</script>

<Popover.Root>
  <Popover.Trigger class={triggerClass} aria-label={label}>{@render trigger()}</Popover.Trigger>
  <Popover.Portal>
    <Popover.Content
      class="border-line bg-sheet text-ink z-40 max-h-[85vh] overflow-y-auto border p-4 outline-none {tone}"
      align="start"
      sideOffset={4}
      collisionPadding={8}
      preventScroll={false}>{@render children()}</Popover.Content
    >
  </Popover.Portal>
</Popover.Root>
