import type { Annotations, Data, Layout } from 'plotly.js';
import type { Palette } from './palette.ts';

/** What one chart shows: traces and layout for Plotly, and the same in words. */
export interface Chart {
  data: Data[];
  layout: Partial<Layout>;
  /** Text alternative */
  description: string;
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
    hovermode: 'x unified',
    hoverlabel: {
      bgcolor: palette.sheet,
      bordercolor: palette.line,
      font: { family: CHART_FONT, size: 12, color: palette.ink },
    },
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
