<!-- How a quote stands to theory; of one that is kept out why, to be put back. -->
<script lang="ts">
  import Figure from '../../shell/figure.svelte';
  import type { ChainRow } from '$lib/api/chain-row';
  import { reasonName, reasonWords } from '$lib/market';
  import { figureId } from '$lib/measures';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import type { LadderTexts } from './ladder-texts';

  interface Props {
    row: ChainRow;
    date: string;
    texts: LadderTexts;
  }
  let { row, date, texts }: Props = $props();
  const view = quotedViewState();
  const isBack = $derived(view.isRestored(date, row.strike, row.side));
  const name = $derived(isBack ? 'put back' : reasonName(row.verdict ?? 'stale'));
  const why = $derived(isBack ? 'by hand; takes it out again' : `${reasonWords(row.verdict ?? 'stale')}; puts it back`);
</script>

{#if row.verdict !== null || isBack}
  <button
    type="button"
    tabindex="-1"
    class="underline decoration-dotted underline-offset-2 disabled:no-underline"
    disabled={row.verdict === 'no-ask'}
    title={why}
    aria-label="{name}: {why}"
    onclick={() => view.toggleRestored(date, row.strike, row.side)}>{name}</button
  >
{:else if texts.markOf(row) !== ''}
  <span class={texts.isFar(row) ? 'font-semibold' : ''}>{texts.markOf(row)} {row.standing}</span>
  <Figure id={figureId('gap', date, row.strike, row.side)} text={texts.gapText(row)} isInTable />
{:else}<span class="quiet">{row.standing ?? '—'}</span>{/if}
