<!-- Shapes of smiles beside each other: this one and those it is compared with, aligned by deviations from the forward. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import { besideName } from '$lib/shell/beside-name';
  import { dateText, daysText, numberText, pointsText, volatilityText } from '$lib/ui/format';
  import { SHAPE_REACH, smileShape } from '$lib/theory';
  import type { QuotedSurface } from '$lib/api/picture';
  import type { Comparing } from '$lib/shell/comparing.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    comparing: Comparing<QuotedSurface>;
  }
  let { comparing }: Props = $props();
  const view = quotedViewState();
  const LEAST = { width: 250, height: 190 };
  const GAP = 16;
  /** Above and below the picture of a shape, pixels. */
  const WORDS = 48;
  const LEFT = 34;
  const BOTTOM = 24;
  let room = $state({ width: 900, height: 600 });

  const days = $derived(view.focus?.days);
  const own = $derived(days === undefined ? undefined : smileShape(view.picture, days));
  const shapes = $derived(
    days === undefined
      ? []
      : [
          { text: '', picture: view.picture },
          ...comparing.list.flatMap(({ text, picture }) => (picture ? [{ text, picture }] : [])),
        ].map(({ text, picture }, i) => ({
          text,
          name: i === 0 ? picture.underlying.symbol : besideName(picture, view.picture),
          picture,
          shape: i === 0 ? own : smileShape(picture, days),
        })),
  );
  /** As many beside each other as leave each picture its least width, and all of them fill what there is. */
  const across = $derived(Math.max(1, Math.min(shapes.length, Math.floor((room.width + GAP) / (LEAST.width + GAP)))));
  const rows = $derived(Math.ceil(shapes.length / across));
  const WIDTH = $derived((room.width - GAP * (across - 1)) / across);
  const HEIGHT = $derived(Math.max(LEAST.height, (room.height - GAP * (rows - 1)) / rows - WORDS));
  // One scale for all, or they could not be compared.
  const extent = $derived.by(() => {
    const all = shapes.flatMap(({ shape }) => shape?.curve.map((p) => p.points) ?? []);
    return [Math.min(-0.5, ...all), Math.max(0.5, ...all)] as const;
  });
  const x = $derived(scaleLinear([-SHAPE_REACH, SHAPE_REACH], [LEFT, WIDTH - 6]));
  const y = $derived(scaleLinear([extent[0], extent[1]], [HEIGHT - BOTTOM, 8]).nice(5));
  const path = $derived(
    line<{ deviations: number; points: number }>()
      .x((p) => x(p.deviations))
      .y((p) => y(p.points)),
  );
  const waiting = $derived(comparing.list.filter((c) => !c.picture && !c.trouble).length);
</script>

{#if !own}
  <p class="quiet p-8 font-serif text-[15px]">
    {view.focus ? 'This expiry has no smile to compare.' : 'Pick an expiry in the ribbon above.'}
  </p>
{:else}
  <div class="flex h-full min-h-[420px] flex-col">
    <p class="quiet text-[12px]">
      volatility points over at the money, by deviations from the forward · dotted in each: {view.picture.underlying
        .symbol},
      {dateText(own.expiry.date, view.picture.asOf)}
    </p>
    <div class="relative mt-1 min-h-0 grow">
      <!-- Measured beside the pictures, not around them: where the page's height follows its content, they would grow with it. -->
      <div
        class="invisible absolute inset-x-0 top-0 h-full max-[1000px]:h-[420px]"
        bind:clientWidth={room.width}
        bind:clientHeight={room.height}
      ></div>
      <div class="flex flex-wrap content-start gap-4" data-testid="skew-others">
        {#each shapes as { text, name, picture, shape } (text)}
          <figure style:width="{WIDTH}px">
            <figcaption class="text-[12.5px]">
              <b>{name}</b>{shape
                ? `, ${dateText(shape.expiry.date, picture.asOf)}, ${daysText(shape.expiry.days)} days`
                : ''}
            </figcaption>
            {#if shape}
              <svg width={WIDTH} height={HEIGHT} role="img" aria-label="Shape of the smile of {name}">
                {#each y.ticks(Math.max(3, Math.min(8, HEIGHT / 45))) as tick (tick)}
                  <line
                    x1={LEFT}
                    x2={WIDTH - 6}
                    y1={y(tick)}
                    y2={y(tick)}
                    class={tick === 0 ? 'stroke-line' : 'stroke-hair'}
                  />
                  <text x={LEFT - 5} y={y(tick) + 4} text-anchor="end" class="chart-word fill-soft"
                    >{numberText(tick, 0)}</text
                  >
                {/each}
                {#each [-2, -1, 0, 1, 2] as tick (tick)}
                  <line x1={x(tick)} x2={x(tick)} y1={HEIGHT - BOTTOM} y2={HEIGHT - BOTTOM + 4} class="stroke-line" />
                  <text x={x(tick)} y={HEIGHT - 6} text-anchor="middle" class="chart-word fill-soft"
                    >{numberText(tick, 0)}</text
                  >
                {/each}
                {#each shape.quotes as q (`${q.side}${q.deviations}`)}
                  {#if q.points >= y.domain()[0] && q.points <= y.domain()[1]}
                    <circle
                      cx={x(q.deviations)}
                      cy={y(q.points)}
                      r="1.8"
                      class="stroke-ink {q.side === 'call' ? 'fill-ink' : 'fill-none'}"
                      stroke-width="0.8"
                    />
                  {/if}
                {/each}
                {#if shape !== own}
                  <path d={path(own.curve)} class="stroke-soft fill-none" stroke-dasharray="2 3" stroke-width="1.2" />
                {/if}
                <path d={path(shape.curve)} class="stroke-implied fill-none" stroke-width="1.8" />
              </svg>
              <p class="mt-1 text-[12px]">
                at the money {volatilityText(shape.expiry.atm)} % · risk reversal {pointsText(
                  shape.expiry.riskReversal25,
                )} · butterfly {pointsText(shape.expiry.butterfly25)}
              </p>
            {:else}
              <p class="quiet text-[12.5px]">No smile could be fitted there.</p>
            {/if}
          </figure>
        {/each}
      </div>
    </div>
    {#if shapes.length === 1 && waiting === 0}
      <p class="quiet mt-4 font-serif text-[15px]">
        Name another underlying above, or pin this day and step to another, to see the shapes side by side.
      </p>
    {/if}
    {#if waiting > 0}<p class="quiet mt-2 text-[12.5px]">{waiting} on the way…</p>{/if}
  </div>
{/if}
