<!-- Expected moves that were kept, held against what followed: to keep those of now, and to let go of others. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import AnswerTrouble from '$lib/shell/answer-trouble.svelte';
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { ask, troubleText } from '$lib/api/client/ask';
  import type { FollowedAnswer } from '$lib/api/client/fetched.svelte';
  import { freezeRoute, restoreFrozenRoute, thawRoute } from '$lib/api/contract/views';
  import { derivingQuery } from '$lib/api/as-of-context';
  import type { FrozenLevel, FrozenSet } from '$lib/api/range';
  import { dateText, instantLabel, numberText } from '$lib/ui/format';
  import { frozenVerdictText } from './frozen-words';
  import { MOVE_NAMES } from './range-words';
  import type { RangeParameters } from './parameters';

  interface Props {
    symbol: string;
    asOf: string;
    own: RangeParameters;
    frozen: FollowedAnswer<{ frozen: FrozenSet[] }>;
    /** Dates of the expiries that are shown */
    shown: readonly string[];
    decimals: number;
  }
  let { symbol, asOf, own, frozen, shown, decimals }: Props = $props();
  let name = $state('');
  let isBusy = $state(false);
  let trouble = $state<string>();
  /** A set that was deleted last: it can be put back. */
  let deleted = $state<Pick<FrozenSet, 'id' | 'name'>>();

  interface Row extends FrozenLevel {
    set: FrozenSet;
    isFirst: boolean;
  }
  const rows = $derived(
    (frozen.answer?.frozen ?? [])
      .toReversed()
      .flatMap((set) => set.levels.map((level, i): Row => ({ ...level, set, isFirst: i === 0 }))),
  );
  const price = (value: number | null) => numberText(value, decimals);

  async function act(what: () => Promise<unknown>): Promise<void> {
    isBusy = true;
    trouble = undefined;
    try {
      await what();
      frozen.retry();
    } catch (error) {
      trouble = troubleText(error);
    } finally {
      isBusy = false;
    }
  }
  function freeze(event: SubmitEvent): void {
    event.preventDefault();
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', asOf);
    const called = name.trim() || `${MOVE_NAMES[own.move]} of ${dateText(asOf.slice(0, 10), asOf)}`;
    void act(async () => {
      const body = { name: called, move: own.move, coverage: own.coverage, expiries: [...shown] };
      await ask(freezeRoute, { parameters: { symbol }, query, body });
      name = '';
    });
  }
  function thaw({ id, name: called }: FrozenSet): void {
    void act(async () => {
      await ask(thawRoute, { parameters: { symbol, id } });
      deleted = { id, name: called };
    });
  }
  function restore(id: string): void {
    void act(async () => {
      await ask(restoreFrozenRoute, { parameters: { symbol, id } });
      deleted = undefined;
    });
  }
  const columns = $derived<TableColumn<Row>[]>([
    {
      id: 'name',
      head: 'kept as',
      isFixed: true,
      width: 150,
      align: 'left',
      value: (r) => r.set.name,
      text: (r) => r.set.name,
      tone: (r) => (r.isFirst ? 'font-semibold' : 'quiet'),
    },
    {
      id: 'instant',
      head: 'of',
      width: 104,
      align: 'left',
      value: (r) => r.set.instant,
      text: (r) => (r.isFirst ? instantLabel(r.set.instant) : ''),
    },
    {
      id: 'expiry',
      head: 'expiry',
      width: 70,
      align: 'left',
      value: (r) => r.date,
      text: (r) => dateText(r.date, asOf),
    },
    { id: 'low', head: 'low', width: 66, value: (r) => r.low, text: (r) => price(r.low) },
    { id: 'high', head: 'high', width: 66, value: (r) => r.high, text: (r) => price(r.high) },
    {
      id: 'settled',
      head: 'closed at',
      width: 66,
      definition: 'Close of the last session up to the expiry that has ended.',
      value: (r) => r.settled,
      text: (r) => price(r.settled),
    },
    {
      id: 'verdict',
      head: 'what followed',
      align: 'left',
      value: (r) => r.distance,
      text: (r) => frozenVerdictText(r, asOf),
      tone: (r) => (r.state === 'outside' ? 'text-loss' : r.state === 'inside' ? 'text-gain' : 'quiet'),
    },
  ]);
</script>

<form class="flex flex-wrap items-baseline gap-x-2 gap-y-1 text-[12.5px]" onsubmit={freeze}>
  <label class="flex items-baseline gap-1.5"
    ><span class="quiet">freeze the levels of {instantLabel(asOf)} ({MOVE_NAMES[own.move]}) as</span>
    <input
      type="text"
      class="typed w-[180px]"
      maxlength="60"
      placeholder="a name"
      bind:value={name}
      aria-label="Name of the levels to keep"
    /></label
  >
  <button type="submit" class="btn btn-xs" disabled={isBusy || shown.length === 0}>freeze</button>
  {#if trouble}<span class="text-loss" role="alert">{trouble}</span>{/if}
</form>
{#if deleted}
  {@const { id, name: called } = deleted}
  <p class="mt-1 text-[12.5px]" role="status">
    “{called}” is deleted.
    <button type="button" class="text-implied min-h-6" disabled={isBusy} onclick={() => restore(id)}>put back</button>
  </p>
{/if}
{#if frozen.error !== undefined}<AnswerTrouble what="The levels that were kept" of={frozen} />{/if}
{#if rows.length > 0}
  <ValueTable
    name="{symbol} frozen levels"
    storage="range-frozen-columns"
    {columns}
    {rows}
    rowKey={(r) => `${r.set.id} ${r.date}`}
    testid="frozen-levels"
    class="mt-1 text-[12.5px]"
  />
  <p class="quiet mt-1 flex flex-wrap gap-x-3 text-[12.5px]">
    {#each frozen.answer?.frozen ?? [] as set (set.id)}
      <button
        type="button"
        class="min-h-6 underline decoration-dotted underline-offset-4"
        disabled={isBusy}
        onclick={() => thaw(set)}>delete “{set.name}”</button
      >
    {/each}
  </p>
{:else if frozen.answer}
  <p class="quiet mt-1 font-serif text-[14px]">
    Nothing was kept up to this instant. Levels that are frozen here are drawn against what follows, and judged once
    their expiry has come.
  </p>
{/if}
