<!-- From theory to market in steps: each replaces one naive input by what the chain implies. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
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
  const decimals = $derived(pricer.valueDecimals);
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

  interface Line {
    id: string;
    label: string;
    from: string;
    to: string;
    start: number;
    end: number;
    part: number | null;
  }
  const lines = $derived<Line[]>([
    {
      ...{ id: 'theory', label: 'theory', from: 'spot, curve and volatility alone, european', to: '' },
      ...{ start: gap.theory, end: gap.theory, part: null },
    },
    ...rows.map(({ cause, ...row }) => ({ id: cause, ...row })),
    ...(gap.impliedVolatility.ok
      ? []
      : [
          {
            ...{ id: 'rest', label: 'rest', from: solveWords(gap.impliedVolatility.reason), to: '' },
            ...{ start: gap.market - gap.rest, end: gap.market, part: gap.rest },
          },
        ]),
    {
      ...{ id: 'market', label: 'market', from: 'mid of bid and offer', to: '' },
      ...{ start: gap.market, end: gap.market, part: gap.market - gap.theory },
    },
  ]);
  const isEnd = (line: Line) => line.id === 'theory' || line.id === 'market';
  const columns = $derived<TableColumn<Line>[]>([
    {
      id: 'step',
      head: 'step',
      width: 76,
      isFixed: true,
      align: 'left',
      value: (line) => line.id,
      text: (line) => line.label,
      tone: (line) => (isEnd(line) ? 'font-semibold' : ''),
    },
    {
      id: 'from',
      head: 'from',
      width: 130,
      align: 'left',
      value: (line) => line.from,
      text: (line) => line.from,
      // What leads to nothing has the room of what it would lead to.
      tone: (line) => `quiet ${line.to === '' ? '!overflow-visible' : ''}`,
    },
    { id: 'to', head: 'to', width: 130, align: 'left', value: (line) => line.to, text: (line) => line.to },
    {
      id: 'way',
      head: '',
      label: 'the way as a picture',
      width: 124,
      align: 'left',
      text: () => '',
      cell: mark,
      tone: () => '!p-0',
    },
    {
      id: 'part',
      head: 'part',
      width: 84,
      value: (line) => line.part,
      text: (line) => signedText(line.part === null ? null : line.part * factor, decimals).replace('—', ''),
      tone: (line) => (line.id === 'market' ? 'font-semibold' : ''),
    },
    {
      id: 'value',
      head: 'value',
      width: 84,
      value: (line) => line.end,
      text: (line) => numberText(line.end * factor, decimals),
      tone: (line) =>
        line.id === 'theory' ? 'text-implied font-semibold' : line.id === 'market' ? 'font-semibold' : '',
    },
  ]);
</script>

<ValueTable
  name="Pricer theory against market"
  storage="gap-columns"
  {columns}
  rows={lines}
  rowKey={(line) => line.id}
  isOrdered
  testid="gap"
  class="text-[12.5px]"
/>
<p class="mt-2 flex items-center gap-2 text-[12.5px]">
  <label for="known-yield" class="quiet whitespace-nowrap">yield known beforehand</label>
  <TypedNumber
    id="known-yield"
    label="yield known beforehand, percent"
    text={numberText(pricer.settings.knownYield * 100, 2)}
    isPercent
    within={[-100, 500]}
    ontype={(value) => pricer.choose({ knownYield: value / 100 })}
  />
  <span class="quiet"
    >% · the forward's part is what rate and known dividends leave{request.model === 'spot'
      ? `, a yield of ${percent(gap.impliedYield)} in all`
      : ''}</span
  >
</p>

{#snippet mark({ start: from, end: to }: Line)}
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
