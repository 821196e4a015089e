<!-- A dialog over the page: it takes the keyboard, Escape closes it, and the keyboard goes back to where it was. -->
<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    title: string;
    width: string;
    /** Beside the title */
    beside?: Snippet;
    /** The title is heard, not seen */
    isTitleHidden?: boolean;
    isOpen: boolean;
    onclose?: () => void;
    children: Snippet;
  }
  let { title, width, beside, isTitleHidden = false, isOpen = $bindable(), onclose, children }: Props = $props();
</script>

<Dialog.Root
  bind:open={isOpen}
  onOpenChange={(open) => {
    if (!open) onclose?.();
  }}
>
  <Dialog.Portal>
    <Dialog.Overlay class="bg-ink/20 fixed inset-0 z-50" />
    <Dialog.Content
      preventScroll={false}
      preventBodyPointerEvents={false}
      class="bg-sheet text-ink border-line fixed top-1/2 left-1/2 z-50 max-h-[90vh] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border p-5 outline-none"
      style="width: {width}"
    >
      <div class={isTitleHidden ? 'sr-only' : 'flex items-center justify-between'}>
        <Dialog.Title class="small-caps">{title}</Dialog.Title>
        {@render beside?.()}
      </div>
      {@render children()}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
