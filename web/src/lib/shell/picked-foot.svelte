<!-- The options that were picked, and what they are together. -->
<script lang="ts">
  import TheoryTrouble from './theory-trouble.svelte';
  import type { TradedLegText } from '$lib/api/traded';
  import { legTheory, spreadParts } from '$lib/theory';
  import { TheoryValues } from '$lib/theory/thread';
  import { figureScale, figureText, premiumDecimals } from '$lib/measures';
  import { dateText, signedText, strikeText } from '$lib/ui/format';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { legsText, pick } from '$lib/api/picked-legs';
  import { together } from './legs-together';

  const view = quotedViewState();
  const { legs } = $derived(view.context);
  const underlying = $derived(view.picture.underlying);
  const scale = $derived(figureScale(view.picture));
  const quote = (value: number | null | undefined) => figureText(value, 'quote', scale);
  const parts = $derived(spreadParts(view.picture, [legs]));
  const values = new TheoryValues(() => ({ parts, inForce: view.inForce, stamp: view.theoryStamp }));
  const ofLegs = $derived(legTheory(legs, parts, values.values));
  const quotes = $derived(
    legs.map(({ expiry, side, strike }) => {
      const listed = view.picture.expiries.find((e) => e.date === expiry);
      const i = listed?.strikes.indexOf(strike) ?? -1;
      return { bid: listed?.[side].bid[i] ?? null, ask: listed?.[side].ask[i] ?? null };
    }),
  );
  const net = $derived(together(legs, ofLegs, quotes));
  const unlisted = $derived(
    legs.filter(
      ({ expiry, strike }) => !view.picture.expiries.find((e) => e.date === expiry)?.strikes.includes(strike),
    ),
  );
  const nameOf = ({ expiry, strike, side }: TradedLegText) =>
    `${expiry === view.focus?.date ? '' : `${dateText(expiry, view.picture.asOf)} `}${strikeText(strike)} ${side}`;
  const keep = (next: readonly TradedLegText[]) => view.address.set({ legs: legsText(next) });
</script>

{#if legs.length > 0}<div
    class="border-line bg-sheet mt-3 flex flex-wrap items-baseline gap-x-3 gap-y-1 border px-3 py-1.5 text-[12.5px]"
    role="group"
    aria-label="Picked options"
    data-testid="picked"
  >
    <span class="quiet">picked</span>
    {#each legs as leg (`${leg.expiry}${leg.strike}${leg.side}`)}
      <span class="text-own flex items-baseline gap-1 font-semibold">
        {signedText(leg.ratio, 0)}
        {nameOf(leg)}
        <button
          type="button"
          class="kbd-mark"
          aria-label="One {nameOf(leg)} more"
          onclick={() => keep(pick(legs, leg, 1))}>+</button
        >
        <button
          type="button"
          class="kbd-mark"
          aria-label="One {nameOf(leg)} less"
          onclick={() => keep(pick(legs, leg, -1))}>−</button
        >
      </span>
    {/each}
    <span class={values.isPending ? 'opacity-50' : ''}>
      theory <strong data-testid="picked-theory">{signedText(net.theory, premiumDecimals(scale))}</strong>
      {underlying.currency}
    </span>
    <span>
      market <strong data-testid="picked-market">{quote(net.bid)} … {quote(net.ask)}</strong>
      {underlying.currency}
    </span>
    <span class={values.isPending ? 'opacity-50' : ''}>
      delta <strong data-testid="picked-delta">{figureText(net.delta, 'delta', scale)}</strong>
    </span>
    <button type="button" class="text-implied ml-auto" onclick={() => keep([])}>clear</button>
    {#if unlisted.length > 0}
      <span class="text-event basis-full" role="status"
        >{unlisted.map(nameOf).join(', ')}
        {unlisted.length === 1 ? 'is' : 'are'} not listed at this instant: nothing is known of them together.</span
      >
    {/if}
    <TheoryTrouble trouble={values.trouble} />
  </div>{/if}
