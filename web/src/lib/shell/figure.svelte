<!-- A number that opens its Workings. -->
<script lang="ts">
  import { workingsHost } from './workings-host';

  interface Props {
    id: string;
    text: string;
    /** Dotted underline, for running text */
    isInline?: boolean;
    /** Reached through its cell, by arrows and Enter */
    isInTable?: boolean;
  }
  let { id, text, isInline = false, isInTable = false }: Props = $props();
  const host = workingsHost();
</script>

<button
  type="button"
  class={isInline
    ? 'underline decoration-dotted decoration-1 underline-offset-4'
    : 'inline-block min-h-6 min-w-6 text-left leading-6 hover:underline hover:decoration-dotted'}
  data-figure={id}
  tabindex={isInTable ? -1 : undefined}
  onclick={(event) => {
    event.stopPropagation();
    host.openWorkings(id);
  }}>{text}</button
>
