<!-- Is volatility dear or cheap? Implied against its past, against what the underlying did, and against what is expected of it. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import AnswerTrouble from '$lib/shell/answer-trouble.svelte';
  import Reading from '$lib/shell/reading.svelte';
  import ViewFrame from '$lib/shell/view-frame.svelte';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { derivingQuery } from '$lib/api/as-of-context';
  import { levelChoice } from '$lib/api/level';
  import { forecastRecordRoute, levelRoute } from '$lib/api/contract/views';
  import { explainPastFigure, underlyingDecimals } from '$lib/measures';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { viewState } from '$lib/shell/view-state.svelte';
  import { levelSentence } from '$lib/shell/reading/level-sentence';
  import { currencyName, dateText } from '$lib/ui/format';
  import { PALETTES } from '$lib/ui/palette';
  import AfterTable from './after-table.svelte';
  import ExpiryLevels from './expiry-levels.svelte';
  import ForecastTable from './forecast-table.svelte';
  import LevelCone from './level-cone.svelte';
  import LevelControls from './level-controls.svelte';
  import LevelTimeChart from './level-time-chart.svelte';
  import RealizedTable from './realized-table.svelte';
  import { levelReading } from './level-reading';
  import { impliedName, realizedName } from './level-words';
  import { levelParameters } from './parameters';

  /** Milliseconds without a change after which a view stands still. */
  const STANDS_STILL = 400;
  const view = viewState();
  const page = pageState();
  const own = $derived(view.address.own(levelParameters));
  const expiry = $derived(view.focus?.date);
  const asked = $derived.by(() => {
    const choice = levelChoice.parse(own);
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', view.live.minute);
    for (const [name, value] of Object.entries(choice)) query.set(name, String(value));
    if (choice.implied === 'expiry' && expiry) query.set('expiry', expiry);
    return { parameters: { symbol: view.picture.underlying.symbol }, query };
  });
  const fetched = new Fetched(levelRoute, () => asked);
  /** Past forecasts take a while: they are asked for once nobody steps on any more. */
  let settled = $state.raw<typeof asked>();
  $effect(() => {
    const next = asked;
    const timer = setTimeout(() => (settled = next), STANDS_STILL);
    return () => clearTimeout(timer);
  });
  const record = new Fetched(forecastRecordRoute, () => settled);
  const level = $derived(fetched.answer);
  /** Of another underlying than the one shown nothing is said. */
  const isOwn = $derived(level?.symbol === view.picture.underlying.symbol);
  const ownRecord = $derived(record.answer?.symbol === level?.symbol ? record.answer : undefined);
  const choice = $derived(level?.choice);
  /** What is said of forecasts is of the same instant as the rest. */
  const toldRecord = $derived(ownRecord?.asOf === level?.asOf ? ownRecord : undefined);
  const words = $derived({
    implied: choice ? impliedName(choice, expiry, view.picture.asOf) : '',
    realized: choice ? realizedName(choice) : '',
  });
  view.explainAlso('level', (id) => (level ? explainPastFigure({ level, words, record: ownRecord }, id) : undefined));
  const known = $derived(level?.sessions.filter((s) => s.implied !== null).length ?? 0);
  const palette = $derived(PALETTES[page.theme]);
  const shown = $derived(view.shown.map((e) => e.date));
</script>

<ViewFrame title="Level">
  {#snippet controls()}
    <LevelControls {own} {expiry} />
  {/snippet}
  {#snippet main()}
    {#if fetched.error !== undefined}<AnswerTrouble what="The level" of={fetched} />{/if}
    {#if level && isOwn}
      <div
        class={fetched.isLoading ? 'opacity-60' : ''}
        aria-busy={fetched.isLoading}
        data-testid="level"
        data-stamp="{level.symbol} {level.asOf}"
      >
        {#if known < 2 && level.sessions.every((s) => s.realized === null)}
          <p class="quiet mb-2 font-serif text-[14.5px]">
            {known === 0 ? 'No session' : `One session, ${dateText(level.asOf, level.asOf)},`} with an implied volatility
            is stored, and {level.realizedNow.missing === 'no-bars' ? 'no daily bars' : 'too few daily bars'}: a line
            through time takes two sessions or more. Import chains or bars of earlier sessions in Data.
          </p>
        {/if}
        <div class="relative h-[350px]">
          <LevelTimeChart
            {level}
            show={own.show}
            realized={own.realized}
            span={own.span}
            under={own.under}
            forecast={own.forecast !== 'none' && ownRecord ? { model: own.forecast, record: ownRecord } : undefined}
            currency={currencyName(view.picture.underlying.currency)}
            decimals={underlyingDecimals(view.scale)}
            {palette}
          />
        </div>
        <div class="mt-3 flex gap-6 max-[1000px]:flex-col">
          <div class="w-[40%] shrink-0 max-[1000px]:w-full">
            <h3 class="text-[13px]">
              Realized by length of time, {Math.round(level.sessions.length / 252) > 1
                ? 'two years'
                : 'what is stored'}; implied of each expiry on it
            </h3>
            <div class="relative h-[190px]"><LevelCone {level} {shown} {palette} /></div>
          </div>
          <div class="min-w-0 flex-1">
            <h3 class="mb-1 text-[13px]">What came after, by where implied stood</h3>
            <AfterTable {level} />
          </div>
        </div>
        <div class="mt-4 flex gap-6 max-[1000px]:flex-col">
          <div class="w-[54%] shrink-0 max-[1000px]:w-full">
            <h3 class="mb-1 text-[13px]">Dear and cheap by expiry</h3>
            <ExpiryLevels {level} {shown} focus={expiry} />
          </div>
          <div class="min-w-0 flex-1">
            <h3 class="mb-1 text-[13px]">
              How forecasts served{ownRecord ? `, ${ownRecord.horizon} sessions ahead` : ''}
            </h3>
            {#if record.error !== undefined}<AnswerTrouble what="The record of forecasts" of={record} />{/if}
            {#if ownRecord}
              <ForecastTable {level} record={ownRecord} isLoading={record.isLoading || settled !== asked} />
            {:else if record.error === undefined}<p class="quiet">Fitting the past… it takes a second or two.</p>{/if}
            <h3 class="mt-4 mb-1 text-[13px]">Realized, by estimator</h3>
            <RealizedTable {level} />
          </div>
        </div>
      </div>
    {:else if fetched.error === undefined}<p class="quiet p-8">Fetching the level…</p>{/if}
  {/snippet}
  {#snippet aside()}<Reading
      sentences={level && isOwn ? levelReading(level, toldRecord, expiry) : [levelSentence(view.picture)]}
      onaction={view.act}
      picture={view.picture}
    />{/snippet}
</ViewFrame>
