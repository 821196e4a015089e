import type { Annotations, Data, Layout, LayoutAxis } from 'plotly.js';
import type { SharedPlace } from './crosshair.svelte.ts';
import type { Palette } from './palette.ts';
import type { Strokes } from './strokes.ts';

/** What one chart shows: traces and layout for Plotly, and the same in words. */
export interface Chart {
  data: Data[];
  /** Pieces of lines below them, on axes of numbers */
  strokes?: Strokes[];
  layout: Partial<Layout>;
  /** Text alternative */
  description: string;
  /** Words for a place on the horizontal axis, over what a pointer reads there */
  titleAt?: (x: number | string) => string;
  /** Its horizontal axis in a unit that other charts of the view have, too */
  place?: SharedPlace;
  /** What it is of: a zoom is kept as long as it stays the same */
  subject?: string;
}

export const CHART_FONT = "'Source Sans 3 Variable', sans-serif";

/** Axis in the printed style: few hairlines, no box. */
export function axisStyle(palette: Palette) {
  return {
    gridcolor: palette.hair,
    linecolor: palette.faint,
    tickcolor: palette.faint,
    tickfont: { size: 11.5, color: palette.soft },
    zeroline: false,
    fixedrange: false,
    automargin: false,
  } as const;
}

/** Layout shared by all charts. */
export function baseLayout(palette: Palette): Partial<Layout> {
  return {
    paper_bgcolor: 'rgba(0,0,0,0)',
    plot_bgcolor: 'rgba(0,0,0,0)',
    font: { family: CHART_FONT, size: 11.5, color: palette.ink },
    showlegend: false,
    // The nearest point of every line; what they say is written by ui/readout.
    hovermode: 'x',
    hoverdistance: 30,
    // A true minus comes from Plotly; thousands are apart as everywhere.
    separators: '.\u202f',
    dragmode: 'zoom',
  };
}

/** What the vertical axis shows, above its upper end at the left. */
export function cornerLabel(text: string, palette: Palette): Partial<Annotations> {
  return {
    text,
    x: 0,
    y: 1,
    xref: 'paper',
    yref: 'paper',
    showarrow: false,
    xanchor: 'left',
    yanchor: 'bottom',
    xshift: -54,
    yshift: 4,
    font: { color: palette.soft },
  };
}

/** Title of an axis. */
export function axisTitle(text: string, palette: Palette) {
  return { text, font: { size: 11.5, color: palette.soft }, standoff: 6 };
}

const DAY = 86_400_000;

/** Axis of civil dates: days or months in words, never fractions of a day. */
export function dateAxis(dates: readonly string[], palette: Palette): Partial<LayoutAxis> {
  const [from, to] = [Date.parse(dates[0]), Date.parse(dates[dates.length - 1])];
  const span = (to - from) / DAY;
  return {
    ...axisStyle(palette),
    type: 'date',
    showgrid: false,
    tickangle: 0,
    tickformat: span > 120 ? '%b %y' : '%-d %b',
    ...(span < 8 ? { dtick: DAY, tick0: dates[0] } : { nticks: 8 }),
    // One day has no width of its own.
    ...(span === 0 ? { range: [from - 3 * DAY, from + 3 * DAY] } : {}),
  };
}
