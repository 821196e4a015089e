<!-- What a pointer on a chart reads: every line there with its number, on the side where the pointer is not. -->
<script lang="ts" module>
  export interface ReadRow {
    name: string;
    text: string;
    color: string;
  }
  export interface Read {
    /** Where, pixels from the chart's left edge */
    at: number;
    title: string;
    rows: readonly ReadRow[];
  }
</script>

<script lang="ts">
  interface Props {
    read: Read;
    width: number;
    /** Ends of the crosshair, pixels from the upper edge and from the lower one */
    top: number;
    bottom: number;
    /** Whether a line stands where it is read */
    hasLine?: boolean;
  }
  let { read, width, top, bottom, hasLine = true }: Props = $props();
  const isAtLeft = $derived(read.at > width / 2);
</script>

{#if hasLine}
  <div
    class="bg-ink pointer-events-none absolute w-px opacity-60"
    style:left="{read.at}px"
    style:top="{top}px"
    style:bottom="{bottom}px"
  ></div>
{/if}
<div
  class="border-line bg-sheet pointer-events-none absolute z-20 max-h-full max-w-[46%] overflow-hidden border px-2 py-1 text-[12px] leading-[1.35]"
  style:top="{top}px"
  style:left={isAtLeft ? '48px' : undefined}
  style:right={isAtLeft ? undefined : '12px'}
  data-testid="readout"
>
  {#if read.title}<div class="font-semibold">{read.title}</div>{/if}
  {#each read.rows as row, i (i)}
    <div class="flex items-baseline gap-1.5">
      <span class="h-[2px] w-3 shrink-0 self-center" style:background={row.color}></span>
      <span class="quiet">{row.name}</span>
      <span class="ml-auto pl-2 text-right" data-line={row.name}>{row.text}</span>
    </div>
  {/each}
</div>
