<!-- Takes over as known what the quotes imply, or gives it back. -->
<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { dateText } from '$lib/ui/format';
  import { ask, troubleText } from '$lib/api/client/ask';
  import { giveCarryBackRoute, takeCarryRoute } from '$lib/api/contract/views';
  import type { CarryTerms } from '$lib/api/carry';
  import { viewState } from './view-state.svelte';

  const view = viewState();
  const carry = $derived(view.picture.carry);
  let isBusy = $state(false);
  let trouble = $state<string>();

  function impliedTerms(): CarryTerms | undefined {
    const { inferred, taken } = carry;
    if (!inferred) return undefined;
    // What was taken over before is part of what is known now.
    const before = taken ?? { financing: 0, borrow: 0, dividends: [] };
    return {
      from: view.picture.asOf,
      financing: before.financing + inferred.financing.value,
      borrow: before.borrow + inferred.borrow.value,
      dividends: [
        ...before.dividends,
        ...inferred.dividends.map((d) => ({ instant: d.instant, amount: d.amount.value })),
      ],
    };
  }

  async function send(asking: () => Promise<unknown>): Promise<void> {
    isBusy = true;
    trouble = undefined;
    try {
      await asking();
      await invalidateAll();
    } catch (error) {
      trouble = troubleText(error);
    }
    isBusy = false;
  }

  const parameters = $derived({ symbol: view.picture.underlying.symbol });
  const takeOver = () => send(() => ask(takeCarryRoute, { parameters, body: impliedTerms() }));
  const giveBack = () => send(() => ask(giveCarryBackRoute, { parameters }));
</script>

<div class="mt-1 flex flex-wrap items-center gap-2 text-[12px]">
  {#if carry.inferred}
    <button type="button" class="chip min-h-6 cursor-pointer" disabled={isBusy} onclick={takeOver}
      >take over as known from {dateText(view.picture.asOf.slice(0, 10), view.picture.asOf)}</button
    >
  {/if}
  {#if carry.taken}
    <span class="quiet text-[11.5px]"
      >taken over from {dateText(carry.taken.from.slice(0, 10), view.picture.asOf)} on, the past is derived anew</span
    >
    <button type="button" class="chip min-h-6 cursor-pointer" disabled={isBusy} onclick={giveBack}>give back</button>
  {/if}
  {#if trouble}<p class="text-loss" role="alert">{trouble}</p>{/if}
</div>
