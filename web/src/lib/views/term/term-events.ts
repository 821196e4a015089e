import type { Annotations, Shape } from 'plotly.js';
import type { ScheduledEvent } from '../../api/surface-resource.ts';
import { labelRows } from '../../ui/label-rows.ts';
import type { Palette } from '../../ui/palette.ts';

/** An event at its place along the axis, pixels and axis units. */
export interface PlacedEvent {
  event: ScheduledEvent;
  at: number;
  pixels: number;
}

/** A flag says the move that its event is priced at from here on. */
const LEAST_MOVE = 0.01;
/** Rows for names, and the height of one and of the strip's marks, pixels. */
const MOST_ROWS = 2;
const ROW = 15;
const MARK = 7;

/** Whether an event's variance is told from nothing: one whose interval reaches 0 explains nothing. */
export function isTold({ implied }: Pick<ScheduledEvent, 'implied'>): boolean {
  return implied !== null && implied.interval[0] > 0;
}

function flagText(event: ScheduledEvent): string {
  const { label, implied } = event;
  return implied && isTold(event) && implied.move >= LEAST_MOVE
    ? `${label} ±${(implied.move * 100).toFixed(1)} %`
    : label;
}

/** The first of each kind. */
function nextOfKind(events: readonly PlacedEvent[]): PlacedEvent[] {
  const kinds = new Set<string>();
  return events.filter(({ event }) => {
    if (kinds.has(event.kind)) return false;
    kinds.add(event.kind);
    return true;
  });
}

/**
 * A strip of events above the plot: a mark for each, the next of each kind by its name, how many more there are.
 * @param width of the plot, pixels
 * @returns its height in pixels beside what is drawn in it
 */
export function eventStrip(
  events: readonly PlacedEvent[],
  { width, palette }: { width: number; palette: Palette },
): { height: number; shapes: Partial<Shape>[]; annotations: Partial<Annotations>[] } {
  if (events.length === 0) return { height: 0, shapes: [], annotations: [] };
  const next = nextOfKind(events);
  const rows = labelRows(
    next.map(({ event, pixels }) => ({ at: pixels, text: flagText(event) })),
    MOST_ROWS,
  );
  const height = MARK + ROW * (Math.max(0, ...rows.map((row) => row ?? 0)) + 1);
  const named = new Set(next.filter((_, i) => rows[i] !== undefined));
  const line = ({ at }: PlacedEvent, thickness: number, dash?: 'dot'): Partial<Shape> => ({
    type: 'line',
    x0: at,
    x1: at,
    yref: 'paper',
    line: { color: palette.event, width: thickness, dash },
    layer: 'below',
  });
  const shapes: Partial<Shape>[] = events.map((placed) => ({
    ...line(placed, 1.4),
    ysizemode: 'pixel',
    yanchor: 1,
    y0: 0,
    y1: MARK,
  }));
  // Those with a name are followed down to the lines.
  shapes.push(...[...named].map((placed) => ({ ...line(placed, 1, 'dot'), y0: 0, y1: 1 })));
  const annotations = next.flatMap((placed, i): Partial<Annotations>[] => {
    const row = rows[i];
    if (row === undefined) return [];
    return [
      {
        x: placed.at,
        y: 1,
        yref: 'paper',
        yanchor: 'bottom',
        yshift: MARK + ROW * row,
        text: `⚑ ${flagText(placed.event)}`,
        showarrow: false,
        // At the right end a name stands to the left of its mark.
        xanchor: placed.pixels > width - 6.2 * (flagText(placed.event).length + 3) ? 'right' : 'left',
        xshift: -4,
        borderpad: 0,
        font: { size: 11.5, color: palette.event },
      },
    ];
  });
  const more = events.length - named.size;
  if (more > 0)
    annotations.push({
      x: 1,
      xref: 'paper',
      y: 1,
      yref: 'paper',
      yanchor: 'bottom',
      xanchor: 'left',
      xshift: 4,
      text: `${more} more ${more === 1 ? 'event' : 'events'}`,
      showarrow: false,
      font: { size: 11.5, color: palette.event },
    });
  return { height, shapes, annotations };
}
