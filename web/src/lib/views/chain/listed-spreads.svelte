<!-- Listed spreads against theory. -->
<script lang="ts">
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import ShapeLink from '../../shell/shape-link.svelte';
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import ValueTable from '../../shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { countText, instantLabel } from '$lib/ui/format';
  import { legValues, spreadParts, spreadValue } from '$lib/theory';
  import { explain, figureScale, figureText, SPREAD_MEASURES, spreadFigure } from '$lib/measures';
  import { tradedText } from '$lib/market';
  import { spreadsRoute } from '$lib/api/contract/views';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { TheoryValues } from '$lib/theory/thread';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  const view = quotedViewState();
  const symbol = $derived(view.picture.underlying.symbol);
  const scale = $derived(figureScale(view.picture));
  const fetched = new Fetched(spreadsRoute, () => ({ parameters: { symbol }, query: { asOf: view.picture.asOf } }));
  const parts = $derived(
    spreadParts(
      view.picture,
      (fetched.answer?.spreads ?? []).map((s) => s.legs),
    ),
  );
  const values = new TheoryValues(() => ({ parts, inForce: view.inForce, stamp: view.theoryStamp }));
  const rows = $derived(
    (fetched.answer?.spreads ?? []).map((spread, index) => {
      const ofLegs = legValues(spread.legs, parts, values.values);
      const theory = spreadValue(spread.legs, ofLegs);
      const standing =
        theory === null ? null : spread.bid > theory ? 'dear' : spread.ask < theory ? 'cheap' : ('inside' as const);
      return {
        ...spread,
        index,
        ofLegs,
        theory,
        standing,
        text: tradedText(spread.kind, spread.legs, view.picture.asOf),
      };
    }),
  );
  type Row = (typeof rows)[number];
  /** How far theory lies outside bid and offer; positive where the market is dear. */
  const gapOf = (row: Row) =>
    row.theory === null || row.standing === 'inside'
      ? null
      : row.standing === 'dear'
        ? row.bid - row.theory
        : row.ask - row.theory;
  const quoted = $derived(fetched.answer?.quotedAt ? `quoted ${instantLabel(fetched.answer.quotedAt)}` : '');
  /** How a figure of one of these spreads comes about. */
  view.explainAlso('spread', (id) => {
    for (const row of rows)
      for (const measure of SPREAD_MEASURES)
        if (spreadFigure(measure.id, row.legs) === id)
          return explain(measure, { spread: row, legValues: row.ofLegs, quoted }, id, `${symbol} ${row.text}`);
    return undefined;
  });
  const explained = (id: string) => ({ id, figure: (row: Row) => spreadFigure(id, row.legs) });
  const dimmed = () => (values.isPending ? 'opacity-50' : '');
  const columns = $derived<TableColumn<Row>[]>([
    {
      id: 'spread',
      head: 'spread',
      isFixed: true,
      least: 230,
      align: 'left',
      value: (row) => row.text,
      text: (row) => row.text,
      tone: () => 'font-semibold',
    },
    {
      ...explained('bid'),
      head: 'bid',
      width: 70,
      value: (row) => row.bid,
      text: (row) => figureText(row.bid, 'quote', scale),
    },
    {
      ...explained('bidSize'),
      head: 'wanted',
      definition: 'Contracts bid for.',
      width: 70,
      value: (row) => row.bidSize,
      text: (row) => countText(row.bidSize),
      tone: () => 'quiet',
    },
    {
      ...explained('ask'),
      head: 'offer',
      width: 70,
      value: (row) => row.ask,
      text: (row) => figureText(row.ask, 'quote', scale),
    },
    {
      ...explained('askSize'),
      head: 'offered',
      definition: 'Contracts on offer.',
      width: 70,
      value: (row) => row.askSize,
      text: (row) => countText(row.askSize),
      tone: () => 'quiet',
    },
    {
      ...explained('theory'),
      head: 'theory',
      definition: 'The legs valued on the volatility in force, each times its ratio.',
      width: 80,
      value: (row) => row.theory,
      text: (row) => figureText(row.theory, 'premium', scale),
      tone: () => `text-implied font-semibold ${dimmed()}`,
    },
    {
      ...explained('gap'),
      head: 'dear / cheap',
      definition:
        'How far theory lies below the bid (dear) or above the offer (cheap); in files positive and negative.',
      width: 110,
      value: gapOf,
      text: (row) =>
        row.standing === 'dear' || row.standing === 'cheap'
          ? `${row.standing === 'dear' ? '▲' : '▼'} ${row.standing} ${figureText(Math.abs(gapOf(row) ?? 0), 'premium', scale)}`
          : (row.standing ?? '—'),
      tone: (row) => `${row.standing === 'inside' ? 'quiet' : ''} ${dimmed()}`,
    },
    { id: 'shape', head: '', label: 'to Structure', width: 56, isFixed: true, text: () => 'shape', cell: shape },
  ]);
</script>

{#snippet shape(row: Row)}<ShapeLink legs={row.legs} name={row.text} />{/snippet}

{#if fetched.error !== undefined}
  <AnswerTrouble what="The listed spreads" of={fetched} />
{:else if fetched.answer && rows.length === 0}
  <p class="quiet p-8 font-serif text-[15px]">
    No listed spreads are stored for this session. The demo keeps them for its today and for the days with quarter-hours
    of VM50, MERRO, TYNDA and RYE.
  </p>
{:else}
  <TheoryTrouble trouble={values.trouble} />
  <ValueTable
    name="{symbol} listed spreads"
    storage="spread-columns"
    {columns}
    {rows}
    rowKey={(row) => String(row.index)}
    context={{ symbol, currency: view.picture.underlying.currency, quotedAt: fetched.answer?.quotedAt ?? null }}
    testid="spreads"
    class="text-[12.5px] {fetched.isLoading ? 'opacity-60' : ''}"
    isBusy={fetched.isLoading || values.isPending}
  />
  {#if fetched.answer?.quotedAt !== view.picture.asOf}<p class="quiet mt-2">{quoted}</p>{/if}
{/if}
