<!-- What the address asks for and is not shown: said, with the way back. -->
<script lang="ts">
  import { page } from '$app/state';
  import type { z } from 'zod';
  import { legsText } from '../api/picked-legs';
  import { contextNotes } from './context-notes';
  import { droppedParameters } from './dropped-parameters';
  import { viewState } from './view-state.svelte';

  interface Props {
    /** Schema of the view's own parameters */
    own: z.ZodObject;
  }
  let { own }: Props = $props();
  const view = viewState();
  const notes = $derived([
    ...contextNotes(view.picture, page.url.searchParams),
    ...droppedParameters(own, page.url.searchParams),
  ]);
  const WAY_BACK: Readonly<Record<string, string>> = {
    asOf: 'show the latest',
    expiry: 'forget that expiry',
    tenor: 'forget that tenor',
    expiries: 'show all expiries',
  };
</script>

{#if notes.length > 0}
  <div class="border-line bg-sheet border-b px-4 py-1.5 text-[12.5px]" role="status" data-testid="context-notes">
    {#each notes as { parameter, text } (text)}
      <p>
        {text}
        <button
          type="button"
          class="text-implied underline"
          onclick={() =>
            view.address.set({ [parameter]: parameter === 'legs' ? legsText(view.context.legs) : undefined })}
        >
          {WAY_BACK[parameter] ?? 'forget it'}
        </button>
      </p>
    {/each}
  </div>
{/if}
