import type { Annotations, Data, Shape } from 'plotly.js';
import { dateText, volatilityText } from '../../ui/format.ts';
import type { TermLine } from './parameters.ts';
import type { ExpiryOverview, Overview } from '../../api/picture.ts';
import type { ScheduledEvent } from '../../api/surface-resource.ts';
import { axisStyle, axisTitle, baseLayout, type Chart } from '../../ui/chart.ts';
import { labelRows } from '../../ui/label-rows.ts';
import type { Palette } from '../../ui/palette.ts';
import { levelMarker, levelText, type TermBeside, termLines, termPosition } from './term-lines.ts';

const MILLISECONDS_PER_DAY = 86_400_000;

/** Between the middles of two labels, at least; of a letter of a label, pixels. */
const LABEL = 50;
const LETTER = 6.2;
/** Left and right of the plot, pixels. */
const MARGINS = 160;

/** Upper end of the flags and height of a row of their names, shares of the plot. */
const FLAGS_TOP = 0.97;
const FLAG_ROW = 0.05;

/** The line without events is drawn where they account for more than this somewhere. */
const EVENTFUL = 0.005;
/** A flag says the move that its event is priced at from here on. */
const LEAST_MOVE = 0.01;

function flagText({ label, implied }: ScheduledEvent): string {
  return implied && implied.move >= LEAST_MOVE ? `${label} ±${(implied.move * 100).toFixed(1)} %` : label;
}

/** At-the-money volatility by expiry on a square-root-of-time axis with the lines asked for beside it, events as flags. */
export function termChart(
  picture: Overview,
  o: {
    shown: ExpiryOverview[];
    focus: ExpiryOverview | undefined;
    lines: readonly TermLine[];
    beside: TermBeside[];
    palette: Palette;
    /** Of the chart, pixels: as many flags are named as fit */
    width: number;
  },
): Chart {
  const fitted = o.shown.filter((e) => e.atm !== null);
  const at = termPosition;
  const [x, y] = [fitted.map((e) => at(e.days)), fitted.map((e) => (e.atm ?? 0) * 100)];
  const beside = termLines(picture, fitted, o);
  const data: Data[] = [
    ...beside.data,
    {
      type: 'scatter',
      mode: 'lines+markers',
      x,
      y,
      line: { color: o.palette.implied, width: 1.6 },
      marker: levelMarker(fitted, o.focus, o.palette),
      customdata: fitted.map((e) => e.date),
      text: fitted.map((e) => levelText(picture, e)),
      hovertemplate: '%{text}<extra></extra>',
    },
  ];
  const without = fitted.map((e) => (e.exEvent === null ? null : e.exEvent * 100));
  const isEventful = fitted.some((e) => e.exEvent !== null && (e.atm ?? 0) - e.exEvent > EVENTFUL);
  if (isEventful) {
    data.push({
      type: 'scatter',
      mode: 'lines',
      x,
      y: without,
      line: { color: o.palette.event, width: 1.4, dash: 'dash' },
      hoverinfo: 'skip',
    });
  }
  const annotations: Partial<Annotations>[] = [
    {
      text: 'at-the-money volatility, %',
      x: 0,
      y: 1.07,
      xref: 'paper',
      yref: 'paper',
      showarrow: false,
      xanchor: 'left',
      xshift: -38,
      font: { color: o.palette.soft },
    },
    ...labelled(fitted, o.focus, LABEL / (o.width - MARGINS)).map((e) => ({
      x: at(e.days),
      y: (e.atm ?? 0) * 100,
      text: volatilityText(e.atm),
      showarrow: false,
      yshift: 14,
      font: { size: 11.5, color: o.palette.ink },
    })),
  ];
  if (isEventful) {
    annotations.push({
      x: x[0],
      y: without[0] ?? y[0],
      text: 'without events',
      showarrow: false,
      xanchor: 'left',
      xshift: 6,
      yshift: -9,
      font: { size: 11.5, color: o.palette.event },
    });
  }
  annotations.push(...beside.annotations);
  const shapes: Partial<Shape>[] = [];
  const last = fitted[fitted.length - 1]?.days ?? 30;
  const events = picture.events
    .map((e) => ({ ...e, days: (Date.parse(e.instant) - Date.parse(picture.asOf)) / MILLISECONDS_PER_DAY }))
    .filter((e) => e.days <= last);
  const room = o.width - MARGINS;
  const rows = labelRows(
    events.map((e) => ({ at: (room * at(e.days)) / at(last), text: flagText(e) })),
    3,
  );
  for (const [i, event] of events.entries()) {
    const { days } = event;
    shapes.push({
      type: 'line',
      x0: at(days),
      x1: at(days),
      y0: 0,
      y1: FLAGS_TOP,
      yref: 'paper',
      line: { color: o.palette.event, width: 1 },
      layer: 'below',
    });
    const row = rows[i];
    // Beside the plot the lines have their names.
    const end = (room * at(days)) / at(last) + LETTER * (flagText(event).length + 3);
    if (row === undefined || end > room) continue;
    annotations.push({
      x: at(days),
      y: FLAGS_TOP - FLAG_ROW * row,
      yref: 'paper',
      text: `⚑ ${flagText(event)}`,
      showarrow: false,
      xanchor: 'left',
      xshift: 2,
      font: { size: 11.5, color: o.palette.event },
      bgcolor: o.palette.paper,
    });
  }
  const axis = axisStyle(o.palette);
  const ticks = labelled(fitted, o.focus, LABEL / (o.width - MARGINS));
  return {
    data,
    description: `At-the-money volatility of ${picture.underlying.symbol} by expiry: ${fitted.map((e) => `${dateText(e.date, picture.asOf)} ${volatilityText(e.atm)} %`).join(', ')}.`,
    layout: {
      ...baseLayout(o.palette),
      hovermode: 'closest',
      margin: { l: 44, r: 116, t: 26, b: 42 },
      xaxis: {
        ...axis,
        showgrid: false,
        tickvals: ticks.map((e) => at(e.days)),
        ticktext: ticks.map((e) => dateText(e.date, picture.asOf)),
        range: [0, at(last) * 1.03],
        title: axisTitle('expiry, square root of time; monthlies filled', o.palette),
      },
      yaxis: { ...axis, nticks: 9, range: rangeUnder(data, Math.max(-1, ...rows.map((row) => row ?? -1)) + 1) },
      annotations,
      shapes,
    },
  };
}

/** Range of the vertical axis that leaves the rows of flags free above all lines and their labels. */
function rangeUnder(data: Data[], flagRows: number): [number, number] {
  const values = data.flatMap((d) => ('y' in d ? Array.from(d.y as ArrayLike<number | null>) : []));
  const known = values.filter((v): v is number => v !== null && Number.isFinite(v));
  if (known.length === 0) return [0, 1];
  const [low, high] = [Math.min(...known), Math.max(...known)];
  const pad = 0.06 * (high - low || 1);
  const free = 1 - FLAGS_TOP + FLAG_ROW * (flagRows + 1);
  return [low - pad, low - pad + (high - low + 2 * pad) / (1 - free)];
}

/**
 * Expiries whose labels fit beside each other: focus first, then monthlies, then the rest.
 * @param gap least distance of two, as a share of the axis
 */
function labelled(expiries: ExpiryOverview[], focus: ExpiryOverview | undefined, gap: number): ExpiryOverview[] {
  const span = Math.sqrt(expiries[expiries.length - 1]?.days ?? 1);
  const kept: ExpiryOverview[] = [];
  const order = [...expiries].sort(
    (a, b) =>
      Number(b.date === focus?.date) - Number(a.date === focus?.date) ||
      Number(b.isMonthly) - Number(a.isMonthly) ||
      a.days - b.days,
  );
  for (const e of order) {
    const isFree = kept.every((other) => Math.abs(Math.sqrt(other.days) - Math.sqrt(e.days)) > gap * span);
    if (isFree) kept.push(e);
  }
  return kept.sort((a, b) => a.days - b.days);
}
