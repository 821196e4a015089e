<!-- Searches for one input: each in a line, with its target, what was found, and a button that takes it. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { ABOVE_ZERO } from '$lib/ui/number-input';
  import TypedNumber from '../../ui/typed-number.svelte';
  import { numberText, significantText, strikeText } from '$lib/ui/format';
  import type { PricerSolutions, SolveAnswer } from '$lib/theory';
  import { solveFigureId } from '$lib/measures';
  import { solveWords } from './solve-words';
  import type { PricerInputs } from '$lib/api/pricer-inputs';
  import { pricerState } from './pricer-state.svelte';

  const pricer = pricerState();
  const inputs = $derived(pricer.inputs);
  const isNormal = $derived(inputs.model === 'normal');
  const value = $derived(pricer.solutions.answer?.value);
  const found = $derived(value?.ok ? value.answer : undefined);
  const isStale = $derived(pricer.solutions.answer?.request !== pricer.solveRequest);

  interface Line {
    id: keyof PricerSolutions;
    label: string;
    target: 'targetPrice' | 'targetDelta' | 'targetValue' | 'decayDays';
    text: (value: number) => string;
    take?: (value: number) => Partial<PricerInputs>;
  }
  const lines: Line[] = $derived([
    {
      id: 'volatility',
      label: 'volatility for a value of',
      target: 'targetPrice',
      text: (v) => (isNormal ? numberText(v, 3) : `${numberText(v * 100, 2)} %`),
      take: (volatility) => ({ volatility }),
    },
    {
      id: 'underlying',
      label: 'underlying for a value of',
      target: 'targetPrice',
      text: (v) => numberText(v, pricer.decimals + 1),
      take: (underlying) => ({ underlying }),
    },
    {
      id: 'strike',
      label: 'strike for a delta of',
      target: 'targetDelta',
      text: (v) => strikeText(Number(v.toPrecision(6))),
      take: (strike) => ({ strike }),
    },
    {
      id: 'days',
      label: 'days until a value of',
      target: 'targetValue',
      text: (v) => numberText(v, 1),
      take: (days) => ({ days: Math.max(0, inputs.days - days) }),
    },
    {
      id: 'rise',
      label: 'volatility to offset days',
      target: 'decayDays',
      text: (v) => `${v > 0 ? '+' : ''}${significantText(v, 3)} ${isNormal ? '' : 'pts'}`,
    },
  ]);
  const answer = (line: Line): SolveAnswer | undefined => found?.[line.id];
  function foundText(line: Line): string {
    const result = answer(line);
    if (!result) return '—';
    if (result.ok) return line.text(result.value);
    const bound = result.bound === undefined ? undefined : numberText(result.bound, pricer.unitDecimals);
    return `none: ${solveWords(result.reason, bound)}`;
  }
  const columns: TableColumn<Line>[] = [
    {
      id: 'search',
      head: 'search',
      isFixed: true,
      align: 'left',
      value: (line) => line.id,
      text: (line) => line.label,
      tone: () => 'quiet !whitespace-normal leading-4',
    },
    {
      id: 'target',
      head: 'target',
      width: 66,
      value: (line) => pricer.targets[line.target],
      text: (line) => String(pricer.targets[line.target] ?? ''),
      cell: target,
      tone: () => '!px-1',
    },
    {
      id: 'found',
      head: 'found',
      width: 84,
      value: (line) => {
        const result = answer(line);
        return result?.ok ? result.value : null;
      },
      text: foundText,
      figure: (line) => solveFigureId(line.id),
      tone: (line) => (answer(line)?.ok ? 'font-semibold' : 'quiet !whitespace-normal leading-4 text-[11.5px]'),
    },
    { id: 'take', head: '', label: 'take it', width: 36, text: () => '', cell: take, tone: () => '!pr-0' },
  ];
</script>

{#snippet target(line: Line)}
  <TypedNumber
    label={line.label}
    text={String(pricer.targets[line.target] ?? '')}
    within={line.target === 'decayDays' ? ABOVE_ZERO : undefined}
    ontype={(typed) => pricer.choose({ [line.target]: typed })}
  />
{/snippet}

{#snippet take(line: Line)}
  {@const result = answer(line)}
  {#if result?.ok && line.take}
    {@const change = line.take(result.value)}
    <button
      type="button"
      class="text-implied disabled:text-faint min-h-6 min-w-6"
      disabled={isStale}
      aria-label="Take {line.label}"
      onclick={() => pricer.set(change)}>take</button
    >
  {/if}
{/snippet}

<section aria-label="Solve for" class="mt-3">
  <h3 class="small-caps mb-1">Solve for</h3>
  <ValueTable
    name="Pricer searches"
    storage="solve-columns"
    {columns}
    rows={lines}
    rowKey={(line) => line.id}
    isOrdered
    testid="solve"
    class="text-[12.5px] {isStale ? 'opacity-60' : ''}"
    isBusy={isStale}
  />
</section>
