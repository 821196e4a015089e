<!-- Searches for one input: each in a line, with its target, what was found, and a button that takes it. -->
<script lang="ts">
  import TableMenu from '$lib/shell/table-menu.svelte';
  import TypedNumber from '../../ui/typed-number.svelte';
  import { numberText, significantText, strikeText } from '$lib/ui/format';
  import type { PricerSolutions, SolveAnswer } from '$lib/theory';
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
</script>

<section aria-label="Solve for" class="mt-3">
  <h3 class="small-caps mb-1">Solve for</h3>
  <TableMenu name="Pricer searches" />
  <table class="figures text-[12.5px] {isStale ? 'opacity-60' : ''}">
    <tbody>
      {#each lines as line (line.id)}
        {@const result = answer(line)}
        <tr class="border-hair border-b" data-testid="solve-{line.id}">
          <td class="quiet">{line.label}</td>
          <td class="!px-1">
            <TypedNumber
              label={line.label}
              text={String(pricer.targets[line.target] ?? '')}
              ontype={(typed) => {
                if (line.target !== 'decayDays' || typed > 0) pricer.choose({ [line.target]: typed });
              }}
            />
          </td>
          <td class="font-semibold whitespace-nowrap">
            {#if result?.ok}{line.text(result.value)}{:else if result}<span
                class="quiet font-normal"
                title={solveWords(result.reason)}>none</span
              >{:else}—{/if}
          </td>
          <td class="!pr-0">
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
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</section>
