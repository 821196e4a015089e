<!-- Underlying, price, level with its past, instant, assumptions, search: everything below follows it. -->
<script lang="ts">
  import Figure from './figure.svelte';
  import PercentileStrip from '../ui/percentile-strip.svelte';
  import GoToDialog from './go-to-dialog.svelte';
  import LiveControls from './live-controls.svelte';
  import Assumptions from './assumptions.svelte';
  import { currencyName, numberText, percentileText, volatilityText } from '$lib/ui/format';
  import { figureScale, figureText } from '$lib/measures';
  import { pageState } from './page-state.svelte';
  import { viewState } from './view-state.svelte';

  const view = viewState();
  const page = pageState();
  const picture = $derived(view.picture);
  const change = $derived(picture.previousPrice === null ? null : picture.price / picture.previousPrice - 1);
</script>

<header
  class="border-line flex min-h-12 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b px-3 py-1 whitespace-nowrap min-[1400px]:gap-x-4 min-[1400px]:px-4"
>
  <h1 class="flex items-baseline gap-3">
    <span class="text-[18px] font-bold">{picture.underlying.symbol}</span>
    <span class="quiet hidden min-[1500px]:inline">{picture.underlying.name}</span>
  </h1>
  <span>
    <Figure id="price" text={figureText(picture.price, 'price', figureScale(picture))} />
    <span class="quiet text-[11.5px]">{currencyName(picture.underlying.currency)}</span>
    {#if picture.priceSource === 'parity'}<span class="quiet text-[11.5px]">implied by parity</span>{/if}
    {#if change !== null}
      <span class={change >= 0 ? 'text-gain' : 'text-loss'}>
        {change >= 0 ? '▲' : '▼'}
        <Figure id="priceChange" text="{numberText(Math.abs(change) * 100, 2)} %" />
      </span>
    {/if}
  </span>
  <span class="chip flex items-center gap-2">
    <span class="quiet text-[11.5px]">30 days: at the money</span>
    <strong><Figure id="atm30" text="{volatilityText(picture.atm30)} %" /></strong>
    {#if picture.standing && picture.atm30 !== null}
      <span class="max-[1180px]:hidden"
        ><PercentileStrip past={picture.history.map((h) => h.atm30)} now={picture.atm30} /></span
      >
      <span class="quiet text-[11.5px]">
        <Figure id="percentile" text={percentileText(picture.standing.percentile, 'pct')} /><span
          class="max-[1400px]:hidden"
          >{#if picture.standing.rank !== null}&nbsp;· rank
            <Figure id="rank" text={String(Math.round(picture.standing.rank * 100))} />{/if}</span
        >
      </span>
    {:else}
      <span class="quiet text-[11.5px]">no past stored</span>
    {/if}
    {#if picture.index30 !== null}
      <span class="quiet border-line border-l pl-2 text-[11.5px]">model-free</span>
      <Figure id="index30" text="{volatilityText(picture.index30)} %" />
      {#if picture.indexStanding}
        <span class="quiet text-[11.5px]"
          ><Figure id="index30Percentile" text={percentileText(picture.indexStanding.percentile, 'pct')} /></span
        >
      {/if}
    {/if}
    {#if picture.realized30 && picture.atm30 !== null}
      <span class="quiet border-line border-l pl-2 text-[11.5px] max-[1560px]:hidden"
        ><Figure id="ratio30" text={numberText(picture.atm30 / picture.realized30.volatility, 2)} /> times realized</span
      >
    {/if}
  </span>
  <LiveControls />
  <Assumptions />
  <span class="quiet ml-auto hidden min-[1400px]:inline"
    >{picture.isLive ? '' : picture.next ? 'stored instant' : 'latest stored'}</span
  >
  <button type="button" class="chip ml-auto min-[1400px]:ml-0" onclick={() => (page.isSearchOpen = true)}>
    Search <span class="kbd-mark">/</span>
  </button>
</header>
<GoToDialog />
