<!-- The smile that a file would give: out-of-the-money quotes as lines from bid to offer, the fit through them. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import type { PreviewSmile } from '$lib/api/chain-import';
  import { numberText, strikeText, volatilityText } from '$lib/ui/format';

  interface Props {
    smile: PreviewSmile;
  }
  let { smile }: Props = $props();
  const [WIDTH, HEIGHT, LEFT, BOTTOM] = [340, 170, 54, 22];
  const good = $derived(smile.quotes.filter((q) => !q.isRejected && q.bid !== null && q.ask !== null));
  const values = $derived([
    ...good.flatMap((q) => [q.bid ?? 0, q.ask ?? 0]),
    ...smile.curve.map((point) => point.volatility),
  ]);
  const strikes = $derived([...good, ...smile.curve].map((point) => point.strike));
  const x = $derived(
    scaleLinear()
      .domain([Math.min(...strikes), Math.max(...strikes)])
      .range([LEFT + 6, WIDTH - 6]),
  );
  const y = $derived(
    scaleLinear()
      .domain([Math.min(...values), Math.max(...values)])
      .nice()
      .range([HEIGHT - BOTTOM, 10]),
  );
  const path = $derived(
    line<{ strike: number; volatility: number }>(
      (d) => x(d.strike),
      (d) => y(d.volatility),
    )(smile.curve) ?? '',
  );
</script>

<figure class="m-0" data-testid="preview-smile">
  <figcaption class="quiet mb-1">
    {smile.symbol}
    {smile.expiry}, {numberText(smile.days, 0)} days · at the money {volatilityText(smile.atm)} % · forward {numberText(
      smile.forward,
    )}
  </figcaption>
  {#if values.length === 0}
    <p class="quiet">Too few quotes for a smile.</p>
  {:else}
    <svg
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label="Smile of {smile.expiry}: {good.length} quotes, at the money {volatilityText(smile.atm)} %"
    >
      {#each y.ticks(4) as tick (tick)}
        <line x1={LEFT} x2={WIDTH} y1={y(tick)} y2={y(tick)} stroke="var(--hair)" />
        <text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" font-size="11" fill="var(--soft)"
          >{volatilityText(tick)} %</text
        >
      {/each}
      {#each x.ticks(5) as tick (tick)}
        <text x={x(tick)} y={HEIGHT - 6} text-anchor="middle" font-size="11" fill="var(--soft)">{strikeText(tick)}</text
        >
      {/each}
      {#if smile.forward >= x.domain()[0] && smile.forward <= x.domain()[1]}
        <line
          x1={x(smile.forward)}
          x2={x(smile.forward)}
          y1="10"
          y2={HEIGHT - BOTTOM}
          stroke="var(--line)"
          stroke-dasharray="2 3"
        />
      {/if}
      {#each good as q (q.strike)}
        <line
          x1={x(q.strike)}
          x2={x(q.strike)}
          y1={y(q.bid ?? 0)}
          y2={y(q.ask ?? 0) - 0.5}
          stroke="var(--ink)"
          stroke-width="1.5"
          stroke-dasharray={q.side === 'put' ? '2 2' : undefined}
        />
      {/each}
      <path d={path} fill="none" stroke="var(--implied)" stroke-width="2" />
    </svg>
  {/if}
</figure>
