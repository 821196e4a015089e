<!-- A number that opens its Workings. -->
<script lang="ts">
  import { viewState } from '$lib/state/view-state.svelte';

  interface Props {
    id: string;
    text: string;
    /** Dotted underline, for running text */
    isInline?: boolean;
  }
  let { id, text, isInline = false }: Props = $props();
  const view = viewState();
</script>

<button
  type="button"
  class={isInline
    ? 'underline decoration-dotted decoration-1 underline-offset-4'
    : 'inline-block min-h-6 min-w-6 text-left leading-6 hover:underline hover:decoration-dotted'}
  data-figure={id}
  title="Workings"
  onclick={(event) => {
    event.stopPropagation();
    void view.set({ workings: id });
  }}>{text}</button
>
