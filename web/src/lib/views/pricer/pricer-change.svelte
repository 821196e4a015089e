<!-- What changed since the pin, by cause; the parts add up to the whole. -->
<script lang="ts">
  import TableMenu from '$lib/shell/table-menu.svelte';
  import { CHANGE_CAUSES, type ChangeCause } from '@umwelt/core/whatif';
  import { numberText, signedText } from '$lib/ui/format';
  import { basisFactor, type PricerFigures } from '$lib/theory';
  import { pricerState } from './pricer-state.svelte';

  interface Props {
    shown: PricerFigures;
  }
  let { shown }: Props = $props();
  const pricer = pricerState();
  const words: Record<ChangeCause, string> = {
    delta: 'delta × move',
    gamma: 'gamma × move² / 2',
    theta: 'theta × days gone',
    vega: 'vega × volatility',
    rho: 'rho × rate',
    dividend: 'yield and dividends',
    contract: 'another contract',
    rest: 'rest',
  };
  const pinned = $derived(pricer.pinned);
  const change = $derived(shown.change);
  /** The pinned position is counted at its own size, and the change of size is told apart. */
  const before = $derived(pinned ? basisFactor(pricer.settings.basis, pinned) : 1);
  const size = $derived(change ? change.to * (pricer.factor - before) : 0);
  const decimals = $derived(pricer.valueDecimals + 1);
  const rows = $derived(
    change
      ? CHANGE_CAUSES.filter((cause) => change.parts[cause] !== 0).map((cause) => ({
          label: words[cause],
          value: change.parts[cause] * before,
        }))
      : [],
  );
</script>

{#if pinned && change}
  <section class="mt-5" aria-label="Since the pin">
    <h2 class="small-caps mb-1">Since the pin</h2>
    <TableMenu name="Pricer change by cause" />
    <table class="figures text-[12.5px]" data-testid="change">
      <tbody>
        <tr><td class="quiet">pinned {pinned.side}</td><td>{numberText(change.from * before, decimals)}</td></tr>
        {#each rows as row (row.label)}
          <tr
            ><td class="quiet">{row.label}</td><td class={row.value < 0 ? 'text-loss' : 'text-gain'} data-part
              >{signedText(row.value, decimals)}</td
            ></tr
          >
        {/each}
        {#if size !== 0}
          <tr
            ><td class="quiet">size</td><td class={size < 0 ? 'text-loss' : 'text-gain'} data-part
              >{signedText(size, decimals)}</td
            ></tr
          >
        {/if}
        <tr class="border-line border-t font-semibold">
          <td>change</td><td data-total>{signedText(change.to * pricer.factor - change.from * before, decimals)}</td>
        </tr>
        <tr class="font-semibold"><td>now</td><td>{numberText(change.to * pricer.factor, decimals)}</td></tr>
      </tbody>
    </table>
  </section>
{/if}
