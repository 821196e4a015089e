<!-- The legs: how many of which option, what they are taken at and what theory says; each is changed where it stands. -->
<script lang="ts">
  import type { TradedLegText } from '$lib/api/traded';
  import { legsText, MOST_CONTRACTS } from '$lib/api/picked-legs';
  import { figureScale, figureText, premiumDecimals, underlyingDecimals } from '$lib/measures';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { dateText, numberText, pointsText, signedText, strikeText } from '$lib/ui/format';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { MOST_HELD, paidText, type StructureParameters, TAKEN_AT } from './parameters';
  import {
    atExpiry,
    duplicated,
    expiryStepped,
    isSameOption,
    strikeStepped,
    turnedSide,
    without,
    withRatio,
  } from './structure-edit';
  import { legGreek, legWorth, type SceneLeg, type StructureScene } from './structure-scene';

  interface Props {
    scene: StructureScene;
    own: StructureParameters;
    isPending: boolean;
  }
  let { scene, own, isPending }: Props = $props();
  const view = quotedViewState();
  const TAKEN_WORDS = { mid: 'at mid', market: 'bid, offer', theory: 'at theory' } as const;
  const { legs } = $derived(view.context);
  const expiries = $derived(view.picture.expiries.filter((e) => e.outlier === null));
  const scale = $derived(figureScale(view.picture));
  const decimals = $derived(premiumDecimals(scale));
  const priceDecimals = $derived(underlyingDecimals(scale));
  const quote = (value: number | null | undefined) => figureText(value, 'quote', scale);

  const keep = (next: readonly TradedLegText[]) => view.address.set({ legs: legsText(next) });
  /** How far what it is taken at stands over theory, decimal of volatility; vega is told a point. */
  const pointsOver = (price: number | null, value: SceneLeg['value']) =>
    price === null || !value || !(value.vega > 0) ? null : (price - value.price) / value.vega / 100;
  /** A price that is typed; the mid again where nothing is. */
  function pay(leg: TradedLegText, price: number | undefined): void {
    const others = own.paid.filter((p) => !isSameOption(p, leg));
    const { expiry, strike, side } = leg;
    void view.address.set({
      paid: paidText(price === undefined ? others : [...others, { expiry, strike, side, price }]),
    });
  }
  /** Arrows step the strike, with Shift the expiry; the wheel does in a focused field. */
  function step(event: KeyboardEvent, at: number): void {
    const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : undefined;
    if (by === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    void keep(event.shiftKey ? expiryStepped(legs, at, by, expiries) : strikeStepped(legs, at, by, expiries));
  }
  function turn(event: WheelEvent, at: number): void {
    if (document.activeElement !== event.currentTarget) return;
    event.preventDefault();
    void keep(strikeStepped(legs, at, event.deltaY < 0 ? 1 : -1, expiries));
  }
</script>

<table class="w-full text-[12.5px]" data-testid="legs" aria-label="Legs">
  <thead>
    <tr class="text-soft border-line border-b text-[11.5px]">
      <th class="py-1 pr-2 text-right font-normal">contracts</th>
      <th class="px-2 text-left font-normal">expiry</th>
      <th class="px-2 text-right font-normal">strike</th>
      <th class="px-2 text-left font-normal">side</th>
      <th class="px-2 text-right font-normal">bid</th>
      <th class="px-2 text-right font-normal">offer</th>
      <th class="px-2 text-right font-normal">
        <select
          class="select select-xs w-[104px]"
          aria-label="What legs are taken at"
          value={own.take}
          onchange={(event) =>
            view.address.set({ take: event.currentTarget.value === 'mid' ? undefined : event.currentTarget.value })}
        >
          {#each TAKEN_AT as at (at)}<option value={at}>{TAKEN_WORDS[at]}</option>{/each}
        </select>
      </th>
      <th class="px-2 text-right font-normal">theory</th>
      <th class="px-2 text-right font-normal" title="Taken at, over theory, by its vega: points of volatility"
        >points over</th
      >
      <th class="px-2 text-right font-normal">volatility %</th>
      <th class="px-2 text-right font-normal">delta</th>
      <th></th>
    </tr>
  </thead>
  <tbody class="tabular-nums">
    {#each scene.legs as one, i (`${one.leg.expiry}${one.leg.strike}${one.leg.side}`)}
      {@const { leg, bid, ask, price, isTyped, value, verdict, valuedBy, settled } = one}
      {@const name = `${strikeText(leg.strike)} ${leg.side}`}
      <tr class="border-hair border-b" data-leg="{leg.expiry} {leg.strike} {leg.side}">
        <td class="py-0.5 pr-2 text-right">
          <TypedNumber
            label="Contracts of the {name}"
            text={signedText(leg.ratio, 0)}
            isOwn
            isWhole
            isNonzero
            within={[-MOST_CONTRACTS, MOST_CONTRACTS]}
            ontype={(ratio) => keep(withRatio(legs, i, ratio))}
          />
        </td>
        <td class="px-2">
          <select
            class="select select-xs {one.expiry?.strikes.length ? 'w-[92px]' : 'w-[132px]'}"
            aria-label="Expiry of the {name}"
            value={leg.expiry}
            onchange={(event) => keep(atExpiry(legs, i, event.currentTarget.value, expiries))}
          >
            {#each expiries as e (e.date)}<option value={e.date}>{dateText(e.date, view.picture.asOf)}</option>{/each}
            {#if !expiries.some((e) => e.date === leg.expiry)}<option value={leg.expiry}
                >{dateText(leg.expiry, view.picture.asOf)}{one.hasEnded ? ', ended' : ', not listed'}</option
              >{/if}
          </select>
        </td>
        <td class="px-2 text-right">
          <button
            type="button"
            class="text-own min-h-6 min-w-12 text-right font-semibold"
            aria-label="Strike {strikeText(leg.strike)}: arrows step it, with Shift the expiry"
            onkeydown={(event) => step(event, i)}
            onwheel={(event) => turn(event, i)}>{strikeText(leg.strike)}</button
          >
        </td>
        <td class="px-2">
          <button
            type="button"
            class="text-implied min-h-6"
            aria-label="{name}: turn to {leg.side === 'call' ? 'put' : 'call'}"
            onclick={() => keep(turnedSide(legs, i))}>{leg.side}</button
          >
        </td>
        {#if valuedBy === 'quote' || valuedBy === undefined}
          <td class="px-2 text-right {verdict ? 'text-soft' : ''}">{quote(bid)}</td>
          <td class="px-2 text-right {verdict ? 'text-soft' : ''}">{quote(ask)}</td>
        {:else}
          <td class="text-soft px-2 text-center" colspan="2" data-valued-by={valuedBy}
            >{settled ? `settled at ${numberText(settled.at, priceDecimals)}` : 'by the smile'}</td
          >
        {/if}
        <td class="px-2 text-right">
          <TypedNumber
            label="Price that the {name} is taken at"
            text={numberText(price, decimals)}
            isOwn={isTyped}
            within={[0, 1e9]}
            ontype={(typed) => pay(leg, typed)}
          />
          {#if isTyped}<button
              type="button"
              class="quiet min-h-6"
              aria-label="Take the {name} as the other legs"
              onclick={() => pay(leg, undefined)}>as others</button
            >{/if}
        </td>
        <td class="px-2 text-right font-semibold {isPending ? 'opacity-50' : ''}" aria-busy={isPending}
          >{isPending ? '' : numberText(legWorth(one), decimals)}</td
        >
        <td class="px-2 text-right" data-gap>{pointsText(pointsOver(price, value), 2)}</td>
        <td class="px-2 text-right">{value ? numberText(100 * value.volatility, 1) : '—'}</td>
        <td class="px-2 text-right">{numberText(legGreek(one, 'delta'), 2)}</td>
        <td class="pl-2 text-right whitespace-nowrap">
          <button
            type="button"
            class="kbd-mark"
            aria-label="Flip the {name}: {leg.ratio > 0 ? 'owe' : 'hold'} it"
            onclick={() => keep(withRatio(legs, i, -leg.ratio))}>±</button
          >
          <button
            type="button"
            class="kbd-mark"
            aria-label="Roll the {name} to the next expiry"
            onclick={() => keep(expiryStepped(legs, i, 1, expiries))}>→</button
          >
          <button
            type="button"
            class="kbd-mark"
            aria-label="Duplicate the {name} a strike farther out"
            onclick={() => keep(duplicated(legs, i, expiries))}>+1</button
          >
          <button type="button" class="kbd-mark" aria-label="Remove the {name}" onclick={() => keep(without(legs, i))}
            >×</button
          >
        </td>
      </tr>
    {/each}
    <tr data-leg="underlying">
      <td class="py-0.5 pr-2 text-right">
        <TypedNumber
          label="Underlying held, in contracts' worth"
          text={signedText(own.held, 0)}
          isOwn={own.held !== 0}
          within={[-MOST_HELD, MOST_HELD]}
          ontype={(held) => view.address.set({ held: held === 0 ? undefined : String(held) })}
        />
      </td>
      <td class="px-2" colspan="5">underlying, each as much as one contract is on</td>
      <td class="px-2 text-right">{numberText(scene.underlyingPrice, decimals)}</td>
      <td class="px-2 text-right font-semibold">{numberText(scene.underlyingPrice, decimals)}</td>
      <td></td>
      <td></td>
      <td class="px-2 text-right">1.00</td>
      <td></td>
    </tr>
  </tbody>
</table>
