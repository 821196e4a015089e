<!-- What the address asks for and is not shown: said, with the way back. -->
<script lang="ts">
  import { page } from '$app/state';
  import { contextNotes } from './context-notes';
  import { viewState } from './view-state.svelte';

  const view = viewState();
  const notes = $derived(contextNotes(view.picture, page.url.searchParams));
  const WAY_BACK = {
    asOf: 'show the latest',
    expiry: 'forget that expiry',
    tenor: 'forget that tenor',
    expiries: 'show all expiries',
  } as const;
</script>

{#if notes.length > 0}
  <div class="border-line bg-sheet border-b px-4 py-1.5 text-[12.5px]" role="status" data-testid="context-notes">
    {#each notes as { parameter, text } (parameter)}
      <p>
        {text}
        <button
          type="button"
          class="text-implied underline"
          onclick={() => view.address.set({ [parameter]: undefined })}
        >
          {WAY_BACK[parameter]}
        </button>
      </p>
    {/each}
  </div>
{/if}
