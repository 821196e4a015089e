<!--
  A table of many rows: sorted by several columns, moved through by keys like a sheet, its selection copied as text, columns as
  wide as they were made. Rows beyond what fits are not drawn.
-->
<script lang="ts" module>
  import {
    cellSelectionFeature,
    createSortedRowModel,
    createTable,
    rowSortingFeature,
    sortFn_basic,
    tableFeatures,
  } from '@tanstack/svelte-table';

  const features = tableFeatures({
    cellSelectionFeature,
    rowSortingFeature,
    sortedRowModel: createSortedRowModel(),
    sortFns: { basic: sortFn_basic },
  });
</script>

<script lang="ts" generics="Row extends object">
  import { tick, untrack } from 'svelte';
  import { CellMarks } from './cell-marks';
  import { moveOf } from './cell-moves';
  import { followDrag } from './follow-drag';
  import { fading } from './fading-changes';
  import ColumnWidth from './column-width.svelte';
  import { clipText, columnsShown, type TableColumn } from './table-column';
  import type { TableLayout } from './table-layout.svelte';
  import type { TableProps } from './table-props';
  import { VisibleRows } from './row-window.svelte';

  interface Props extends TableProps<Row> {
    label: string;
    layout: TableLayout;
    /** Opens the Workings of a figure; without it figures are texts */
    onfigure?: (id: string) => void;
  }
  let {
    label,
    columns,
    layout,
    rows,
    rowKey,
    onfigure,
    isOrdered = false,
    rowTone,
    under,
    testid,
    class: tone = '',
    isBusy = false,
    firstRows,
    changesOf,
  }: Props = $props();

  /** Pixels that a column which takes what is left has at least. */
  const LEAST_GROWING = 64;
  /** Frames of the browser in which a row that was scrolled to has come. */
  const MOST_FRAMES = 10;
  const uid = $props.id();
  const shown = $derived(columnsShown(columns, layout.shown));
  const shownIds = $derived(shown.map((c) => c.id).join('\n'));
  /** Only which columns there are; what they are worth is read as it is now. Made anew they would cost a step of the view. */
  const definitions = $derived(
    shownIds.split('\n').map((id) => {
      const column = () => untrack(() => shown.find((c) => c.id === id));
      return {
        id,
        // What is unknown stands last, whichever way the rows are sorted.
        accessorFn: (row: Row) => column()?.value?.(row) ?? undefined,
        sortFn: 'basic' as const,
        sortUndefined: 'last' as const,
        enableSorting: !isOrdered && column()?.value !== undefined,
      };
    }),
  );
  const table = createTable<typeof features, Row>({
    features,
    get columns() {
      return definitions;
    },
    get data() {
      return rows;
    },
    getRowId: (row) => rowKey(row),
    sortDescFirst: false,
    autoResetCellSelection: false,
  });
  const all = $derived(table.getRowModel().rows);
  const sorting = $derived(table.atoms.sorting.get());
  const bounds = $derived(table.getCellSelectionBounds());
  /** The end of the selection that moves: where the keyboard is. */
  const active = $derived(table.atoms.cellSelection.get().at(-1));

  let holder = $state<HTMLElement>();
  // svelte-ignore state_referenced_locally
  const visible = new VisibleRows(() => all.length, firstRows);
  const drawn = $derived(all.slice(visible.window.from, visible.window.to));
  /** Whether any cell is more than its text. */
  const hasDrawn = $derived(shown.some((c) => c.cell));
  /** What stands in the rows drawn, found at once: an expression for each of thousands of cells would be watched by itself. */
  const lines = $derived.by(() => {
    const { from } = visible.window;
    const isSorted = sorting.length > 0;
    return drawn.map(({ id, original: row }, i) => ({
      id,
      row,
      index: from + i,
      place: visible.isPartial ? visible.placeOf(from + i) : id,
      tone: rowTone?.(row, isSorted) ?? '',
      isOpen: under?.of(row) ?? false,
      cells: shown.map((column) => ({
        column,
        text: column.cell ? '' : column.text(row),
        tone: `${column.align === 'left' ? '!text-left ' : ''}${column.tone?.(row) ?? ''}`,
        figure: onfigure && !column.cell ? column.figure?.(row) : undefined,
        title: column.title?.(row),
      })),
    }));
  });
  /** The one cell that Tab reaches: where the keyboard was, or the first. */
  const entry = $derived.by(() => {
    const row = drawn.find((r) => r.id === active?.focusRowId) ?? drawn.at(0);
    const column = shown.find((c) => c.id === active?.focusColumnId) ?? shown.at(0);
    return row && column ? { row: row.id, column: column.id } : undefined;
  });
  let headAt = $state(0);
  let dragged = $state.raw<{ id: string; width: number }>();
  const widthOf = (column: TableColumn<Row>) =>
    dragged?.id === column.id ? dragged.width : (layout.widths[column.id] ?? column.width);
  const least = $derived(shown.reduce((sum, column) => sum + (widthOf(column) ?? column.least ?? LEAST_GROWING), 0));

  $effect(() => holder && visible.watch(holder));

  const sortOf = (id: string) => sorting.findIndex((s) => s.id === id);
  function sortWords(id: string): 'ascending' | 'descending' | undefined {
    const at = sortOf(id);
    return at < 0 ? undefined : sorting[at].desc ? 'descending' : 'ascending';
  }
  const cellMarks = new CellMarks();
  $effect(() => {
    void shown;
    const { from } = visible.window;
    const rowElements = [...(holder?.querySelectorAll<HTMLTableRowElement>('tbody > tr[data-key]') ?? [])];
    const marks = new Map<Element, Record<string, string>>();
    const mark = (cell: Element | undefined, attributes: Record<string, string>) => {
      if (cell) marks.set(cell, { ...marks.get(cell), ...attributes });
    };
    if (entry) {
      const { row, column } = entry;
      const element = rowElements.find((r) => r.dataset.key === row);
      mark(element?.cells[shown.findIndex((c) => c.id === column)], { tabindex: '0', 'data-entry': '' });
    }
    for (const b of bounds) {
      if (b.minRowIndex === b.maxRowIndex && b.minColumnIndex === b.maxColumnIndex) continue;
      for (const element of rowElements.slice(Math.max(0, b.minRowIndex - from), Math.max(0, b.maxRowIndex - from + 1)))
        for (let column = b.minColumnIndex; column <= b.maxColumnIndex; column++)
          mark(element.cells[column], { 'aria-selected': 'true' });
    }
    cellMarks.set(marks);
  });
  const isMany = $derived(table.getSelectedCellCount() > 1);

  /** Brings the keyboard to where the selection ends. */
  async function follow(): Promise<void> {
    const at = table.atoms.cellSelection.get().at(-1);
    if (!at) return;
    const index = all.findIndex((r) => r.id === at.focusRowId);
    const isDrawn = () => index >= visible.window.from && index < visible.window.to;
    if (!isDrawn()) visible.show(index);
    await tick();
    // The rows come with the scrolling, which the browser tells in its own time.
    for (let frame = 0; frame < MOST_FRAMES && !isDrawn(); frame++) {
      await new Promise((resolve) => requestAnimationFrame(resolve));
      await tick();
    }
    holder?.querySelector<HTMLElement>('tbody [data-entry]')?.focus();
  }

  /** Another row or column by steps, the selection stretched to it or put there. */
  function go(rowStep: number, columnStep: number, isStretch: boolean): void {
    const at = active ?? { focusRowId: entry?.row, focusColumnId: entry?.column };
    const row = all.findIndex((r) => r.id === at.focusRowId);
    const column = shown.findIndex((c) => c.id === at.focusColumnId);
    const clamp = (value: number, count: number) => Math.min(Math.max(0, value), count - 1);
    const to = {
      focusRowId: all[clamp(row + rowStep, all.length)].id,
      focusColumnId: shown[clamp(column + columnStep, shown.length)].id,
    };
    if (isStretch && active) table.selectCellRange({ ...active, ...to });
    else table.setFocusedCell(to.focusRowId, to.focusColumnId);
    void follow();
  }

  /** Does what stands in the cell, or goes into it where that is more than one thing. */
  function enter(cell: HTMLElement): void {
    const { figure } = cell.dataset;
    if (figure !== undefined) {
      onfigure?.(figure);
      return;
    }
    const things = cell.querySelectorAll<HTMLElement>('button:not(:disabled), a[href], input, select');
    if (things.length === 1) things[0].click();
    else things[0]?.focus();
  }

  function headKey(event: KeyboardEvent): boolean {
    const heads = [...(holder?.querySelectorAll<HTMLElement>('thead [data-head]') ?? [])];
    const at = heads.indexOf(event.target as HTMLElement);
    if (at < 0) return false;
    const to = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: heads.length - 1 }[event.key];
    if (to !== undefined) heads[Math.min(Math.max(0, to), heads.length - 1)].focus();
    else if (event.key === 'ArrowDown')
      void follow().then(() => holder?.querySelector<HTMLElement>('[data-entry]')?.focus());
    else return false;
    return true;
  }

  function bodyKey(event: KeyboardEvent, cell: HTMLElement): boolean {
    const isInside = event.target !== cell;
    const { shiftKey: isStretch, ctrlKey, metaKey } = event;
    const move = moveOf(event, { rows: all.length, columns: shown.length, page: visible.page });
    if (move) {
      go(move.rows, move.columns, isStretch);
      return true;
    }
    switch (event.key) {
      case 'a':
        if (!ctrlKey && !metaKey) return false;
        table.selectAllCells();
        return true;
      case 'Enter':
      case 'F2':
        if (isInside) return false;
        if (cell.closest<HTMLElement>('tr')?.dataset.key === active?.focusRowId) enter(cell);
        // The row that had the keyboard was scrolled away: back to it.
        else void follow();
        return true;
      case 'Escape':
        if (isInside) cell.focus();
        else if (isMany) go(0, 0, false);
        else return false;
        return true;
      default:
        return false;
    }
  }

  function onkeydown(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    if (event.altKey || target.closest('input, select, textarea, [role=slider]')) return;
    const cell = target.closest<HTMLElement>('tbody td[data-column]');
    if (!(cell ? bodyKey(event, cell) : headKey(event))) return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** What opens Workings is asked at the table: a listener less for each of thousands. */
  function onclick(event: MouseEvent): void {
    const id = (event.target as HTMLElement).closest<HTMLElement>('td')?.dataset.figure;
    if (id !== undefined) onfigure?.(id);
  }

  const placeOf = (target: EventTarget | null) => {
    const cell = (target as HTMLElement | null)?.closest<HTMLTableCellElement>('tbody > tr[data-key] > td');
    const row = cell?.closest<HTMLElement>('tr')?.dataset.key;
    return cell && row !== undefined ? { row, column: shown[cell.cellIndex].id } : undefined;
  };
  function onfocusin(event: FocusEvent): void {
    const head = [...(holder?.querySelectorAll('thead [data-head]') ?? [])].indexOf(event.target as Element);
    if (head >= 0) headAt = head;
    const at = placeOf(event.target);
    if (at && (at.row !== active?.focusRowId || at.column !== active.focusColumnId))
      table.setFocusedCell(at.row, at.column);
  }
  /** Dragging over cells selects them. */
  function onpointerdown(event: PointerEvent): void {
    const at = placeOf(event.target);
    if (!at || event.button !== 0 || event.pointerType === 'touch') return;
    if (event.shiftKey && active) table.selectCellRange({ ...active, focusRowId: at.row, focusColumnId: at.column });
    else table.setFocusedCell(at.row, at.column);
    if (!(event.target as HTMLElement).closest('a, button, input, select')) void follow();
    const over = (move: PointerEvent) => {
      const to = placeOf(document.elementFromPoint(move.clientX, move.clientY));
      const from = table.atoms.cellSelection.get().at(-1);
      if (!to || !from || (to.row === from.focusRowId && to.column === from.focusColumnId)) return;
      table.selectCellRange({ ...from, focusRowId: to.row, focusColumnId: to.column });
    };
    followDrag(over, () => isMany && void follow());
  }
  function oncopy(event: ClipboardEvent): void {
    if (!event.clipboardData || !placeOf(event.target)) return;
    const texts = bounds.flatMap((b) =>
      all
        .slice(b.minRowIndex, b.maxRowIndex + 1)
        .map((row) => shown.slice(b.minColumnIndex, b.maxColumnIndex + 1).map((column) => column.text(row.original))),
    );
    event.clipboardData.setData('text/plain', clipText(texts));
    event.preventDefault();
  }
</script>

<div bind:this={holder} class={visible.hasOwnScroll ? 'max-h-[80vh] overflow-auto' : ''}>
  <table
    class="figures table-fixed {tone}"
    style:min-width="{least}px"
    role="grid"
    aria-label={label}
    aria-describedby="{uid}-keys"
    aria-rowcount={all.length + 1}
    aria-multiselectable="true"
    aria-busy={isBusy}
    data-testid={testid}
    {onclick}
    {onkeydown}
    {onfocusin}
    {onpointerdown}
    {oncopy}
  >
    <colgroup>
      {#each shown as column (column.id)}
        {@const width = widthOf(column)}
        <col style:width={width === undefined ? undefined : `${width}px`} />
      {/each}
    </colgroup>
    <thead class="sticky top-0 z-10">
      <tr aria-rowindex={1}>
        {#each shown as column, i (column.id)}
          {@const direction = sortWords(column.id)}
          <th
            class={column.align === 'left' ? '!text-left' : ''}
            aria-label={column.head || column.label}
            aria-sort={direction}
            aria-describedby={column.definition ? `${uid}-${column.id}` : undefined}
          >
            {#if column.headCell}{@render column.headCell(column)}
            {:else if isOrdered || !column.value}
              {column.head}
            {:else}
              <button
                type="button"
                data-head
                tabindex={headAt === i ? 0 : -1}
                onclick={(event) => table.getColumn(column.id)?.toggleSorting(undefined, event.shiftKey)}
                >{column.head}{#if direction}<span aria-hidden="true" class="text-ink"
                    >{direction === 'ascending' ? ' ↑' : ' ↓'}{sorting.length > 1 ? sortOf(column.id) + 1 : ''}</span
                  >{/if}</button
              >
            {/if}
            <!-- Two columns share what there is. -->
            {#if shown.length > 2}
              <ColumnWidth
                label={column.label ?? column.head}
                width={widthOf(column) ?? LEAST_GROWING}
                isReached={headAt === i}
                ondrag={(width) => (dragged = width === undefined ? undefined : { id: column.id, width })}
                onresize={(width) => layout.resize(column.id, width)}
              />
            {/if}
          </th>
        {/each}
      </tr>
    </thead>
    <tbody {@attach fading(changesOf)} class={isMany ? 'select-none' : ''}>
      {#if visible.window.above > 0}<tr aria-hidden="true" style:height="{visible.window.above}px"></tr>{/if}
      {#each lines as line (line.place)}
        <tr class="border-hair border-b {line.tone}" data-key={line.id} aria-rowindex={line.index + 2}>
          {#if hasDrawn}
            {#each line.cells as cell (cell.column.id)}
              <td class={cell.tone} data-column={cell.column.id} data-figure={cell.figure} title={cell.title}
                >{#if cell.column.cell}{@render cell.column.cell(line.row)}{:else}{cell.text}{/if}</td
              >
            {/each}
          {:else}
            {#each line.cells as cell (cell.column.id)}
              <td class={cell.tone} data-column={cell.column.id} data-figure={cell.figure} title={cell.title}
                >{cell.text}</td
              >
            {/each}
          {/if}
        </tr>
        {#if under && line.isOpen}
          <tr><td colspan={shown.length} class="!text-left">{@render under.draw(line.row)}</td></tr>
        {/if}
      {/each}
      {#if visible.window.below > 0}<tr aria-hidden="true" style:height="{visible.window.below}px"></tr>{/if}
    </tbody>
  </table>
</div>
<!-- What each column is, for the heads to refer to. -->
<div hidden>
  <span id="{uid}-keys">Arrows move, with Shift they select; Enter opens what stands in a cell.</span>
  {#each shown as column (column.id)}
    {#if column.definition}<span id="{uid}-{column.id}">{column.definition}</span>{/if}
  {/each}
</div>
