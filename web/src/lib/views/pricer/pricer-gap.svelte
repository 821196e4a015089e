<!-- From theory to market in steps: each replaces one naive input by what the chain implies. -->
<script lang="ts">
  import TableMenu from '$lib/shell/table-menu.svelte';
  import TypedNumber from '../../ui/typed-number.svelte';
  import { scaleLinear } from 'd3-scale';
  import { GAP_CAUSES, type GapCause, type MarketGap, type MarketGapInput } from '@umwelt/core/whatif';
  import { numberText, signedText } from '$lib/ui/format';
  import { solveWords } from './solve-words';
  import { pricerState } from './pricer-state.svelte';

  interface Props {
    gap: MarketGap;
    request: MarketGapInput;
  }
  let { gap, request }: Props = $props();
  const pricer = pricerState();
  const decimals = $derived(pricer.valueDecimals + 1);
  const factor = $derived(pricer.factor);
  const focus = $derived(pricer.view?.focus);
  const percent = (value: number, digits = 2) => `${numberText(value * 100, digits)} %`;
  const hasCurve = $derived(focus?.curveRate != null);

  /** What is known to be paid: cash as it is stored or typed, and a yield. */
  function knownText({ known }: MarketGapInput): string {
    const cash = (known?.dividends ?? []).reduce((sum, d) => sum + d.amount, 0);
    const yieldText = `${percent(known?.dividendYield ?? 0, 3)} known`;
    if (cash === 0) return yieldText;
    return `${numberText(cash, 2)} in cash${known?.dividendYield ? `, ${yieldText}` : ''}`;
  }

  const steps: Record<GapCause, { label: string; from: string; to: string }> = $derived({
    rate: {
      label: 'rate',
      from: hasCurve ? `${percent(request.naive.rate, 3)} of curve` : '0, no curve stored',
      to: `${percent(request.implied.rate, 3)} implied`,
    },
    dividend: { label: 'dividend', from: 'none', to: knownText(request) },
    forward: {
      label: 'forward',
      from: 'of spot and yield',
      to: `${numberText(request.implied.forward, pricer.decimals)} by parity`,
    },
    exercise: { label: 'exercise', from: 'european', to: request.exercise },
    volatility: {
      label: 'volatility',
      from: percent(request.naive.volatility),
      to: gap.impliedVolatility.ok ? `${percent(gap.impliedVolatility.volatility)} of mid` : 'none',
    },
  });
  const rows = $derived.by(() => {
    let value = gap.theory;
    return GAP_CAUSES.map((cause) => {
      const from = value;
      value += gap.parts[cause];
      return { cause, ...steps[cause], part: gap.parts[cause], start: from, end: value };
    });
  });
  const ends = $derived([gap.theory, gap.market, ...rows.map((r) => r.end)]);
  const scale = $derived.by(() => {
    const [low, high] = [Math.min(...ends), Math.max(...ends)];
    const margin = 0.05 * (high - low || Math.abs(high) || 1);
    return scaleLinear()
      .domain([low - margin, high + margin])
      .range([4, 120]);
  });
</script>

<TableMenu name="Theory against market" />
<table class="figures mt-1 text-[12.5px]" data-testid="gap">
  <thead>
    <tr>
      <th>step</th><th class="!text-left">from</th><th class="!text-left">to</th><th class="w-[124px]"></th><th>part</th
      ><th>value</th>
    </tr>
  </thead>
  <tbody>
    <tr class="border-hair border-b">
      <td class="font-semibold">theory</td>
      <td class="quiet !text-left" colspan="2">spot, curve and volatility alone, european</td>
      <td class="!p-0">{@render mark(gap.theory, gap.theory)}</td>
      <td></td>
      <td class="text-implied font-semibold">{numberText(gap.theory * factor, decimals)}</td>
    </tr>
    {#each rows as row (row.cause)}
      <tr class="border-hair border-b">
        <td>{row.label}</td>
        <td class="quiet !text-left whitespace-nowrap">{row.from}</td>
        <td class="!text-left whitespace-nowrap">{row.to}</td>
        <td class="!p-0">{@render mark(row.start, row.end)}</td>
        <td data-part>{signedText(row.part * factor, decimals)}</td>
        <td>{numberText(row.end * factor, decimals)}</td>
      </tr>
    {/each}
    {#if !gap.impliedVolatility.ok}
      <tr class="border-hair border-b">
        <td>rest</td>
        <td class="quiet !text-left" colspan="3">{solveWords(gap.impliedVolatility.reason)}</td>
        <td data-part>{signedText(gap.rest * factor, decimals)}</td>
        <td></td>
      </tr>
    {/if}
    <tr>
      <td class="font-semibold">market</td>
      <td class="quiet !text-left" colspan="2">mid of bid and offer</td>
      <td class="!p-0">{@render mark(gap.market, gap.market)}</td>
      <td class="font-semibold" data-total>{signedText((gap.market - gap.theory) * factor, decimals)}</td>
      <td class="font-semibold">{numberText(gap.market * factor, decimals)}</td>
    </tr>
  </tbody>
</table>
<p class="mt-2 flex items-center gap-2 text-[12.5px]">
  <label for="known-yield" class="quiet whitespace-nowrap">yield known beforehand</label>
  <TypedNumber
    id="known-yield"
    label="yield known beforehand, percent"
    text={numberText(pricer.settings.knownYield * 100, 2)}
    ontype={(value) => {
      if (value >= -100 && value <= 500) pricer.choose({ knownYield: value / 100 });
    }}
  />
  <span class="quiet"
    >% · the forward's part is what rate and known dividends leave{request.model === 'spot'
      ? `, a yield of ${percent(gap.impliedYield)} in all`
      : ''}</span
  >
</p>

{#snippet mark(from: number, to: number)}
  <svg width="124" height="16" class="block" aria-hidden="true">
    <line x1={scale(gap.theory)} x2={scale(gap.theory)} y1="0" y2="16" stroke="var(--implied)" stroke-dasharray="1 2" />
    <line x1={scale(gap.market)} x2={scale(gap.market)} y1="0" y2="16" stroke="var(--ink)" stroke-dasharray="1 2" />
    {#if from === to}
      <circle cx={scale(to)} cy="8" r="3" fill={to === gap.theory ? 'var(--implied)' : 'var(--ink)'} />
    {:else}
      <line
        x1={scale(from)}
        x2={scale(to)}
        y1="8"
        y2="8"
        stroke={to < from ? 'var(--loss)' : 'var(--gain)'}
        stroke-width="3"
      />
      <path d="M{scale(to)},8 l{to < from ? 5 : -5},-4 v8 z" fill={to < from ? 'var(--loss)' : 'var(--gain)'} />
    {/if}
  </svg>
{/snippet}
