<!-- Which sums go to nothing, by which options and the underlying, and what is left after each trade. -->
<script lang="ts">
  import { HEDGED_GREEKS, type HedgedGreek } from '@umwelt/core/hedge';
  import type { PickableOption } from '$lib/api/picked-legs';
  import { counted, legsText } from '$lib/api/picked-legs';
  import { UNDERLYING_NAME } from '$lib/api/structure';
  import { TheoryValues } from '$lib/theory/thread';
  import { legTheory, solveHedge, spreadParts } from '$lib/theory';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import TheoryTrouble from '$lib/shell/theory-trouble.svelte';
  import { dateText, numberText, signedText, significantText, strikeText } from '$lib/ui/format';
  import HedgeFigures from './hedge-figures.svelte';
  import { hedgeOptionsText, type StructureParameters } from './parameters';
  import { isSameOption } from './structure-edit';
  import type { SceneSums } from './structure-scene';

  interface Props {
    own: StructureParameters;
    sums: SceneSums;
    multiplier: number;
    /** Of the underlying that is traded */
    price: number;
  }
  let { own, sums, multiplier, price }: Props = $props();
  const view = quotedViewState();
  const MOST_OPTIONS = 8;
  const more = $derived(MOST_OPTIONS - own.by.length - own.typed.length);
  const expiries = $derived(view.picture.expiries.filter((e) => e.smile && e.outlier === null));
  const legs = $derived(own.by.map((option) => ({ ...option, ratio: 1 })));
  const parts = $derived(spreadParts(view.picture, [legs]));
  const values = new TheoryValues(() => ({
    ...{ parts, inForce: view.inForce, stamp: view.theoryStamp, isSecondOrder: true },
  }));
  const ofOptions = $derived(legTheory(legs, parts, values.values));
  const nameOf = ({ expiry, strike, side }: PickableOption) =>
    `${dateText(expiry, view.picture.asOf)} ${strikeText(strike)} ${side}`;
  /** Half of what bid and offer lie apart, in currency; trading one costs that. */
  const costOf = ({ expiry, strike, side }: PickableOption) => {
    const listed = view.picture.expiries.find((e) => e.date === expiry);
    const at = listed?.strikes.indexOf(strike) ?? -1;
    const [bid, ask] = [listed?.[side].bid[at] ?? null, listed?.[side].ask[at] ?? null];
    return bid === null || ask === null ? undefined : 0.5 * (ask - bid) * multiplier;
  };
  const midOf = ({ expiry, strike, side }: PickableOption) => {
    const listed = view.picture.expiries.find((e) => e.date === expiry);
    const at = listed?.strikes.indexOf(strike) ?? -1;
    const [bid, ask] = [listed?.[side].bid[at] ?? null, listed?.[side].ask[at] ?? null];
    return bid === null || ask === null ? undefined : 0.5 * (bid + ask);
  };
  const targets = $derived(own.sums);
  const isTyped = $derived(own.elsewhere !== undefined || own.typed.length > 0);
  /** Asked for before anything is typed. */
  let isTyping = $state(false);
  /** Sums of the legs and of what is held elsewhere, where both are known. */
  const position = $derived(
    Object.fromEntries(
      HEDGED_GREEKS.map((name) => {
        const elsewhere = own.elsewhere ? own.elsewhere[name] : 0;
        const ofLegs = sums[name];
        return [name, ofLegs === null || elsewhere === undefined ? undefined : ofLegs + elsewhere];
      }),
    ) as Partial<Record<HedgedGreek, number>>,
  );
  /** Whose part of the chosen sums is to be typed. */
  const lacking = $derived.by(() => {
    const typed = [
      ...(own.elsewhere ? [{ name: 'what is held elsewhere', exposures: own.elsewhere }] : []),
      ...own.typed,
    ];
    return typed.flatMap(({ name, exposures }) =>
      targets.flatMap((t) => (exposures[t] === undefined ? `${t} of ${name}` : [])),
    );
  });
  const solved = $derived.by(() => {
    if (targets.length === 0 || targets.some((name) => position[name] === undefined)) return undefined;
    const instruments = own.by.flatMap((option, i) => {
      const value = ofOptions[i];
      if (!value) return [];
      const per = {
        ...{ delta: value.delta, gamma: value.gamma, theta: value.theta, vega: value.vega },
        ...{ vanna: value.second?.vanna ?? NaN, volga: value.second?.volga ?? NaN },
      };
      const scaled = Object.fromEntries(Object.entries(per).map(([name, v]) => [name, v * multiplier])) as typeof per;
      if (targets.some((name) => !Number.isFinite(scaled[name]))) return [];
      return [{ name: nameOf(option), ...scaled, cost: costOf(option) }];
    });
    if (instruments.length < own.by.length || lacking.length > 0) return undefined;
    const typed = own.typed.map(({ name, exposures, cost }) => ({ name, ...exposures, cost }));
    return solveHedge({
      ...{ position, instruments: [...instruments, ...typed], neutralize: targets },
      wholeContracts: own.whole === 'yes',
    });
  });
  /** What a trade pays at mid, and half of what its bid and offer lie apart; undefined where that is not known. */
  function tradeOf(
    { name, quantity }: { name: string; quantity: number },
    i: number,
  ): { premium: number | undefined; halfWidth: number | undefined } {
    if (name === UNDERLYING_NAME) return { premium: quantity * price, halfWidth: undefined };
    const option = own.by.at(i);
    const cost = option ? costOf(option) : own.typed.at(i - own.by.length)?.cost;
    const mid = option && midOf(option);
    return {
      premium: mid === undefined ? undefined : quantity * mid * multiplier,
      halfWidth: cost === undefined ? undefined : Math.abs(quantity) * cost,
    };
  }
  /** Sums before and after all trades, of those that are known at both ends. */
  const moved = $derived.by(() => {
    if (!solved?.ok) return [];
    const { steps } = solved.answer;
    const [first, last] = [steps[0], steps[steps.length - 1]];
    return HEDGED_GREEKS.flatMap((name) => {
      const [before, after] = [first[name], last[name]];
      return before === undefined || after === undefined ? [] : [{ name, before, after }];
    });
  });
  const grown = $derived(moved.filter(({ before, after }) => Math.abs(after) > Math.abs(before) * (1 + 1e-9)));
  const leftOver = $derived(
    own.whole === 'yes'
      ? moved.filter(
          ({ name, before, after }) => targets.includes(name) && after !== 0 && Math.abs(after) <= Math.abs(before),
        )
      : [],
  );
  /** Of the typed ones, those without a cost to choose by. */
  const uncosted = $derived(own.typed.flatMap(({ name, cost }) => (cost === undefined ? [name] : [])));
  const REASONS = $derived({
    inconsistent: 'These options cannot bring all of these sums to nothing: allow another, or choose fewer.',
    underdetermined:
      uncosted.length > 0
        ? `More than one way does it: type the half spread of ${uncosted.join(', ')}, so that the cheapest can be chosen.`
        : 'More than one way does it, and an option without bid and offer has no cost to choose by.',
  });

  /** Two decimals, and more of what would show as none of them. */
  const sumText = (value: number | undefined) =>
    value === undefined
      ? '–'
      : value !== undefined && value !== 0 && Math.abs(value) < 0.1
        ? significantText(value, 2)
        : numberText(value, 2);

  let expiry = $state<string>();
  let strike = $state<number>();
  let side = $state<'call' | 'put'>('call');
  const from = $derived(expiries.find((e) => e.date === (expiry ?? view.focus?.date)) ?? expiries.at(0));
  const nearest = $derived(
    from?.strikes.reduce((best, k) => (Math.abs(k - from.forward) < Math.abs(best - from.forward) ? k : best)),
  );
  const setOptions = (options: readonly PickableOption[]) => view.address.set({ by: hedgeOptionsText(options) });
  function allow(): void {
    const at = strike !== undefined && from?.strikes.includes(strike) ? strike : nearest;
    if (!from || at === undefined) return;
    const option = { expiry: from.date, strike: at, side };
    if (!own.by.some((o) => isSameOption(o, option))) void setOptions([...own.by, option]);
  }
  function toggle(name: HedgedGreek): void {
    const next = targets.includes(name) ? targets.filter((t) => t !== name) : [...targets, name];
    void view.address.set({ sums: next.length === 1 && next[0] === 'delta' ? undefined : next.join(',') });
  }
  /** The trades become legs, whole contracts of them; the underlying in units of a contract. */
  function take(): void {
    if (!solved?.ok) return;
    const { trades } = solved.answer;
    const added = own.by.map((option, i) => ({ ...option, ratio: Math.round(trades[i].quantity) }));
    // What is listed nowhere is no leg.
    const underlying = trades.find((t) => t.name === UNDERLYING_NAME)?.quantity ?? 0;
    const held = own.held + underlying / multiplier;
    void view.address.set({
      legs: legsText(counted([...view.context.legs, ...added])),
      held: held === 0 ? undefined : String(Number(held.toFixed(4))),
    });
  }
</script>

<div class="flex flex-wrap items-baseline gap-x-3 gap-y-1 text-[12.5px]">
  <span class="quiet">bring to nothing</span>
  {#each HEDGED_GREEKS as name (name)}
    <label class="flex items-baseline gap-1"
      ><input
        type="checkbox"
        class="checkbox checkbox-xs translate-y-0.5"
        checked={targets.includes(name)}
        onchange={() => toggle(name)}
      />{name}</label
    >
  {/each}
  <label class="flex items-baseline gap-1"
    ><input
      type="checkbox"
      class="checkbox checkbox-xs translate-y-0.5"
      checked={own.whole === 'yes'}
      onchange={() => view.address.set({ whole: own.whole === 'yes' ? 'no' : undefined })}
    />whole contracts</label
  >
</div>
<div class="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1 text-[12.5px]">
  <span class="quiet">by</span>
  {#each own.by as option (nameOf(option))}
    <span class="text-own font-semibold whitespace-nowrap"
      >{nameOf(option)}
      <button
        type="button"
        class="kbd-mark"
        aria-label="Allow the {nameOf(option)} no longer"
        onclick={() => setOptions(own.by.filter((o) => !isSameOption(o, option)))}>×</button
      ></span
    >
  {/each}
  {#if from && more > 0}
    <select
      class="select select-xs w-[92px]"
      aria-label="Expiry of an option that may be traded"
      value={from.date}
      onchange={(event) => (expiry = event.currentTarget.value)}
    >
      {#each expiries as e (e.date)}<option value={e.date}>{dateText(e.date, view.picture.asOf)}</option>{/each}
    </select>
    <select
      class="select select-xs w-[84px]"
      aria-label="Strike of an option that may be traded"
      value={strike !== undefined && from.strikes.includes(strike) ? strike : nearest}
      onchange={(event) => (strike = Number(event.currentTarget.value))}
    >
      {#each from.strikes as k (k)}<option value={k}>{strikeText(k)}</option>{/each}
    </select>
    <select class="select select-xs w-[64px]" aria-label="Side of an option that may be traded" bind:value={side}>
      <option value="call">call</option><option value="put">put</option>
    </select>
    <button type="button" class="btn btn-xs" onclick={allow}>allow</button>
  {/if}
  {#each own.typed as option (option.name)}<span class="text-own font-semibold whitespace-nowrap">{option.name}</span
    >{/each}
  {#if targets.includes('delta')}<span class="quiet">and the underlying, last</span>{/if}
  {#if !isTyped && !isTyping}
    <button type="button" class="text-implied min-h-6" onclick={() => (isTyping = true)}>type sums or Greeks…</button>
  {/if}
</div>
{#if isTyped || isTyping}<HedgeFigures {own} {more} />{/if}
{#if solved === undefined}
  <p class="quiet mt-2 text-[12.5px]">
    {#if targets.length === 0}
      Choose a sum.
    {:else if lacking.length > 0}
      Type {lacking.join(', ')}.
    {:else}
      The sums of the legs are not known: a leg has no theory yet.
    {/if}
  </p>
{:else if !solved.ok}
  <p class="text-event mt-2 text-[12.5px]" role="status">{REASONS[solved.reason]}</p>
{:else}
  {@const { trades, steps } = solved.answer}
  <table class="mt-2 text-[12.5px]" data-testid="hedge-steps" aria-label="Sums after each trade">
    <thead>
      <tr class="text-soft border-line border-b text-[11.5px]">
        <th class="py-1 pr-3 text-left font-normal">after</th>
        <th class="px-3 text-right font-normal">trade</th>
        <th class="px-3 text-right font-normal" title="What the trade pays, or brings in below nothing, at mid"
          >premium</th
        >
        <th class="px-3 text-right font-normal" title="Half of what bid and offer lie apart, of all contracts"
          >half width</th
        >
        {#each HEDGED_GREEKS as name (name)}<th class="px-3 text-right font-normal">{name}</th>{/each}
      </tr>
    </thead>
    <tbody class="tabular-nums {values.isPending ? 'opacity-50' : ''}">
      {#each steps as step, i (i)}
        {@const traded = i === 0 ? undefined : tradeOf(trades[i - 1], i - 1)}
        <tr class="border-hair border-b" data-step={step.after}>
          <td class="py-1 pr-3">{i === 0 ? 'now' : step.after}</td>
          <td class="px-3 text-right font-semibold" data-trade
            >{i === 0 ? '' : signedText(trades[i - 1].quantity, own.whole === 'yes' ? 0 : 2)}</td
          >
          <td class="px-3 text-right" data-premium>{i === 0 ? '' : sumText(traded?.premium)}</td>
          <td class="px-3 text-right" data-half-width>{i === 0 ? '' : sumText(traded?.halfWidth)}</td>
          {#each HEDGED_GREEKS as name (name)}<td class="px-3 text-right" data-sum={name}>{sumText(step[name])}</td
            >{/each}
        </tr>
      {/each}
    </tbody>
    <tfoot class="tabular-nums">
      <tr class="text-soft" data-step="before">
        <th class="py-1 pr-3 text-left font-normal">before</th>
        <td></td><td></td><td></td>
        {#each HEDGED_GREEKS as name (name)}<td class="px-3 text-right">{sumText(steps[0][name])}</td>{/each}
      </tr>
    </tfoot>
  </table>
  {#if grown.length > 0}
    <p class="text-event mt-1 text-[12.5px]" role="status" data-testid="hedge-grown">
      {grown.map(({ name, before, after }) => `${name} grows from ${sumText(before)} to ${sumText(after)}`).join('; ')}.
    </p>
  {/if}
  {#if leftOver.length > 0}
    <p class="quiet mt-1 text-[12.5px]" data-testid="hedge-left">
      Whole contracts leave {leftOver
        .map(({ name, before, after }) => `${name} ${sumText(after)} of ${sumText(before)}`)
        .join(', ')}.
    </p>
  {/if}
  <p class="quiet mt-1 flex items-baseline gap-3 text-[12.5px]">
    <span
      >Per position; theta per day, vega, vanna and volga per point. Options trade in contracts, the underlying in
      units.</span
    >
    <button type="button" class="btn btn-xs" onclick={take}
      >add these trades to the legs{own.typed.length > 0 ? ', but for what is typed' : ''}</button
    >
  </p>
{/if}
<TheoryTrouble trouble={values.trouble} />
