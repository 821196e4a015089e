import type { Annotations, Data, Shape } from 'plotly.js';
import { dateText, pointsText } from '../../ui/format.ts';
import type { SideChange } from './skew-year.ts';
import type { SkewSession } from '../../api/skew-history.ts';
import { axisStyle, baseLayout, type Chart, cornerLabel, dateAxis } from '../../ui/chart.ts';
import { labelRows } from '../../ui/label-rows.ts';
import type { Palette } from '../../ui/palette.ts';

/** Rows for names of changes, and the height of one, pixels. */
const MOST_ROWS = 4;
const ROW = 15;

/** Risk reversal and butterfly at 30 days through a year, with the days on which the dearer side changed. */
export function skewYearChart(
  sessions: readonly SkewSession[],
  o: { asOf: string; changes: SideChange[]; palette: Palette; /** Of the plot, pixels */ width: number },
): Chart {
  const { palette } = o;
  const x = sessions.map((s) => s.instant.slice(0, 10));
  const points = (name: 'riskReversal25' | 'butterfly25') =>
    sessions.map((s) => (s[name] === null ? null : (s[name] ?? 0) * 100));
  const line = (name: 'riskReversal25' | 'butterfly25', words: string, axis: 'y' | 'y2', width: number): Data => ({
    type: 'scatter',
    // One session has no line.
    mode: sessions.length === 1 ? 'markers' : 'lines',
    x,
    y: points(name),
    yaxis: axis,
    name: words,
    line: { color: palette.implied, width },
    text: points(name).map((v) => (v === null ? '' : pointsText(v / 100))),
  });
  const last = sessions.length - 1;
  const changeText = (c: SideChange) => `${c.to === 'call' ? 'to calls' : 'to puts'} ${dateText(c.date, o.asOf)}`;
  // Changes soon after each other are named below each other.
  const span = Date.parse(x[last] ?? '') - Date.parse(x[0] ?? '');
  const pixels = (date: string) => (o.width * (Date.parse(date) - Date.parse(x[0]))) / (span || 1);
  const rows = labelRows(
    o.changes.map((c) => ({ at: pixels(c.date), text: changeText(c) })),
    MOST_ROWS,
  );
  const annotations: Partial<Annotations>[] = [
    cornerLabel('25-delta risk reversal, points: above 0 calls are dearer', palette),
    { ...cornerLabel('25-delta butterfly, points', palette), y: 0.3 },
    ...o.changes.map((c, i) => ({
      x: c.date,
      y: 1,
      yshift: -ROW * (rows[i] ?? 0),
      yref: 'paper' as const,
      text: rows[i] === undefined ? '' : changeText(c),
      showarrow: false,
      xanchor: 'left' as const,
      yanchor: 'top' as const,
      xshift: 4,
      font: { size: 11.5, color: palette.ink },
      bgcolor: palette.paper,
    })),
  ];
  if (last >= 0 && sessions[last].riskReversal25 !== null) {
    annotations.push({
      x: x[last],
      y: (sessions[last].riskReversal25 ?? 0) * 100,
      text: pointsText(sessions[last].riskReversal25),
      showarrow: false,
      xanchor: 'left',
      xshift: 5,
      font: { size: 12, color: palette.ink },
    });
  }
  const shapes: Partial<Shape>[] = o.changes.map((c) => ({
    type: 'line',
    x0: c.date,
    x1: c.date,
    y0: 0.4,
    y1: 1,
    yref: 'paper',
    line: { color: palette.faint, width: 1, dash: 'dot' },
    layer: 'below',
  }));
  const axis = axisStyle(palette);
  return {
    data: [line('riskReversal25', 'risk reversal', 'y', 1.8), line('butterfly25', 'butterfly', 'y2', 1.2)],
    description: `25-delta risk reversal and butterfly at 30 days over ${sessions.length} sessions${o.changes.map((c) => `; the dearer side changed to ${c.to}s on ${c.date}`).join('')}.`,
    titleAt: (at) => dateText(String(at), o.asOf),
    layout: {
      ...baseLayout(palette),
      margin: { l: 60, r: 50, t: 26, b: 34 },
      xaxis: { ...dateAxis(x, palette), anchor: 'y2' },
      yaxis: { ...axis, domain: [0.4, 1], nticks: 7, zeroline: true, zerolinecolor: palette.faint },
      yaxis2: { ...axis, domain: [0, 0.28], nticks: 4, zeroline: true, zerolinecolor: palette.faint },
      annotations,
      shapes,
    },
  };
}
