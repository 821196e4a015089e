<!-- The surface at fixed days, and at any number of days between its expiries. -->
<script lang="ts">
  import Figure from '../../shell/figure.svelte';
  import TypedNumber from '../../ui/typed-number.svelte';
  import { pointsText, volatilityText } from '$lib/ui/format';
  import { maturityAt } from '$lib/market';
  import { fixedFigure } from '$lib/measures';
  import { viewState } from '$lib/shell/view-state.svelte';

  interface Props {
    /** Typed; undefined for none */
    days: number | undefined;
  }
  let { days }: Props = $props();
  const view = viewState();
  const rows = [
    ['atm', 'at money %'],
    ['riskReversal25', 'RR 25'],
    ['butterfly25', 'BF 25'],
  ] as const;
  const { maturities } = $derived(view.picture);
  const typed = $derived(days === undefined ? null : maturityAt(view.picture, days));
  const text = (name: (typeof rows)[number][0], value: number | null | undefined) =>
    name === 'atm' ? volatilityText(value) : pointsText(value);

  function take(value: number): void {
    const whole = Math.round(value);
    void view.address.set({ at: whole >= 1 ? String(whole) : undefined });
  }
</script>

{#if maturities.length > 0}
  <table class="figures mt-4 text-[12.5px]" data-testid="fixed-days">
    <thead>
      <tr>
        <th class="!text-left">at fixed days</th>
        {#each maturities as m (m.days)}<th>{m.days}</th>{/each}
        <th>
          <TypedNumber
            label="Days to read the surface at; 0 for none"
            text={days === undefined ? '' : String(days)}
            isOwn
            placeholder="days"
            ontype={take}
          />
        </th>
      </tr>
    </thead>
    <tbody>
      {#each rows as [name, label] (name)}
        <tr class="border-hair border-b">
          <td class="!text-left">{label}</td>
          {#each maturities as m (m.days)}
            <td><Figure id={fixedFigure(name, m.days)} text={text(name, m[name])} /></td>
          {/each}
          <td class="text-own">
            {#if days !== undefined}<Figure id={fixedFigure(name, days)} text={text(name, typed?.[name])} />{/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if days !== undefined && !typed}
    <p class="quiet mt-1 text-[11.5px]">{days} days lie beyond the expiries; the surface is not read there.</p>
  {/if}
{/if}
