<!-- What is not stored of a user's underlying, what that costs, and the way to bring it. -->
<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { missingHistory } from '$lib/shell/reading/missing-history';
  import type { Overview } from '$lib/api/picture';
  import { ImportQueue } from '$lib/api/client/import-queue.svelte';

  interface Props {
    picture: Overview;
  }
  let { picture }: Props = $props();
  const missing = $derived(missingHistory(picture));
  const queue = new ImportQueue();
  let said = $state<{ text: string; isTrouble: boolean }[]>([]);

  async function take(files: readonly File[]): Promise<void> {
    if (files.length === 0) return;
    said = [];
    await queue.add(files);
    for (const item of queue.items) {
      // What a file does not say is about the underlying that it was brought for.
      const { tableRows } = item;
      if (!tableRows?.isOfNeeded || item.of !== undefined) continue;
      item.of = tableRows.table === 'rates' ? picture.underlying.currency : picture.underlying.symbol;
      await item.correct({});
    }
    await queue.storeAll();
    said = queue.items.map((item) => ({
      text: item.outcome
        ? `${item.name}: ${item.outcome.result.rows} rows of ${item.outcome.table} stored.`
        : `${item.name}: ${item.trouble?.message ?? item.tableRows?.problems[0]?.remedy ?? 'a column is missing; map it in Data.'}`,
      isTrouble: !item.outcome,
    }));
    await invalidateAll();
  }
</script>

{#if missing.length > 0 || said.length > 0}
  <section aria-label="Not stored" class="border-hair mt-5 border-t pt-3 text-[12.5px]" data-testid="missing-history">
    {#if missing.length > 0}
      <h2 class="small-caps mb-1">Not stored</h2>
      <ul class="flex list-disc flex-col gap-1 pl-4">
        {#each missing as m (m.table)}<li>{m.text}</li>{/each}
      </ul>
      <label class="text-implied mt-2 inline-block cursor-pointer underline"
        >{queue.working > 0 ? 'reading …' : 'Bring such a file…'}
        <input
          type="file"
          class="sr-only"
          multiple
          disabled={queue.working > 0}
          onclick={(event) => {
            event.currentTarget.value = '';
          }}
          onchange={(event) => void take([...(event.currentTarget.files ?? [])])}
        /></label
      >
    {/if}
    {#each said as { text, isTrouble } (text)}
      <p class="mt-1 font-serif text-[13.5px] {isTrouble ? 'text-loss' : ''}" role="status">{text}</p>
    {/each}
  </section>
{/if}
