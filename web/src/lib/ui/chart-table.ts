import type { ShownTable } from './shown-table.ts';
import type { Chart } from './chart.ts';

/** Name of strokes that lead to labels: they hold no data. */
export const LEADS = 'leads to labels';

/** Points of a chart as a table: one row a point, with the line it belongs to; gaps and labels are none. */
export function chartTable({ data, strokes = [] }: Chart): ShownTable {
  const rows = [...data, ...strokes].flatMap((trace, i) => {
    const { x, y, name, mode } = trace as {
      x?: ArrayLike<unknown>;
      y?: ArrayLike<unknown>;
      name?: string;
      mode?: string;
    };
    if (!x || !y || mode === 'text' || name === LEADS) return [];
    return Array.from(x, (value, p) => [name ?? `line ${i + 1}`, cell(value), cell(y[p])]).filter(
      ([, across, up]) => across !== null || up !== null,
    );
  });
  return { header: ['line', 'x', 'y'], rows };
}

function cell(value: unknown): string | number | null {
  if (typeof value === 'number') return Number.isFinite(value) ? value : null;
  return typeof value === 'string' ? value : null;
}
