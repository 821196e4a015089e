<!-- What odds and expected moves told in the past were worth: how often they held, which source served best, told against came. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import AnswerTrouble from '$lib/shell/answer-trouble.svelte';
  import ValueTable from '$lib/shell/value-table.svelte';
  import Choice from '$lib/ui/choice.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { derivingQuery } from '$lib/api/as-of-context';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { oddsRecordRoute } from '$lib/api/contract/views';
  import { EVENTFUL, type EventOutcome, type OddsRecord, POOLS, RECORD_DAYS } from '$lib/api/odds-record';
  import { ODDS_SOURCE_NAMES } from '$lib/measures';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { countedText, dateText, numberText, probabilityText, signedText } from '$lib/ui/format';
  import type { Palette } from '$lib/ui/palette';
  import type { RangeParameters } from './parameters';
  import ReliabilityChart from './reliability-chart.svelte';

  interface Props {
    own: RangeParameters;
    palette: Palette;
  }
  let { own, palette }: Props = $props();
  const view = quotedViewState();
  const EVENT_WORDS = { all: 'all', with: 'with an event', without: 'without' } as const;
  const POOL_WORDS = { own: 'own', sector: 'its sector', all: 'all underlyings' } as const;
  const { symbol } = $derived(view.picture.underlying);
  const asked = $derived.by(() => {
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', view.live.minute);
    query.set('days', String(own.over));
    query.set('eventful', own.eventful);
    query.set('pool', own.pool);
    return { parameters: { symbol }, query };
  });
  const fetched = new Fetched(oddsRecordRoute, () => asked);
  const record = $derived(fetched.answer?.symbol === symbol ? fetched.answer : undefined);
  /** Those of several underlyings take a while: which, is said. */
  const isPooled = $derived(own.pool !== 'own');
  const best = $derived(
    record?.sources
      .filter((s) => s.brier !== null)
      .reduce<OddsRecord['sources'][number] | undefined>(
        (a, b) => (a && (a.brier ?? 1) <= (b.brier ?? 1) ? a : b),
        undefined,
      ),
  );

  const move = (value: number | null) => (value === null ? '—' : numberText(value * 100, 1));
  /** How many of its priced deviations an event brought. */
  const times = (e: EventOutcome) =>
    e.move === null || e.came === null || e.move === 0 ? null : Math.abs(e.came) / e.move;
  const eventColumns = $derived<TableColumn<EventOutcome>[]>([
    {
      id: 'event',
      head: 'event',
      isFixed: true,
      width: 110,
      align: 'left',
      value: (e) => e.label,
      text: (e) => e.label,
    },
    {
      id: 'on',
      head: 'on',
      width: 76,
      align: 'left',
      value: (e) => e.instant,
      text: (e) => dateText(e.instant.slice(0, 10), view.picture.asOf),
    },
    {
      id: 'move',
      head: 'priced ± %',
      width: 72,
      definition: 'One standard deviation, as options priced it at the end of the session before.',
      value: (e) => e.move,
      text: (e) => move(e.move),
    },
    {
      id: 'interval',
      head: '95 % interval',
      width: 92,
      value: (e) => e.low,
      text: (e) => (e.low === null ? '—' : `${move(e.low)} to ${move(e.high)}`),
    },
    {
      id: 'came',
      head: 'came %',
      width: 64,
      definition: 'Close over the close before of its session.',
      value: (e) => e.came,
      text: (e) => (e.came === null ? '—' : signedText(Math.expm1(e.came) * 100, 1)),
    },
    {
      id: 'times',
      head: 'of it',
      width: 56,
      definition: 'The move that came, in deviations that were priced.',
      value: times,
      text: (e) => numberText(times(e), 1),
    },
  ]);
  interface Held {
    name: string;
    told: number | null;
    inside: number;
    count: number;
    low: number;
    high: number;
  }
  const held = $derived<Held[]>(
    record
      ? [
          { name: 'straddle', ...record.straddle },
          ...record.coverages.map(({ coverage, ...rest }) => ({
            name: `${Math.round(coverage * 100)} % range`,
            told: coverage,
            ...rest,
          })),
        ]
      : [],
  );
  const percent = (value: number | null) => (value === null ? '—' : `${numberText(value * 100, 0)} %`);
  const heldColumns: TableColumn<Held>[] = [
    { id: 'name', head: 'told', isFixed: true, width: 84, align: 'left', value: (r) => r.name, text: (r) => r.name },
    { id: 'told', head: 'should hold', width: 76, value: (r) => r.told, text: (r) => percent(r.told) },
    {
      id: 'inside',
      head: 'held',
      width: 76,
      definition: 'Of the windows that do not overlap.',
      value: (r) => (r.count === 0 ? null : r.inside / r.count),
      text: (r) => (r.count === 0 ? '—' : `${r.inside} of ${r.count}`),
    },
    {
      id: 'interval',
      head: '95 % interval',
      width: 92,
      definition: 'Of the share that held (Wilson 1927).',
      value: (r) => r.low,
      text: (r) => (r.count === 0 ? '—' : `${numberText(r.low * 100, 0)} to ${percent(r.high)}`),
    },
    {
      id: 'verdict',
      head: 'reads',
      align: 'left',
      value: (r) => r.told,
      text: (r) =>
        r.told === null || r.count === 0
          ? '—'
          : r.told < r.low
            ? 'held more often'
            : r.told > r.high
              ? 'held less often'
              : 'within chance',
    },
  ];
  type Source = OddsRecord['sources'][number];
  const sourceColumns: TableColumn<Source>[] = [
    {
      id: 'source',
      head: 'source',
      isFixed: true,
      width: 118,
      align: 'left',
      value: (r) => ODDS_SOURCE_NAMES[r.source],
      text: (r) => ODDS_SOURCE_NAMES[r.source],
    },
    { id: 'windows', head: 'windows', width: 62, value: (r) => r.windows, text: (r) => String(r.windows) },
    {
      id: 'brier',
      head: 'Brier',
      width: 58,
      definition: 'Mean squared distance of its chances from what came; 0 is perfect.',
      value: (r) => r.brier,
      text: (r) => numberText(r.brier, 4),
    },
    {
      id: 'logScore',
      head: 'log score',
      width: 66,
      definition: 'Mean of minus the logarithm of the chance it gave to what came; 0 is perfect.',
      value: (r) => r.logScore,
      text: (r) => numberText(r.logScore, 4),
    },
    {
      id: 'chance',
      head: 'if right',
      width: 62,
      definition:
        'Chance of outcomes as unevenly spread over its law, if that were right; not told of several underlyings, whose windows hang together.',
      value: (r) => r.chance,
      text: (r) => probabilityText(r.chance),
    },
    {
      id: 'verdict',
      head: 'reads',
      align: 'left',
      value: (r) => r.chance,
      text: (r) =>
        r.brier === null
          ? 'too few'
          : r.chance === null
            ? 'scored alone'
            : r.chance < 0.01
              ? 'not calibrated'
              : 'may be right',
    },
  ];
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1 text-[12.5px]">
  <Choice
    label="Days ahead"
    choices={RECORD_DAYS}
    chosen={own.over}
    words={(days) => `${days} days`}
    onchoose={(days) => view.address.set({ over: days === 30 ? undefined : String(days) })}
  />
  <Choice
    label="Whose windows"
    choices={POOLS}
    chosen={own.pool}
    words={(pool) => POOL_WORDS[pool]}
    onchoose={(pool) => view.address.set({ pool: pool === 'own' ? undefined : pool })}
  />
  <Choice
    label="Windows by scheduled events"
    choices={EVENTFUL}
    chosen={own.eventful}
    words={(eventful) => EVENT_WORDS[eventful]}
    onchoose={(eventful) => view.address.set({ eventful: eventful === 'all' ? undefined : eventful })}
  />
</div>
{#if fetched.error !== undefined}<AnswerTrouble what="The record" of={fetched} />{/if}
{#if record}
  <div class={fetched.isLoading ? 'opacity-60' : ''} aria-busy={fetched.isLoading} data-testid="odds-record">
    <p class="my-1 font-serif text-[14px]">
      {#if record.windows === 0}
        No window of {countedText(record.sessions, 'session')} is over yet whose odds were kept.
      {:else}
        {countedText(record.windows, 'window')} of {countedText(record.sessions, 'session')}
        {#if record.underlyings.length > 1}
          of {countedText(record.underlyings.length, 'underlying')}, {countedText(
            record.independent,
            'stretch',
            'stretches',
          )}
          of time that do not overlap,
        {:else}that do not overlap,{/if}
        {dateText(record.from ?? '', record.asOf)} to {dateText(record.to ?? '', record.asOf)}{best
          ? `: ${ODDS_SOURCE_NAMES[best.source]} served best by the Brier score.`
          : '; with fewer than twenty nothing is said of a source.'}
      {/if}
    </p>
    {#if record.windows > 0}
      <div class="flex gap-6 max-[1100px]:flex-col">
        <div class="w-[46%] shrink-0 max-[1100px]:w-full">
          <ValueTable
            name="{symbol} record of expected moves, {record.days} days"
            storage="range-held-columns"
            columns={heldColumns}
            rows={held}
            rowKey={(r) => r.name}
            isOrdered
            testid="held"
            class="text-[12.5px]"
          />
          <div class="relative mt-2 h-[170px]"><ReliabilityChart {record} {palette} /></div>
        </div>
        <div class="min-w-0 flex-1">
          <ValueTable
            name="{symbol} record of sources, {record.days} days"
            storage="range-record-columns"
            columns={sourceColumns}
            rows={record.sources}
            rowKey={(r) => r.source}
            testid="record-sources"
            class="text-[12.5px]"
          />
          <p class="quiet mt-1 text-[12.5px]">
            Chances to end below thresholds of up to 1.5 deviations, told at the end of a session with what was known
            then. Own history is drawn anew from what was known then. Borrowed smiles are not kept, so they have no
            record.
          </p>
        </div>
      </div>
    {/if}
    {#if record.events.length > 0}
      <h3 class="mt-2 text-[13px]">Events of {symbol}: the move as it was priced the evening before, and what came</h3>
      <ValueTable
        name="{symbol} moves of events"
        storage="range-event-columns"
        columns={eventColumns}
        rows={record.events}
        rowKey={(e) => `${e.instant} ${e.label}`}
        testid="event-moves"
        class="text-[12.5px]"
      />
    {/if}
  </div>
{:else if fetched.error === undefined}<p class="quiet mt-2">
    Reckoning the past… it takes {isPooled ? 'a second or two for each underlying' : 'a second or two'}.
  </p>{/if}
