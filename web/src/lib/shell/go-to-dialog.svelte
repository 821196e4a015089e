<!-- Going to a date from the keyboard: the stored instant at or before it. -->
<script lang="ts">
  import { readInstant } from '$lib/ui/read-instant';
  import { instantLabel } from '$lib/ui/format';
  import Dialog from '../ui/dialog.svelte';
  import { pageState } from './page-state.svelte';
  import { viewState } from './view-state.svelte';

  const page = pageState();
  const view = viewState();
  let text = $state('');
  const { picture } = $derived(view);
  const wanted = $derived(readInstant(text, picture.asOf));

  $effect(() => {
    if (page.isGoToOpen) text = '';
  });

  function go(asOf: string | undefined): void {
    page.isGoToOpen = false;
    void view.address.set({ asOf }, { isStep: true });
  }
</script>

<Dialog title="Go to a date" width="380px" isTitleHidden bind:isOpen={page.isGoToOpen}>
  <form
    onsubmit={(event) => {
      event.preventDefault();
      if (wanted) go(wanted);
    }}
  >
    <label class="flex flex-col gap-1">
      <span class="quiet">Date, with or without a time; or days back, such as -5</span>
      <input
        class="input w-full"
        bind:value={text}
        placeholder="2031-02-28 11:15"
        aria-label="Date"
        autocomplete="off"
      />
    </label>
  </form>
  <p class="quiet mt-2">
    {#if wanted}Enter: the stored instant at or before {instantLabel(wanted)}
    {:else if text.trim() !== ''}Not a date: write 2031-02-28, 28 Feb or 28 Feb 2031, 11:15 after it if you like.
    {:else}Stored from {instantLabel(picture.first)} to {instantLabel(picture.latest)}.{/if}
  </p>
  <p class="mt-3 flex gap-4">
    <button type="button" class="text-implied" onclick={() => go(picture.first)}>first</button>
    <button type="button" class="text-implied" onclick={() => go(undefined)}>latest stored</button>
    <button type="button" class="text-implied" onclick={() => go('live')}>live</button>
    <button type="button" class="text-implied ml-auto" onclick={() => (page.isGoToOpen = false)}>close</button>
  </p>
</Dialog>
