<!-- What stands behind the forwards of American options: financing, borrow and dividends, known or implied. -->
<script lang="ts">
  import CarryTakeover from '$lib/shell/carry-takeover.svelte';
  import Figure from '$lib/shell/figure.svelte';
  import { dateText, numberText, signedText } from '$lib/ui/format';
  import { CARRY_SOURCES, figureId } from '$lib/measures';
  import { viewState } from '$lib/shell/view-state.svelte';

  const view = viewState();
  const carry = $derived(view.picture.carry);
  const inferred = $derived(carry.inferred);
  const percent = (value: number) => numberText(100 * value, 2);
</script>

{#if inferred || carry.taken || carry.source === 'typed'}
  <section class="border-line mt-3 border-t pt-2 text-[12.5px]" data-testid="carry" aria-label="Carry">
    <p>
      <span class="small-caps">carry</span>
      <span class="quiet">{CARRY_SOURCES[carry.source]}</span>
    </p>
    {#if inferred}
      <table class="figures mt-1">
        <thead>
          <tr
            ><th class="!text-left">of all expiries</th><th>implied</th><th>± one deviation</th><th class="!text-left"
              >when</th
            ></tr
          >
        </thead>
        <tbody>
          {#each [['financing', inferred.hasCurve ? 'financing over the curve, % a year' : 'rate, % a year', inferred.financing], ['borrow', 'yield or cost to borrow, % a year', inferred.borrow], ['drift', 'financing less borrow, % a year', inferred.drift]] as const as [name, label, estimate] (name)}
            <tr class="border-hair border-b {name !== 'drift' && !inferred.areToldApart ? 'quiet' : ''}">
              <td class="!text-left">{label}{name !== 'drift' && !inferred.areToldApart ? ' (not told apart)' : ''}</td>
              <td
                ><Figure
                  id="implied-{name}"
                  text={inferred.hasCurve ? signedText(100 * estimate.value, 2) : percent(estimate.value)}
                /></td
              >
              <td>{percent(estimate.error)}</td>
              <td></td>
            </tr>
          {/each}
          {#each inferred.dividends as d (d.to)}
            <tr class="border-hair border-b">
              <td class="!text-left">dividend nobody told</td>
              <td><Figure id={figureId('impliedDividend', d.to)} text={numberText(d.amount.value, 3)} /></td>
              <td>{numberText(d.amount.error, 3)}</td>
              <td class="!text-left"
                >{dateText(d.instant.slice(0, 10), view.picture.asOf)} ± {Math.max(1, Math.round(d.days))} d, {d.from ===
                null
                  ? 'before'
                  : `${dateText(d.from, view.picture.asOf)} to`}
                {dateText(d.to, view.picture.asOf)}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    <CarryTakeover />
  </section>
{/if}
