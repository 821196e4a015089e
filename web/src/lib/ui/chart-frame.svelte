<!-- Around every chart: its words for who cannot see it, and the ways to take it along. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import { csvText } from './csv-text';
  import { fileName, saveFile } from './save-file';
  import type { ShownTable } from './shown-table';

  interface Props {
    label: string;
    /** Text alternative */
    description: string;
    /** What is drawn, in numbers */
    table: () => ShownTable;
    /** Address of a picture in one of the formats that there are */
    picture: (format: 'svg' | 'png') => Promise<string>;
    hasSvg?: boolean;
    children: Snippet;
    /** Beside the ways to take it along */
    beside?: Snippet;
  }
  let { label, description, table, picture, hasSvg = true, children, beside }: Props = $props();
  const FORMATS = $derived(hasSvg ? (['svg', 'png'] as const) : (['png'] as const));

  async function takePicture(format: 'svg' | 'png'): Promise<void> {
    saveFile(`${fileName(label)}.${format}`, await picture(format));
  }

  function takeData(): void {
    saveFile(`${fileName(label)}.csv`, new Blob([csvText(table())], { type: 'text/csv;charset=utf-8' }));
  }
</script>

<figure class="relative h-full w-full" aria-label={label}>
  {@render children()}
  <div
    class="text-soft absolute top-0 right-0 flex items-center gap-2 text-[11.5px]"
    role="group"
    aria-label="Take the chart along"
  >
    {@render beside?.()}
    {#each FORMATS as format (format)}
      <button
        type="button"
        class="min-h-6 min-w-6"
        aria-label="{label} as {format.toUpperCase()}"
        onclick={() => takePicture(format)}>{format}</button
      >
    {/each}
    <button type="button" class="min-h-6 min-w-6" aria-label="Data of {label} as CSV" onclick={takeData}>csv</button>
  </div>
  <figcaption class="sr-only">{description}</figcaption>
</figure>
