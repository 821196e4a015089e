import type { Annotations, Data } from 'plotly.js';
import { dateText, daysText, pointsText, volatilityText } from '../../ui/format.ts';
import type { TermLine, TermScale } from './parameters.ts';
import type { ExpiryOverview, Overview } from '../../api/picture.ts';
import { axisStyle, axisTitle, baseLayout, type Chart } from '../../ui/chart.ts';
import type { Palette } from '../../ui/palette.ts';
import { placeNumbers } from '../../ui/place-labels.ts';
import { eventStrip, type PlacedEvent } from './term-events.ts';
import { levelMarker, levelText, onScale, type TermBeside, termLines, termPosition } from './term-lines.ts';
import { cutMarks, scaleOf } from './term-scale.ts';

const MILLISECONDS_PER_DAY = 86_400_000;

/** Between the middles of two labels, at least, pixels. */
const LABEL = 50;
/** Left and right of the plot, pixels. */
const MARGINS = 160;
/** Above it, without the strip of events. */
const TOP = 26;
const FOOT = 42;
/** End of the axis behind the last expiry, as its multiple. */
const AXIS_END = 1.03;
/** Width of a letter and height of a number, and how far its middle is from its point, pixels. */
const LETTER = 6.4;
const NUMBER = 12;
const AWAY = 13;

/** The line without events is drawn where they account for more than this somewhere. */
const EVENTFUL = 0.005;
/** At-the-money volatility by expiry on a square-root-of-time axis with the lines asked for beside it, events as flags. */
export function termChart(
  picture: Overview,
  o: {
    shown: ExpiryOverview[];
    focus: ExpiryOverview | undefined;
    lines: readonly TermLine[];
    beside: TermBeside[];
    scale: TermScale;
    palette: Palette;
    /** Of the chart, pixels: what is written in it is as much as fits */
    width: number;
    height: number;
  },
): Chart {
  const fitted = o.shown.filter((e) => e.atm !== null);
  const at = termPosition;
  const percent = (level: number | null) => {
    const value = onScale(level, picture, o.scale);
    return value === null ? null : value * 100;
  };
  const [x, y] = [fitted.map((e) => at(e.days)), fitted.map((e) => percent(e.atm))];
  const beside = termLines(fitted, o);
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
      text: fitted.map((e) => levelText(picture, fitted, e, o.scale)),
      name: 'at the money',
    },
  ];
  const without = fitted.map((e) => percent(e.exEvent));
  const isEventful = fitted.some((e) => e.exEvent !== null && (e.atm ?? 0) - e.exEvent > EVENTFUL);
  if (isEventful) {
    data.push({
      type: 'scatter',
      mode: 'lines',
      x,
      y: without,
      line: { color: o.palette.event, width: 1.4, dash: 'dash' },
      name: 'without events',
      text: fitted.map((e) => (e.exEvent === null ? '' : `${volatilityText(e.exEvent)} %`)),
    });
  }
  const owners = [...y, ...(isEventful ? without : []), ...beside.lines.flatMap((l) => (l.isOwner ? l.y : []))];
  const others = beside.lines.filter((l) => !l.isOwner);
  const range = scaleOf(
    owners,
    others.flatMap((l) => l.y),
  );
  data.push(...cutMarks(others, range, o.palette));
  const last = fitted[fitted.length - 1]?.days ?? 30;
  const room = o.width - MARGINS;
  const events = picture.events.flatMap((event): PlacedEvent[] => {
    const days = (Date.parse(event.instant) - Date.parse(picture.asOf)) / MILLISECONDS_PER_DAY;
    return days <= last ? [{ event, at: at(days), pixels: (room * at(days)) / (at(last) * AXIS_END) }] : [];
  });
  const strip = eventStrip(events, { width: room, palette: o.palette });
  const annotations: Partial<Annotations>[] = [
    {
      text:
        o.scale === 'level' ? 'at-the-money volatility, %' : 'at-the-money volatility less its own at 30 days, points',
      x: 0,
      y: 1,
      xref: 'paper',
      yref: 'paper',
      yanchor: 'bottom',
      yshift: strip.height + 4,
      showarrow: false,
      xanchor: 'left',
      xshift: -38,
      font: { color: o.palette.soft },
    },
  ];
  annotations.push(...strip.annotations);
  const span = at(last) * AXIS_END;
  const plot = { width: Math.max(1, room), height: Math.max(1, o.height - TOP - strip.height - FOOT) };
  annotations.push(...beside.named(range, plot.height));
  const across = (place: number) => (plot.width * place) / span;
  const up = (value: number | null) => (plot.height * ((value ?? NaN) - range[0])) / (range[1] - range[0]);
  const numbers = labelled(fitted, o.focus, LABEL / room);
  // The one in focus is written first, wherever it is free.
  numbers.sort((a, b) => Number(b.date === o.focus?.date) - Number(a.date === o.focus?.date));
  const words: { x: number; y: number | null; text: string; color: string }[] = numbers.map((e) => ({
    ...{ x: at(e.days), y: percent(e.atm), color: o.palette.ink },
    text: o.scale === 'level' ? volatilityText(e.atm) : pointsText(onScale(e.atm, picture, o.scale)),
  }));
  if (isEventful) {
    // Where the two lines are farthest apart.
    const gaps = fitted.map((_, i) => (y[i] ?? NaN) - (without[i] ?? NaN));
    const farthest = gaps.findIndex((gap) => gap === Math.max(...gaps.filter((g) => !Number.isNaN(g))));
    words.push({ x: x[farthest], y: without[farthest], text: 'without events', color: o.palette.event });
  }
  const places = placeNumbers(
    words.map((w) => ({ x: across(w.x), y: up(w.y), width: LETTER * w.text.length })),
    {
      ...{ height: NUMBER, away: AWAY },
      lines: [...beside.lines, { x, y }, ...(isEventful ? [{ x, y: without }] : [])].map((line) => ({
        x: line.x.map(across),
        y: line.y.map(up),
      })),
      frame: { left: 0, right: plot.width, top: 0, bottom: plot.height },
    },
  );
  data.push({
    type: 'scatter',
    mode: 'text',
    x: places.map((p) => (p ? (p.x * span) / plot.width : null)),
    y: places.map((p) => (p ? range[0] + (p.y * (range[1] - range[0])) / plot.height : null)),
    text: words.map((w) => w.text),
    textfont: { size: 11.5, color: words.map((w) => w.color) },
    hoverinfo: 'skip',
  });
  const axis = axisStyle(o.palette);
  const ticks = labelled(fitted, o.focus, LABEL / room);
  return {
    data,
    description: `At-the-money volatility of ${picture.underlying.symbol} by expiry: ${fitted.map((e) => `${dateText(e.date, picture.asOf)} ${volatilityText(e.atm)} %`).join(', ')}.`,
    place: { toShared: (root) => Number(root) ** 2, fromShared: at },
    titleAt: (place) => placeText(picture, Number(place) ** 2),
    subject: `${picture.underlying.symbol} ${o.scale}`,
    layout: {
      ...baseLayout(o.palette),
      margin: { l: 44, r: MARGINS - 44, t: TOP + strip.height, b: FOOT },
      xaxis: {
        ...axis,
        showgrid: false,
        tickvals: ticks.map((e) => at(e.days)),
        ticktext: ticks.map((e) => dateText(e.date, picture.asOf)),
        range: [0, span],
        title: axisTitle('expiry, square root of time; monthlies filled', o.palette),
      },
      yaxis: { ...axis, nticks: 9, range: [...range] },
      annotations,
      shapes: strip.shapes,
    },
  };
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

/** A number of days ahead in words: the expiry there, or the days. */
function placeText(picture: Overview, days: number): string {
  const there = picture.expiries.find((e) => Math.abs(e.days - days) < 0.02 * Math.max(1, days));
  return there ? `${dateText(there.date, picture.asOf)}, ${daysText(there.days)} days` : `${daysText(days)} days`;
}
