<!-- How likely the position is to reach a profit or a loss at any moment before the first expiry, and which comes first. -->
<script lang="ts">
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { ABOVE_ZERO } from '$lib/ui/number-input';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { moneyText } from '$lib/measures';
  import { dateText, numberText, probabilityText } from '$lib/ui/format';
  import { measureText } from './structure-measure';
  import type { StructureParameters } from './parameters';
  import { StructureAnswers } from './structure-answers.svelte';
  import type { StructureInput } from './structure-input';
  import type { ReachInput, StructureReach } from './structure-reach';
  import type { FiguredStructure } from './figured-structure';

  interface Props {
    own: StructureParameters;
    input: StructureInput;
    figured: FiguredStructure;
    currency: string;
  }
  let { own, input, figured, currency }: Props = $props();
  const view = quotedViewState();
  const HALF = 0.5;
  const { front, multiplier, sums } = $derived(figured);
  /** Half of what can be made or lost (common practice, no source); as much as it cost where that has no end. */
  const usual = (most: number | undefined) =>
    HALF * (most === undefined ? Math.abs(sums.cost ?? 0) : most * multiplier);
  /** As it is written. */
  const rounded = (value: number) => Number(value.toFixed(value >= 100 ? 0 : 2));
  const target = $derived(own.target ?? rounded(usual(front?.maxProfit)));
  const limit = $derived(own.limit ?? -rounded(usual(front?.maxLoss)));
  const answers = new StructureAnswers<ReachInput, StructureReach | undefined>(
    () => ({ ...input, target, limit }),
    (thread, request) => thread.structureReach(request),
  );
  const reach = $derived(answers.answer?.value);
  const isOld = $derived(
    answers.answer?.request.target !== target ||
      answers.answer.request.limit !== limit ||
      answers.answer.request.legs !== input.legs,
  );
  const rows = $derived.by(() => {
    if (!reach) return [];
    const { chances } = reach;
    const [first, second] = [chances.targetFirst, chances.limitFirst];
    return [
      { id: 'target', name: `${measureText(target, 'profit')} at any moment`, drawn: chances.target },
      { id: 'limit', name: `${measureText(limit, 'profit')} at any moment`, drawn: chances.limit },
      { id: 'targetFirst', name: 'the profit first', drawn: first },
      { id: 'limitFirst', name: 'the loss first', drawn: second },
      {
        id: 'neither',
        name: 'neither',
        drawn: first && second && { chance: 1 - first.chance - second.chance, standardError: undefined },
      },
    ];
  });
</script>

<div class="flex flex-wrap items-baseline gap-x-3 gap-y-1 text-[12.5px]">
  <span class="quiet">profit of</span>
  <TypedNumber
    label="Profit that is waited for, {currency}"
    text={moneyText(target)}
    isOwn={own.target !== undefined}
    within={[-1e12, 1e12]}
    ontype={(typed) => view.address.set({ target: String(typed) })}
  />
  <span class="quiet">or loss of</span>
  <TypedNumber
    label="Loss that ends it, {currency}"
    text={moneyText(-limit)}
    isOwn={own.limit !== undefined}
    within={ABOVE_ZERO}
    ontype={(typed) => view.address.set({ limit: String(-typed) })}
  />
  <span class="quiet">{currency}, before {dateText(figured.scene.front?.date ?? '', figured.asOf)}</span>
  {#if own.target !== undefined || own.limit !== undefined}<button
      type="button"
      class="quiet min-h-6"
      onclick={() => view.address.set({ target: undefined, limit: undefined })}>half of the most</button
    >{/if}
</div>
{#if answers.trouble}<p class="text-loss mt-1 text-[12.5px]" role="alert">{answers.trouble}</p>{/if}
{#if reach}
  <table
    class="mt-2 text-[12.5px] {isOld ? 'opacity-50' : ''}"
    data-testid="reach"
    aria-label="Chance to reach a profit or a loss"
    aria-busy={isOld}
  >
    <tbody class="tabular-nums">
      {#each rows as row (row.id)}
        <tr class="border-hair border-b" data-reach={row.id}>
          <th class="py-0.5 pr-6 text-left font-normal">{row.name}</th>
          <td class="text-right font-semibold">{probabilityText(row.drawn?.chance)}</td>
          <td class="quiet pl-3"
            >{row.drawn?.standardError === undefined ? '' : `± ${numberText(100 * row.drawn.standardError, 1)}`}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="quiet mt-1 text-[11.5px]">
    {reach.now >= target || reach.now <= limit
      ? `It stands at ${measureText(reach.now, 'profit')} now, so that is reached already. `
      : ''}By {numberText(reach.paths, 0)} drawn paths whose price has on each day the law of the surface, with what lies
    between days; ± is one standard error. Mids are taken to be had: bids and offers are not paid.
  </p>
{:else if !answers.trouble && answers.answer}
  <p class="quiet mt-2 text-[12.5px]">The first expiry has no smile: nothing tells how the price goes there.</p>
{:else if !answers.trouble}
  <p class="quiet mt-2 text-[12.5px]" aria-busy="true">Drawing paths.</p>
{/if}
