<!-- Takes over as known what the quotes imply, or gives it back. -->
<script lang="ts">
  import { symbolPart } from '@umwelt/market/symbol';
  import { invalidateAll } from '$app/navigation';
  import { dateText } from '$lib/ui/format';
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

  async function send(method: 'PUT' | 'DELETE'): Promise<void> {
    const body = method === 'PUT' ? impliedTerms() : undefined;
    isBusy = true;
    trouble = undefined;
    try {
      const response = await fetch(`/api/v1/underlyings/${symbolPart(view.picture.underlying.symbol)}/carry`, {
        method,
        ...(body && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
      });
      if (response.ok) await invalidateAll();
      else trouble = ((await response.json()) as { detail?: string }).detail ?? 'It was not kept.';
    } catch {
      trouble = 'The server does not answer; try again.';
    }
    isBusy = false;
  }
</script>

<div class="mt-1 flex flex-wrap items-center gap-2 text-[12px]">
  {#if carry.inferred}
    <button type="button" class="chip min-h-6 cursor-pointer" disabled={isBusy} onclick={() => send('PUT')}
      >take over as known from {dateText(view.picture.asOf.slice(0, 10), view.picture.asOf)}</button
    >
  {/if}
  {#if carry.taken}
    <span class="quiet text-[11.5px]"
      >taken over from {dateText(carry.taken.from.slice(0, 10), view.picture.asOf)} on, the past is derived anew</span
    >
    <button type="button" class="chip min-h-6 cursor-pointer" disabled={isBusy} onclick={() => send('DELETE')}
      >give back</button
    >
  {/if}
  {#if trouble}<p class="text-loss" role="alert">{trouble}</p>{/if}
</div>
