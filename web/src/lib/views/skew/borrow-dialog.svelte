<!-- Whose smile to take over, and how; kept as a link that follows its donor. -->
<script lang="ts">
  import { page } from '$app/state';
  import { ask, troubleText } from '$lib/api/client/ask';
  import { dropLinkRoute, keepLinkRoute } from '$lib/api/contract/views';
  import { BORROW_KINDS, type SmileLink } from '$lib/api/borrow';
  import type { UnderlyingSummary } from '$lib/api/underlying';
  import Dialog from '$lib/ui/dialog.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    isOpen: boolean;
  }
  let { isOpen = $bindable() }: Props = $props();

  const view = quotedViewState();
  let donor = $state('');
  let kind = $state<SmileLink['kind']>('shape');
  let isFitted = $state(true);
  /** Volatility points */
  let points = $state(0);
  let ratio = $state(1);
  let trouble = $state<string>();
  const { symbol } = $derived(view.picture.underlying);
  const donors = $derived(((page.data.underlyings ?? []) as UnderlyingSummary[]).filter((u) => u.symbol !== symbol));
  const link = $derived(view.borrowing.answer?.state?.link);
  const kindWords: Record<SmileLink['kind'], string> = {
    shape: "shape: slope and curvature by standardized distance, on the borrower's own level",
    total: 'whole smile: its volatilities by the same distance in percent',
  };

  $effect(() => {
    if (!isOpen) return;
    donor = link?.donor ?? '';
    kind = link?.kind ?? 'shape';
    isFitted = link ? link.shift === null : true;
    points = (link?.shift ?? 0) * 100;
    ratio = link?.ratio ?? 1;
    trouble = undefined;
  });

  async function send(isDropped = false): Promise<void> {
    const parameters = { symbol };
    try {
      if (isDropped) await ask(dropLinkRoute, { parameters });
      else
        await ask(keepLinkRoute, { parameters, body: { donor, kind, shift: isFitted ? null : points / 100, ratio } });
    } catch (error) {
      trouble = troubleText(error);
      return;
    }
    view.borrowing.changed();
    isOpen = false;
    if (isDropped && view.context.volatilitySource === 'borrowed')
      await view.address.set({ volatilitySource: undefined });
  }
</script>

<Dialog title="Borrow a smile" width="460px" isTitleHidden bind:isOpen>
  <form
    class="space-y-3"
    onsubmit={(event) => {
      event.preventDefault();
      void send();
    }}
  >
    <h2 class="small-caps">{symbol} borrows the smile of</h2>
    <label class="flex flex-col gap-1">
      <span class="quiet text-[11.5px]">donor</span>
      <select class="select select-sm w-full" bind:value={donor} required>
        <option value="" disabled>choose an underlying</option>
        {#each donors as u (u.symbol)}<option value={u.symbol}>{u.symbol} · {u.name}</option>{/each}
      </select>
    </label>
    <fieldset class="space-y-1">
      {#each BORROW_KINDS as value (value)}
        <label class="flex gap-2"
          ><input type="radio" class="radio radio-xs mt-1" name="kind" {value} bind:group={kind} />{kindWords[
            value
          ]}</label
        >
      {/each}
    </fieldset>
    <fieldset class="flex flex-wrap items-center gap-3">
      <label class="flex items-center gap-2"
        ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={isFitted} />level fitted to {symbol}'s quotes</label
      >
      <label class="flex items-center gap-2 {isFitted ? 'opacity-50' : ''}"
        >moved by <input
          type="number"
          class="input input-sm w-20"
          step="0.1"
          min="-50"
          max="50"
          disabled={isFitted}
          bind:value={points}
          aria-label="Shift in volatility points"
        /> points</label
      >
    </fieldset>
    <label class="flex items-center gap-2"
      >strikes meet at a ratio of <input
        type="number"
        class="input input-sm w-24"
        step="0.001"
        min="0.5"
        max="2"
        bind:value={ratio}
        aria-label="Ratio of strikes over forwards"
      /></label
    >
    {#if trouble}<p role="alert" class="text-loss">{trouble}</p>{/if}
    <div class="flex justify-end gap-2 pt-2">
      {#if link}<button type="button" class="btn btn-sm mr-auto" onclick={() => send(true)}>borrow no longer</button
        >{/if}
      <button type="button" class="btn btn-sm" onclick={() => (isOpen = false)}>cancel</button>
      <button type="submit" class="btn btn-sm btn-primary">borrow</button>
    </div>
  </form>
</Dialog>
