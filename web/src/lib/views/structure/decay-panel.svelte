<!-- The whole by the calendar at the price that is looked at, with volatility as it is and two points either way. -->
<script lang="ts">
  import LineChart from '$lib/ui/line-chart.svelte';
  import type { LineChart as Chart } from '$lib/ui/line-chart';
  import { dateText, numberText, signedText } from '$lib/ui/format';
  import type { Palette } from '$lib/ui/palette';
  import type { DecayInput, StructureDecay } from './structure-decay';
  import { StructureAnswers } from './structure-answers.svelte';
  import type { StructureInput } from './structure-input';
  import { measureText, measureUnit, measureWords, type ShownMeasure } from './structure-measure';

  interface Props {
    input: StructureInput;
    measure: ShownMeasure;
    at: number;
    asOf: string;
    decimals: number;
    currency: string;
    palette: Palette;
    /** Said where some day cannot be seen */
    absence: string;
  }
  let { absence, input, measure, at, asOf, decimals, currency, palette }: Props = $props();
  const DAY = 86_400_000;
  const answers = new StructureAnswers<DecayInput, StructureDecay | undefined>(
    () => ({ ...input, measure, at }),
    (thread, request) => thread.structureDecay(request),
  );
  const decay = $derived(answers.answer?.value);
  const isOld = $derived(answers.answer?.request.at !== at || answers.answer.request.legs !== input.legs);
  const dateAfter = (days: number) =>
    dateText(new Date(Date.parse(asOf) + days * DAY).toISOString().slice(0, 10), asOf);
  const chart = $derived.by((): Chart | undefined => {
    if (!decay) return undefined;
    const { days, lines } = decay;
    const [lower, still, higher] = lines;
    return {
      lines: lines.map(({ points, values }) => ({
        name: points === 0 ? 'as it is' : `${signedText(points, 0)} points`,
        color: points === 0 ? palette.ink : palette.implied,
        width: points === 0 ? 2 : 1.3,
        ...(points === 0 ? {} : { dash: '4 3' }),
        x: days,
        y: values,
      })),
      bands: [{ color: palette.implied, opacity: 0.1, x: days, low: lower.values, high: higher.values }],
      across: { title: 'day', range: [0, days[days.length - 1]], text: dateAfter },
      up: {
        title: `${measureWords(measure)}, ${measureUnit(measure, currency)}, at ${numberText(at, decimals)}`,
        text: (v) => measureText(v, measure),
      },
      description: `${measureWords(measure)} at ${numberText(at, decimals)} from ${measureText(still.values[0], measure)} now to ${measureText(still.values[still.values.length - 1], measure)} at the first expiry.`,
    };
  });
</script>

{#if answers.trouble}<p class="text-loss text-[12.5px]" role="alert">{answers.trouble}</p>{/if}
{#if chart}
  <div class="relative h-[240px] {isOld ? 'opacity-60' : ''}" data-testid="decay" aria-busy={isOld}>
    <LineChart {chart} label="{measureWords(measure)} by the calendar" {palette} />
  </div>
  <p class="quiet text-[11.5px]">
    The price stays at {numberText(at, decimals)}; volatility after each day as fitted, and two points either way.
  </p>
{:else if !answers.trouble && answers.answer}
  <p class="quiet text-[12.5px]">{absence}</p>
{:else if !answers.trouble}
  <p class="quiet text-[12.5px]" aria-busy="true">Working the days out.</p>
{/if}
