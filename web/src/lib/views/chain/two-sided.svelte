<!-- Calls to the left, puts to the right, the strike between them; one scale of volatility for both. -->
<script lang="ts">
  import Figure from '../../shell/figure.svelte';
  import ValueTable from '../../shell/value-table.svelte';
  import LadderStanding from './ladder-standing.svelte';
  import LadderWhisker from './ladder-whisker.svelte';
  import { CHAIN_COLUMNS, type ChainColumnId } from './chain-columns';
  import { ladderFile } from './ladder-file';
  import { chanceLaw, markedChance } from './chance-law';
  import { BASED, BY_THEORY, ladderTexts, ladderWorth, whiskerScale } from './ladder-texts';
  import { mirrored, type StrikeRow, strikeRows } from './two-sided';
  import type { ChainRow } from '$lib/api/chain-row';
  import type { ExpiryPicture } from '$lib/api/picture';
  import type { Side } from '$lib/api/quantity';
  import { figureId } from '$lib/measures';
  import { signedText, strikeText } from '$lib/ui/format';
  import type { TradedLegText } from '$lib/api/traded';
  import type { ListedOption } from '$lib/theory';
  import { pickKey } from './pick-key';
  import { pickedOf } from '$lib/api/picked-legs';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    focus: ExpiryPicture;
    rows: ChainRow[];
    /** Whether theory still leaves the right to exercise early out */
    isPending: boolean;
    /** Options that were picked */
    legs: readonly TradedLegText[];
    /** One contract more of an option, or less */
    onpick: (option: ListedOption, step: 1 | -1) => void;
  }
  let { focus, rows, isPending, legs, onpick }: Props = $props();
  /** From the strike outwards. */
  const USUAL: readonly ChainColumnId[] = ['market', 'bidVolatility', 'askVolatility', 'bid', 'ask', 'theory', 'delta'];
  const WHISKER = 94;
  const WIDTHS: Partial<Record<ChainColumnId, number>> = {
    market: WHISKER,
    bidVolatility: 43,
    askVolatility: 48,
    bid: 50,
    ask: 50,
    theory: 58,
    delta: 48,
    standing: 104,
  };
  const HEADS: Partial<Record<ChainColumnId, string>> = { bidVolatility: 'bid vol', askVolatility: 'offer vol' };

  const view = quotedViewState();
  const underlying = $derived(view.picture.underlying);
  const texts = $derived(ladderTexts(view.picture, view.context.basis === 'contract'));
  const strikes = $derived(strikeRows(rows));
  const { scale } = $derived(whiskerScale(rows, focus.forward, WHISKER));
  /** The first row at or below the forward carries the heavy rule above it. */
  const ruled = $derived(strikes.find((r, i) => i > 0 && r.strike < focus.forward)?.strike);
  const nearest = $derived(
    strikes.reduce<number | undefined>(
      (best, { strike }) =>
        best === undefined || Math.abs(strike - focus.forward) < Math.abs(best - focus.forward) ? strike : best,
      undefined,
    ),
  );
  const isIn = ({ strike }: StrikeRow, side: Side) =>
    side === 'call' ? strike < focus.forward : strike >= focus.forward;
  const id = (measure: string, row: ChainRow) => figureId(measure, focus.date, row.strike, row.side);
  const drawn: Partial<Record<ChainColumnId, Record<Side, typeof callMarket>>> = {
    market: { call: callMarket, put: putMarket },
    standing: { call: callStanding, put: putStanding },
    theory: { call: callTheory, put: putTheory },
  };
  /** Columns of a side, to be chosen for both. */
  const choices: TableColumn<StrikeRow>[] = [
    ...USUAL.flatMap((name) => CHAIN_COLUMNS.filter((c) => c.id === name)),
    ...CHAIN_COLUMNS.filter((c) => !USUAL.includes(c.id)),
  ].map((column) => ({
    ...column,
    head: HEADS[column.id] ?? column.head,
    width: WIDTHS[column.id] ?? column.width,
    isExtra: !USUAL.includes(column.id),
    text: (row) => texts.textOf(row.put, column.id),
  }));

  function ofSide(
    side: Side,
    { id: chosen, width, definition, ...column }: TableColumn<StrikeRow>,
  ): TableColumn<StrikeRow> {
    const name = chosen as ChainColumnId;
    const isDimmed = isPending && BY_THEORY.includes(name);
    const basis = view.context.basis === 'contract' ? 'contract' : 'share';
    return {
      ...column,
      id: `${side}-${name}`,
      head: name === 'market' ? `${side}s` : column.head,
      label: `${column.label ?? column.head} of the ${side}`,
      definition: BASED.includes(name) ? `${definition ?? ''} Here per ${basis}.` : definition,
      width,
      isFixed: true,
      align: name === 'market' ? 'left' : undefined,
      value: (row) => ladderWorth(row[side], name),
      text: (row) =>
        isDimmed
          ? ''
          : name === 'probabilityItm'
            ? markedChance(texts.textOf(row[side], name), view.inForce)
            : texts.textOf(row[side], name),
      title: name === 'probabilityItm' ? (row) => chanceLaw(row[side], focus, view.inForce) : undefined,
      figure: (row) => id(name, row[side]),
      cell: isDimmed ? undefined : drawn[name]?.[side],
      tone: (row) =>
        `${name === 'theory' ? 'font-semibold' : name === 'market' ? '!p-0' : ''} ${isIn(row, side) || row[side].verdict !== null ? 'text-soft' : ''} ${isDimmed ? 'opacity-50' : ''}`,
    };
  }

  /** The option of a cell; at the strike that out of the money. */
  function optionAt(key: string, column: string): ListedOption | undefined {
    const row = strikes.find((r) => String(r.strike) === key);
    if (!row) return undefined;
    const side = column.startsWith('call-')
      ? 'call'
      : column.startsWith('put-')
        ? 'put'
        : isIn(row, 'call')
          ? 'put'
          : 'call';
    return { strike: row.strike, side };
  }

  const spine: TableColumn<StrikeRow> = {
    id: 'strike',
    head: 'strike',
    width: 56,
    isFixed: true,
    value: (row) => row.strike,
    text: (row) => strikeText(row.strike),
    cell: strike,
    tone: (row) =>
      `!text-center font-semibold border-line border-x bg-sheet ${row.strike === nearest ? 'shadow-[inset_0_-2px_0_var(--implied)]' : ''}`,
  };
  const pickedIn = (row: ChainRow) => pickedOf(legs, { expiry: focus.date, strike: row.strike, side: row.side });
  const pickColumn = (side: Side): TableColumn<StrikeRow> => ({
    id: `${side}-pick`,
    head: '',
    label: `picked ${side}s`,
    definition: `Contracts of the ${side} that are picked: + and − on a row change them.`,
    width: 26,
    isFixed: true,
    text: (row) => signedText(pickedIn(row[side]), 0),
    cell: side === 'call' ? pickCall : pickPut,
    tone: () => '!p-0 !text-center',
  });
  function expand(chosen: readonly TableColumn<StrikeRow>[]): TableColumn<StrikeRow>[] {
    const byId = new Map(chosen.map((c) => [c.id, c]));
    const calls = mirrored(chosen.map((c) => c.id)).flatMap((name) => byId.get(name) ?? []);
    return [
      ...calls.map((c) => ofSide('call', c)),
      pickColumn('call'),
      spine,
      pickColumn('put'),
      ...chosen.map((c) => ofSide('put', c)),
    ];
  }
</script>

{#snippet strike(row: StrikeRow)}
  <a
    class="hover:underline"
    tabindex="-1"
    href={view.pricerHref(id('theory', isIn(row, 'call') ? row.put : row.call))}
    aria-label="{strikeText(row.strike)}, take to Pricer">{strikeText(row.strike)}</a
  >
{/snippet}

{#snippet picking(row: ChainRow)}
  {@const count = pickedIn(row)}
  <button
    type="button"
    tabindex="-1"
    class="min-h-6 w-full text-center {count === 0 ? 'text-soft' : 'text-own font-semibold'}"
    aria-label="Pick {strikeText(row.strike)} {row.side}{count === 0 ? '' : `, ${signedText(count, 0)} picked`}"
    onclick={() => onpick(row, 1)}>{count === 0 ? '+' : signedText(count, 0)}</button
  >
{/snippet}
{#snippet pickCall(row: StrikeRow)}{@render picking(row.call)}{/snippet}
{#snippet pickPut(row: StrikeRow)}{@render picking(row.put)}{/snippet}
{#snippet whisker(row: ChainRow)}
  <LadderWhisker
    {row}
    {scale}
    width={WHISKER}
    onpick={() => view.address.set({ workings: id('midVolatility', row) })}
  />
{/snippet}
{#snippet callMarket(row: StrikeRow)}{@render whisker(row.call)}{/snippet}
{#snippet putMarket(row: StrikeRow)}{@render whisker(row.put)}{/snippet}
{#snippet callStanding(row: StrikeRow)}<LadderStanding row={row.call} date={focus.date} {texts} />{/snippet}
{#snippet putStanding(row: StrikeRow)}<LadderStanding row={row.put} date={focus.date} {texts} />{/snippet}
{#snippet theory(row: ChainRow)}
  {@const mark = texts.markOf(row)}
  {#if mark !== ''}<span role="img" aria-label={row.standing} class="mr-0.5">{mark}</span>{/if}<Figure
    id={id('theory', row)}
    text={texts.textOf(row, 'theory')}
    isInTable
  />
{/snippet}
{#snippet callTheory(row: StrikeRow)}{@render theory(row.call)}{/snippet}
{#snippet putTheory(row: StrikeRow)}{@render theory(row.put)}{/snippet}

<!-- What is typed in the table comes up to here: its cells have the keyboard. -->
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div onkeydown={(event) => pickKey(event, optionAt, onpick)}>
  <ValueTable
    name="{underlying.symbol} chain {focus.date}"
    storage="two-sided-columns"
    columns={choices}
    {expand}
    rows={strikes}
    rowKey={(row) => String(row.strike)}
    file={(shown) => ladderFile(view.picture, focus, rows, shown as ChainColumnId[])}
    rowTone={(row, isSorted) => (row.strike === ruled && !isSorted ? '!border-t-ink border-t-2' : '')}
    testid="two-sided"
    class="text-[12.5px]"
    isBusy={isPending}
    changesOf={view.live.isLive ? focus.date : undefined}
  />
</div>
