<!-- What the structure costs, can bring and lose, and how likely it pays on two days and at three volatilities. -->
<script lang="ts">
  import type { SurfaceStructure } from '@umwelt/core/structure';
  import { dateText, numberText, pointsText, probabilityText, signedSignificantText, signedText } from '$lib/ui/format';
  import type { SceneSums, StructureScene } from './structure-scene';

  interface Props {
    scene: StructureScene;
    sums: SceneSums;
    front: SurfaceStructure | undefined;
    /** Days from now that are looked at beside the first expiry */
    day: number;
    /** On every volatility, decimal */
    shift: number;
    multiplier: number;
    decimals: number;
    asOf: string;
    currency: string;
  }
  let { scene, sums, front, day, shift, multiplier, decimals, asOf, currency }: Props = $props();
  /** Points of volatility beside the one that is looked at. */
  const BESIDE = [-2, 0, 2];
  const money = (v: number | null | undefined) => (v === null || v === undefined ? 'no end' : numberText(v, 0));
  const signed = (v: number | null | undefined, decimalPlaces = 0) => signedText(v, decimalPlaces);
  const risk = $derived(
    front?.maxProfit === undefined || front.maxLoss === undefined || front.maxLoss <= 0
      ? undefined
      : front.maxProfit / front.maxLoss,
  );
  const figures = $derived<[name: string, text: string, id: string][]>([
    [
      sums.cost !== null && sums.cost < 0 ? 'brings in' : 'cost',
      numberText(sums.cost === null ? null : Math.abs(sums.cost), 0),
      'cost',
    ],
    ['theory', signed(sums.value), 'value'],
    ['most', front ? money(front.maxProfit === undefined ? undefined : front.maxProfit * multiplier) : '—', 'most'],
    ['most lost', front ? money(front.maxLoss === undefined ? undefined : front.maxLoss * multiplier) : '—', 'lost'],
    ['most for lost', risk === undefined ? '—' : numberText(risk, 2), 'ratio'],
    ['market width', numberText(sums.marketWidth, 0), 'width'],
    ['delta', signed(sums.delta, 1), 'delta'],
    ['gamma', signedSignificantText(sums.gamma, 3), 'gamma'],
    ['theta a day', signed(sums.theta), 'theta'],
    ['vega a point', signed(sums.vega), 'vega'],
    ['skew load', sums.skewLoad === null ? '—' : `${pointsText(sums.skewLoad)} points`, 'skew'],
    [
      'break-even',
      front ? front.breakEvens.map((b) => numberText(b, decimals)).join(' · ') || 'none' : '—',
      'breakEven',
    ],
  ]);
  const days = $derived([
    ...(day > 0 && scene.front && day < scene.front.days ? [{ days: day, name: `in ${numberText(day, 0)} days` }] : []),
    ...(scene.front ? [{ days: Infinity, name: dateText(scene.front.date, asOf) }] : []),
  ]);
  const chances = $derived(
    days.map((row) => ({
      ...row,
      cells: BESIDE.map((points) => scene.on(row.days, { parallel: shift + points / 100 })?.probabilityOfProfit),
    })),
  );
</script>

<h3 class="caption mb-1">Figures <span class="normal-case">· position, {currency}</span></h3>
<dl class="grid grid-cols-2 gap-x-4 text-[12.5px]" data-testid="structure-figures">
  {#each figures as [name, text, id] (id)}
    <div class="border-hair flex justify-between border-b py-0.5 {id === 'breakEven' ? 'col-span-2' : ''}">
      <dt class="text-soft">{name}</dt>
      <dd class="text-right tabular-nums" data-figure={id}>{text}</dd>
    </div>
  {/each}
</dl>
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
            >{points === 0 ? 'fitted' : `${signedText(points, 0)} points`}</th
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
