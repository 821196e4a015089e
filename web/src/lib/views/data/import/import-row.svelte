<!-- One of several files that were dropped together. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import { countText } from '$lib/ui/format';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    isSelected: boolean;
    onselect: () => void;
    onremove: () => void;
  }
  let { item, isSelected, onselect, onremove }: Props = $props();
  const what = $derived.by(() => {
    if (item.outcome) return 'stored';
    if (item.trouble) return 'refused';
    const { chain, tableRows } = item;
    if (tableRows) return `${tableRows.table}, ${countText(tableRows.rows)} rows`;
    if (chain)
      return chain.whole
        ? `chain of ${chain.whole.underlyings.map((u) => u.symbol).join(', ') || '—'}, ${countText(chain.whole.rows)} quotes`
        : `chain, without ${chain.missing.join(', ')}`;
    return item.progress?.text ?? 'waits';
  });
</script>

<li class="border-hair flex items-center gap-2 border-b text-[12.5px] {isSelected ? 'bg-sheet' : ''}">
  <button
    type="button"
    class="min-h-7 grow truncate px-2 text-left {isSelected ? 'font-semibold' : ''}"
    aria-pressed={isSelected}
    onclick={onselect}>{item.name}</button
  >
  <span class="{item.trouble ? 'text-loss' : 'quiet'} whitespace-nowrap">{what}</span>
  <button type="button" class="min-h-6 min-w-6 p-1" aria-label="Leave out {item.name}" onclick={onremove}
    ><X size={14} /></button
  >
</li>
