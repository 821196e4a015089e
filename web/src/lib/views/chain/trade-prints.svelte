<!-- The session's prints up to the instant, latest first. -->
<script lang="ts">
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import TableMenu from '../../shell/table-menu.svelte';
  import { countText, numberText, tickDecimals } from '$lib/ui/format';
  import { tradedText } from '$lib/market';
  import { tradesRoute } from '$lib/api/contract/views';
  import { addressOf } from '$lib/api/client/ask';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  /** Rows drawn; what is older is in the file that the API gives. */
  const MOST_ROWS = 300;
  const view = quotedViewState();
  const symbol = $derived(view.picture.underlying.symbol);
  const decimals = $derived(tickDecimals(view.picture.underlying.optionTick));
  let scope = $state<'focus' | 'all' | 'spreads'>('focus');
  const asked = $derived({ parameters: { symbol }, query: { asOf: view.picture.asOf } });
  const fetched = new Fetched(tradesRoute, () => asked);
  const rows = $derived(
    (fetched.answer?.trades ?? []).filter((t) =>
      scope === 'all'
        ? true
        : scope === 'spreads'
          ? t.kind !== 'outright'
          : t.legs.some((l) => l.expiry === view.focus?.date),
    ),
  );
  const contracts = $derived(rows.reduce((sum, t) => sum + t.size * t.legs.length, 0));
  const met = (t: { price: number; bid: number; ask: number }) =>
    t.price >= t.ask ? 'at offer' : t.price <= t.bid ? 'at bid' : 'between';
  const SCOPES = [
    ['focus', 'expiry in focus'],
    ['spreads', 'spreads'],
    ['all', 'all'],
  ] as const;
</script>

{#if fetched.error !== undefined}
  <AnswerTrouble what="The prints" of={fetched} />
{:else if fetched.answer && fetched.answer.trades.length === 0}
  <p class="quiet p-8 font-serif text-[15px]">
    No prints are stored for this session. The demo keeps its tape for the days with quarter-hours of VM50, MERRO, TYNDA
    and RYE.
  </p>
{:else}
  <div class="mb-1 flex items-center gap-4">
    <div class="segment" role="group" aria-label="Prints shown">
      {#each SCOPES as [key, label] (key)}
        <button type="button" aria-pressed={scope === key} onclick={() => (scope = key)}>{label}</button>
      {/each}
    </div>
    <span class="quiet"
      >{countText(rows.length)} prints, {countText(contracts)} contracts{rows.length > MOST_ROWS
        ? `; the latest ${MOST_ROWS} shown`
        : ''}</span
    >
    <a
      class="quiet underline decoration-dotted"
      href={addressOf(tradesRoute, { ...asked, query: { ...asked.query, format: 'csv' } })}
      download>all as csv</a
    >
  </div>
  <TableMenu name="{symbol} prints" />
  <table class="figures text-[12.5px] {fetched.isLoading ? 'opacity-60' : ''}" data-testid="prints">
    <thead class="bg-paper sticky top-0 z-10">
      <tr
        ><th>time</th><th class="!text-left">traded</th><th>price</th><th>size</th><th>bid</th><th>offer</th><th>met</th
        ></tr
      >
    </thead>
    <tbody>
      {#each rows.slice(0, MOST_ROWS) as row, i (i)}
        <tr class="border-hair border-b">
          <td>{row.instant.slice(11, 19)}</td>
          <td class="!text-left {row.kind === 'outright' ? '' : 'font-semibold'}"
            >{tradedText(row.kind, row.legs, view.picture.asOf)}</td
          >
          <td class="font-semibold">{numberText(row.price, decimals)}</td>
          <td>{countText(row.size)}</td>
          <td class="quiet">{numberText(row.bid, decimals)}</td>
          <td class="quiet">{numberText(row.ask, decimals)}</td>
          <td class="quiet">{met(row)}</td>
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
