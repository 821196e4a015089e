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
  const uid = $props.id();
  let button = $state<HTMLButtonElement>();
  let isOpen = $state(false);
  /** Most are never opened: until then the button alone is there, which a page draws much faster. */
  let wasOpened = $state(false);
</script>

<button
  bind:this={button}
  id={uid}
  type="button"
  class={triggerClass}
  aria-label={label}
  aria-haspopup="dialog"
  aria-expanded={isOpen}
  aria-controls={isOpen ? `${uid}-opened` : undefined}
  onclick={() => {
    wasOpened = true;
    isOpen = !isOpen;
  }}>{@render trigger()}</button
>
{#if wasOpened}
  <Popover.Root bind:open={isOpen}>
    <Popover.Portal>
      <Popover.Content
        id="{uid}-opened"
        class="border-line bg-sheet text-ink z-40 max-h-[85vh] overflow-y-auto border p-4 outline-none {tone}"
        align="start"
        sideOffset={4}
        collisionPadding={8}
        preventScroll={false}
        customAnchor={button}
        onCloseAutoFocus={(event) => {
          event.preventDefault();
          button?.focus();
        }}>{@render children()}</Popover.Content
      >
    </Popover.Portal>
  </Popover.Root>
{/if}
