<!-- A put and a call the same distance from the forward, side by side: what the tilt costs. -->
<script lang="ts">
  import TableMenu from '../../shell/table-menu.svelte';
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import { dateText, numberText, pointsText, signedText, tickDecimals, volatilityText } from '$lib/ui/format';
  import { type DistanceCount, DISTANCES, type SameDistanceRow } from '$lib/theory';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    by: DistanceCount;
    rows: readonly SameDistanceRow[];
    /** Whether values still leave early exercise out */
    isProvisional: boolean;
    trouble: string | undefined;
  }
  let { by, rows, isProvisional, trouble }: Props = $props();
  const view = quotedViewState();
  const names: Record<DistanceCount, string> = { percent: '% away', strikes: 'strikes away', delta: 'delta' };
  const underlying = $derived(view.picture.underlying);
  const isContract = $derived(view.context.basis === 'contract');
  const factor = $derived(isContract ? underlying.multiplier : 1);
  const decimals = $derived(tickDecimals(underlying.optionTick));
  const strikeDecimals = $derived(by === 'strikes' ? tickDecimals(underlying.underlyingTick) : 2);
  const priceText = (price: number | undefined) =>
    numberText(price === undefined ? undefined : price * factor, decimals);
  const dimmed = $derived(isProvisional ? 'opacity-50' : '');
</script>

<div class="flex items-center gap-4">
  <div class="segment" role="group" aria-label="Distance counted in">
    {#each DISTANCES as value (value)}
      <button
        type="button"
        aria-pressed={by === value}
        onclick={() => view.address.set({ by: value === 'percent' ? undefined : value })}>{names[value]}</button
      >
    {/each}
  </div>
  {#if view.focus}
    <span class="quiet"
      >{dateText(view.focus.date, view.picture.asOf)}, forward {numberText(
        view.focus.forward,
        tickDecimals(underlying.underlyingTick),
      )}, values on the fitted smile per {isContract ? `contract of ${underlying.multiplier}` : 'share'}</span
    >
  {/if}
</div>
{#if rows.length === 0}
  <p class="quiet p-8 font-serif text-[15px]">
    {view.focus?.smile?.model === 'flat'
      ? 'Too few quotes of this expiry make a smile: it has a level, the same both ways, and nothing to compare.'
      : view.focus
        ? 'This expiry has no smile to read from.'
        : 'Pick an expiry in the ribbon above.'}
  </p>
{:else}
  <TheoryTrouble {trouble} />
  <TableMenu name="{underlying.symbol} same distance {view.focus?.date}" />
  <table class="figures mt-2 text-[13px]" data-testid="same-distance">
    <thead>
      <tr
        ><th>{names[by]}</th><th>put strike</th><th>put vol %</th><th>put value</th><th>call value</th><th
          >call vol %</th
        ><th>call strike</th><th>put / call</th><th>difference ¤</th><th>vol points</th></tr
      >
    </thead>
    <tbody>
      {#each rows as { distance, put, call } (distance)}
        <tr class="border-hair border-b">
          <td class="font-semibold">{distance}</td>
          <td>{numberText(put?.strike, strikeDecimals)}</td>
          <td class="text-implied">{volatilityText(put?.volatility)}</td>
          <td class={dimmed}>{priceText(put?.price)}</td>
          <td class={dimmed}>{priceText(call?.price)}</td>
          <td class="text-implied">{volatilityText(call?.volatility)}</td>
          <td>{numberText(call?.strike, strikeDecimals)}</td>
          <td class="font-semibold {dimmed}"
            >{put?.price && call?.price ? numberText(put.price / call.price, 2) : '—'}</td
          >
          <td class={dimmed}
            >{put?.price !== undefined && call?.price !== undefined
              ? signedText((put.price - call.price) * factor, decimals)
              : '—'}</td
          >
          <td>{put && call ? pointsText(put.volatility - call.volatility) : '—'}</td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
