<!-- What the structure costs, can bring and lose, how its measures stand on the day that is looked at, and how likely it pays. -->
<script lang="ts">
  import { figureScale } from '$lib/measures';
  import Figure from '$lib/shell/figure.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { dateText, numberText, probabilityText, signedText } from '$lib/ui/format';
  import type { MarketShift } from '@umwelt/core/structure';
  import { measureText, measureWords, type MeasureScale, SHOWN_MEASURES, shownColumn } from './structure-measure';
  import { FIGURES_OF, type StructureParameters } from './parameters';
  import type { FiguredStructure } from './figured-structure';
  import { shownFigures } from './structure-workings';

  interface Props {
    figured: FiguredStructure;
    /** Days from now that are looked at beside the first expiry */
    day: number;
    shift: MarketShift | undefined;
    scale: MeasureScale;
    decimals: number;
    currency: string;
    per: StructureParameters['per'];
  }
  let { figured, day, shift, scale, decimals, currency, per }: Props = $props();
  const view = quotedViewState();
  const PER_WORDS = { position: 'whole position', structure: 'one of it', share: 'per share of one' } as const;
  const SHOWN_GRID = ['profit', 'delta', 'gamma', 'theta', 'vega', 'rho'] as const;
  /** Letters of a figure with its name that fit into half of the panel. */
  const MOST_BESIDE = 20;
  /** Points of volatility beside the one that is looked at. */
  const BESIDE = [-2, 0, 2];
  const { scene, front, asOf, at } = $derived(figured);
  const figures = $derived(shownFigures(figured, figureScale(view.picture)));
  const isOnDay = $derived(day > 0 && scene.front !== undefined && day < scene.front.days);
  const days = $derived([
    ...(isOnDay ? [{ days: day, name: `in ${numberText(day, 0)} days` }] : []),
    ...(scene.front ? [{ days: Infinity, name: dateText(scene.front.date, asOf) }] : []),
  ]);
  const chances = $derived(
    days.map((row) => ({
      ...row,
      cells: BESIDE.map(
        (points) =>
          scene.on(row.days, { ...shift, parallel: (shift?.parallel ?? 0) + points / 100 })?.probabilityOfProfit,
      ),
    })),
  );
  /** All measures at the price that is looked at: now, on the day, at the first expiry. */
  const looked = $derived.by(() => {
    const places = [{ days: 0, name: 'now' }, ...days];
    const grids = places.map((p) => scene.grid([p.days], Float64Array.of(at), { shift, measures: SHOWN_GRID }));
    return { places, grids };
  });
</script>

<div class="mb-1 flex items-center justify-between gap-2">
  <h3 class="caption">Figures <span class="normal-case">· {currency}</span></h3>
  <select
    class="select select-xs w-[124px]"
    aria-label="What figures and charts are of"
    value={per}
    onchange={(event) =>
      view.address.set({ per: event.currentTarget.value === 'position' ? undefined : event.currentTarget.value })}
  >
    {#each FIGURES_OF as of (of)}<option value={of}>{PER_WORDS[of]}</option>{/each}
  </select>
</div>
<dl class="grid grid-flow-row-dense grid-cols-2 gap-x-4 text-[12.5px]" data-testid="structure-figures">
  {#each figures as figure (figure.id)}
    <div
      class="border-hair flex items-center justify-between gap-2 border-b leading-6 {figure.label.length > 15 ||
      figure.label.length + figure.text.length > MOST_BESIDE
        ? 'col-span-2'
        : ''}"
    >
      <dt class="text-soft whitespace-nowrap">{figure.label}</dt>
      <dd class="text-right whitespace-nowrap tabular-nums"><Figure id={figure.id} text={figure.text} /></dd>
    </div>
  {/each}
  <div class="border-hair col-span-2 flex justify-between gap-2 border-b py-0.5">
    <dt class="text-soft">break-even</dt>
    <dd class="text-right tabular-nums" data-testid="break-evens">
      {front ? front.breakEvens.map((b) => numberText(b, decimals)).join(' · ') || 'none' : '—'}
    </dd>
  </div>
</dl>
{#if looked.grids[0]}
  <h3 class="caption mt-3 mb-1">
    At {numberText(at, decimals)}{shift ? ', volatility or rate moved' : ''}
  </h3>
  <table class="w-full text-[12.5px]" data-testid="looked-at" aria-label="Measures at the price that is looked at">
    <thead>
      <tr class="text-soft text-[11.5px]">
        <th></th>
        {#each looked.places as place (place.name)}<th class="text-right font-normal">{place.name}</th>{/each}
      </tr>
    </thead>
    <tbody class="tabular-nums">
      {#each SHOWN_MEASURES as measure (measure)}
        <tr class="border-hair border-t" data-measure={measure}>
          <th class="py-0.5 text-left font-normal">{measureWords(measure)}</th>
          {#each looked.grids as grid, i (i)}
            <td class="text-right">{measureText(grid && shownColumn(grid, measure, scale)[0], measure)}</td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
{#if chances.length > 0}
  <h3 class="caption mt-3 mb-1">Chance of profit</h3>
  <table
    class="w-full text-[12.5px]"
    data-testid="structure-chances"
    aria-label="Chance of profit by day and volatility"
  >
    <thead>
      <tr class="text-soft text-[11.5px]">
        <th class="text-left font-normal">volatility</th>
        {#each BESIDE as points (points)}<th class="text-right font-normal"
            >{points === 0 ? (shift ? 'as moved' : 'fitted') : `${signedText(points, 0)} points`}</th
          >{/each}
      </tr>
    </thead>
    <tbody class="tabular-nums">
      {#each chances as row (row.name)}
        <tr class="border-hair border-t" data-day={row.days}>
          <th class="py-0.5 text-left font-normal">{row.name}</th>
          {#each row.cells as chance, i (i)}<td class="text-right" data-points={BESIDE[i]}>{probabilityText(chance)}</td
            >{/each}
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="quiet mt-1 text-[11.5px]">
    By the law of the smile until that day, which a shift leaves as it is; it moves what is left after it.
  </p>
{/if}
