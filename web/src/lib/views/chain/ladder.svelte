<!-- Strike ladder: market against theory in price and volatility, the columns as they were chosen. -->
<script lang="ts">
  import ValueTable from '../../shell/value-table.svelte';
  import { pickKey } from './pick-key';
  import type { ListedOption } from '$lib/theory';
  import LadderStanding from './ladder-standing.svelte';
  import LadderWhisker from './ladder-whisker.svelte';
  import { CHAIN_COLUMNS, type ChainColumnId } from './chain-columns';
  import { ladderFile } from './ladder-file';
  import { chanceLaw, markedChance } from './chance-law';
  import { BASED, BY_THEORY, ladderTexts, ladderWorth, whiskerScale } from './ladder-texts';
  import type { ChainRow } from '$lib/api/chain-row';
  import { countText, strikeText, volatilityText } from '$lib/ui/format';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { figureId } from '$lib/measures';
  import type { ExpiryPicture } from '$lib/api/picture';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  interface Props {
    focus: ExpiryPicture;
    rows: ChainRow[];
    /** Whether theory still leaves the right to exercise early out */
    isPending: boolean;
    /** One contract more of an option, or less */
    onpick: (option: ListedOption, step: 1 | -1) => void;
  }
  let { focus, rows, isPending, onpick }: Props = $props();
  const view = quotedViewState();
  const underlying = $derived(view.picture.underlying);
  const isContract = $derived(view.context.basis === 'contract');
  const { scale, ends } = $derived(whiskerScale(rows, focus.forward, 190));
  const most = $derived({
    openInterest: Math.max(1, ...rows.map((r) => r.openInterest ?? 0)),
    volume: Math.max(1, ...rows.map((r) => r.volume ?? 0)),
  });
  /** The first row at or below the forward carries the heavy rule above it. */
  const ruled = $derived(rows.find((r, i) => i > 0 && r.strike < focus.forward));

  const keyOf = (row: ChainRow) => `${row.strike}${row.side}`;
  const id = (measure: string, row: ChainRow) => figureId(measure, focus.date, row.strike, row.side);
  const texts = $derived(ladderTexts(view.picture, isContract));
  const cells: Partial<Record<ChainColumnId, typeof standing>> = { standing, market, openInterest, volume };

  const columns = $derived<TableColumn<ChainRow>[]>([
    {
      id: 'strike',
      head: 'strike',
      width: 60,
      isFixed: true,
      value: (row) => row.strike,
      text: (row) => strikeText(row.strike),
      cell: strike,
      tone: () => 'font-semibold',
    },
    {
      id: 'side',
      head: 'side',
      width: 36,
      isFixed: true,
      align: 'left',
      value: (row) => row.side,
      text: (row) => row.side,
    },
    ...CHAIN_COLUMNS.map(({ id: name, definition, ...column }): TableColumn<ChainRow> => ({
      ...column,
      id: name,
      head:
        name === 'market' && ends
          ? `vol, bid to offer and fit ${volatilityText(ends[0])} … ${volatilityText(ends[1])}`
          : column.head,
      definition: BASED.includes(name) ? `${definition} Here per ${isContract ? 'contract' : 'share'}.` : definition,
      align: name === 'market' || name === 'openInterest' || name === 'volume' ? 'left' : undefined,
      value: (row) => ladderWorth(row, name),
      text: (row) =>
        isPending && BY_THEORY.includes(name)
          ? ''
          : name === 'probabilityItm'
            ? markedChance(texts.textOf(row, name), view.inForce)
            : texts.textOf(row, name),
      title: name === 'probabilityItm' ? (row) => chanceLaw(row, focus, view.inForce) : undefined,
      figure: (row) => id(name, row),
      cell: isPending && BY_THEORY.includes(name) ? undefined : cells[name],
      tone: () =>
        `${name === 'theory' ? 'font-semibold' : name === 'market' ? '!p-0' : ''} ${isPending && BY_THEORY.includes(name) ? 'opacity-50' : ''}`,
    })),
  ]);
</script>

{#snippet strike(row: ChainRow)}
  <a
    class="hover:underline"
    tabindex="-1"
    href={view.pricerHref(id('theory', row))}
    aria-label="{strikeText(row.strike)} {row.side}, take to Pricer">{strikeText(row.strike)}</a
  >
{/snippet}

{#snippet standing(row: ChainRow)}<LadderStanding {row} date={focus.date} {texts} />{/snippet}

{#snippet market(row: ChainRow)}
  <LadderWhisker {row} {scale} onpick={() => view.address.set({ workings: id('midVolatility', row) })} />
{/snippet}

{#snippet bar(value: number | null, largest: number, name: string)}
  <svg width="50" height="8" role="img" aria-label="{name} {countText(value)}"
    ><rect width={(50 * (value ?? 0)) / largest} height="7" fill="var(--faint)" /></svg
  >
{/snippet}
{#snippet openInterest(row: ChainRow)}{@render bar(row.openInterest, most.openInterest, 'open')}{/snippet}
{#snippet volume(row: ChainRow)}{@render bar(row.volume, most.volume, 'traded')}{/snippet}

<!-- What is typed in the table comes up to here: its cells have the keyboard. -->
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div onkeydown={(event) => pickKey(event, (key) => rows.find((r) => keyOf(r) === key), onpick)}>
  <ValueTable
    name="{underlying.symbol} chain {focus.date}"
    storage="chain-columns"
    {columns}
    {rows}
    rowKey={keyOf}
    file={(shown) => ladderFile(view.picture, focus, rows, shown as ChainColumnId[])}
    rowTone={(row, isSorted) =>
      `${row === ruled && !isSorted ? '!border-t-ink border-t-2' : ''} ${row.verdict === null ? '' : 'text-soft'}`}
    testid="ladder"
    class="text-[12.5px]"
    isBusy={isPending}
    changesOf={view.live.isLive ? focus.date : undefined}
  />
</div>
