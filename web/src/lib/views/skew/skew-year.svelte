<!-- The skew through the past year: risk reversal, butterfly, and when the dearer side changed. -->
<script lang="ts">
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import Plot from '../../ui/plot.svelte';
  import { PALETTES } from '$lib/ui/palette';
  import { skewYearChart } from './skew-year-chart';
  import { dateText, percentileText, pointsText } from '$lib/ui/format';
  import { sideChanges, yearStanding } from './skew-year';
  import type { SkewHistory } from '$lib/api/skew-history';
  import type { FollowedAnswer } from '$lib/api/client/fetched.svelte';
  import { pageState } from '$lib/shell/page-state.svelte';

  interface Props {
    history: FollowedAnswer<SkewHistory>;
  }
  let { history }: Props = $props();
  const page = pageState();
  const sessions = $derived(history.answer?.sessions ?? []);
  const asOf = $derived(history.answer?.asOf ?? '');
  const changes = $derived(sideChanges(sessions));
  const standings = $derived(
    (['riskReversal25', 'butterfly25'] as const).map((name) => ({ name, standing: yearStanding(sessions, name) })),
  );
  let width = $state(900);
  const chart = $derived(skewYearChart(sessions, { asOf, changes, palette: PALETTES[page.theme], width: width - 110 }));
  const names = { riskReversal25: 'risk reversal', butterfly25: 'butterfly' };
</script>

{#if history.error !== undefined}<AnswerTrouble what="The year" of={history} />{/if}
<div class="flex h-full min-h-[420px] flex-col {history.isLoading ? 'opacity-60' : ''}" aria-busy={history.isLoading}>
  <p class="text-[12.5px]" data-testid="skew-year">
    {#each standings as { name, standing } (name)}
      {#if standing && sessions.length > 1}
        <span class="mr-4"
          >{names[name]} now <b>{pointsText(standing.value)}</b>, the {percentileText(standing.percentile)} of {standing.count}
          sessions ({pointsText(standing.low)} to {pointsText(standing.high)})</span
        >
      {/if}
    {/each}
    {#if sessions.length > 1 && changes.length === 0}<span class="quiet">the dearer side did not change</span
      >{:else if changes.length > 0}
      <span
        >dearer side changed {changes
          .map((c) => `${dateText(c.date, asOf)} to ${c.to === 'call' ? 'calls' : 'puts'}`)
          .join(', ')}</span
      >
    {/if}
  </p>
  {#if sessions.length < 2}
    <p class="mt-6 font-serif text-[14.5px]">
      {history.isLoading
        ? 'Fetching the year…'
        : `${sessions.length === 0 ? 'No session' : `One session, ${dateText(sessions[0].instant, asOf)},`} is stored; a line through time takes two or more.`}
    </p>
  {/if}
  {#if sessions.length > 0}
    <div class="min-h-0 grow" bind:clientWidth={width}><Plot {chart} label="Skew through the past year" /></div>
  {/if}
</div>
