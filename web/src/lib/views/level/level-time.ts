import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { ForecastModel } from '@umwelt/core/volatility';
import type { ForecastRecord, Level, LevelSession } from '../../api/level.ts';
import { dateText } from '../../ui/format.ts';
import { labelRows } from '../../ui/label-rows.ts';
import { gapAreas } from './gap-areas.ts';
import type { LaidUnder, LevelShow } from './parameters.ts';

/** Sessions of a year. */
const YEAR = 252;
const MARGIN = { left: 46, right: 10, top: 22, between: 46, bottom: 27 };
/** Share of the height that prices take. */
const PRICE_SHARE = 0.27;
/** Width of the distribution at the right, pixels; narrower charts go without. */
export const ASIDE = 176;
const ROOM_FOR_ASIDE = 620;
const BINS = 22;
/** Share of the height of the upper part that what is laid under may take. */
const UNDER_SHARE = 0.22;

export interface LevelTimeOptions {
  show: LevelShow;
  realized: 'trailing' | 'later';
  span: number;
  under: LaidUnder;
  forecast: { model: ForecastModel; record: ForecastRecord } | undefined;
  width: number;
  height: number;
}

export interface TimeLine {
  id: 'implied' | 'realized' | 'forecast' | 'difference' | 'ratio' | 'price';
  values: readonly (number | null)[];
  path: string;
  /** Where it ends, pixels; undefined of an empty one */
  end: { x: number; y: number } | undefined;
}

/** Level through time, in pixels: pure geometry. */
export function levelTime(level: Level, o: LevelTimeOptions) {
  const sessions = level.sessions.slice(-YEAR * o.span - 1);
  const aside = o.width >= ROOM_FOR_ASIDE ? ASIDE : 0;
  const left = MARGIN.left;
  const right = Math.max(left + 10, o.width - MARGIN.right - aside - 8);
  const priceHeight = Math.max(60, PRICE_SHARE * o.height);
  const upper = {
    top: MARGIN.top,
    bottom: Math.max(MARGIN.top + 40, o.height - MARGIN.bottom - priceHeight - MARGIN.between),
  };
  const lower = { top: upper.bottom + MARGIN.between, bottom: o.height - MARGIN.bottom };

  const implied = sessions.map((s) => s.implied);
  const realized = sessions.map((s) => (o.realized === 'later' ? s.later : s.realized));
  const forecasts = forecastOf(sessions, o.forecast);
  const lines = linesOf(o.show, { implied, realized, forecasts });
  const past = o.show !== 'levels' && o.realized === 'later' ? [] : pastValues(level, o.show);
  const drawn = [...lines.flatMap((l) => l.values), ...past].filter((v) => v !== null);
  const prices = sessions.map((s) => s.price);

  const x = scaleLinear()
    .domain([0, Math.max(1, sessions.length - 1)])
    .range([left, right]);
  const y = scaleLinear().domain(roomy(drawn)).nice(5).range([upper.bottom, upper.top]);
  const known = prices.filter((p) => p !== null);
  const price = scaleLinear().domain(roomy(known)).nice(3).range([lower.bottom, lower.top]);
  const pathOf = (values: readonly (number | null)[], up: (v: number) => number) =>
    line<number | null>()
      .defined((v) => v !== null)
      .x((_, i) => x(i))
      .y((v) => up(v ?? 0))([...values]) ?? '';
  const endOf = (values: readonly (number | null)[], up: (v: number) => number) => {
    const at = values.findLastIndex((v) => v !== null);
    return at < 0 ? undefined : { x: x(at), y: up(values[at] ?? 0) };
  };
  const placed = lines.map((l): TimeLine => ({ ...l, path: pathOf(l.values, y), end: endOf(l.values, y) }));
  const gaps =
    o.show === 'levels'
      ? gapAreas(implied, realized).map(({ isAbove, points }) => ({
          isAbove,
          path:
            area<(typeof points)[number]>()
              .x((p) => x(p.x))
              .y0((p) => y(p.a))
              .y1((p) => y(p.b))(points) ?? '',
        }))
      : [];
  return {
    sessions,
    x,
    y,
    price,
    upper,
    lower,
    left,
    right,
    aside,
    lines: placed,
    namesAt: roomiest(lines, sessions.length),
    gaps,
    priceLine: { path: pathOf(prices, price), end: endOf(prices, price) },
    under: underBars(sessions, o.under, { x, upper, right, left }),
    flags: flagsOf(level, sessions, x),
    months: monthsOf(sessions, level.asOf, x),
    histogram: aside > 0 ? histogramOf(past, lines.at(0)?.values.at(-1) ?? null, y) : undefined,
  };
}

function linesOf(
  show: LevelShow,
  o: {
    implied: readonly (number | null)[];
    realized: readonly (number | null)[];
    forecasts: readonly (number | null)[] | undefined;
  },
): Pick<TimeLine, 'id' | 'values'>[] {
  const both = (of: (a: number, b: number) => number) =>
    o.implied.map((a, i) => {
      const b = o.realized[i];
      return a === null || b === null ? null : of(a, b);
    });
  if (show === 'difference') return [{ id: 'difference', values: both((a, b) => a - b) }];
  if (show === 'ratio') return [{ id: 'ratio', values: both((a, b) => a / b) }];
  return [
    { id: 'implied', values: o.implied },
    { id: 'realized', values: o.realized },
    ...(o.forecasts ? [{ id: 'forecast' as const, values: o.forecasts }] : []),
  ];
}

/** What the figure that is shown was in the sessions that its place is told among. */
function pastValues(level: Level, show: LevelShow): number[] {
  const before = level.sessions.slice(-level.choice.over - 1, -1);
  return before.flatMap(({ implied, realized }) => {
    if (implied === null) return [];
    if (show === 'levels') return [implied];
    if (realized === null) return [];
    return [show === 'difference' ? implied - realized : implied / realized];
  });
}

function forecastOf(
  sessions: readonly LevelSession[],
  forecast: LevelTimeOptions['forecast'],
): (number | null)[] | undefined {
  if (!forecast) return undefined;
  const at = new Map(forecast.record.series.map((s) => [s.session, s.forecasts[forecast.model] ?? null]));
  return sessions.map((s) => at.get(s.session) ?? null);
}

function roomy(values: readonly number[]): [number, number] {
  if (values.length === 0) return [0, 1];
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = 0.04 * (most - least || Math.abs(most) || 1);
  return [least - room, most + room];
}

function underBars(
  sessions: readonly LevelSession[],
  under: LaidUnder,
  o: { x: (i: number) => number; upper: { top: number; bottom: number }; left: number; right: number },
) {
  if (under === 'none') return undefined;
  const values = sessions.map((s) => (under === 'volume' ? s.optionVolume : s.openInterest));
  const known = values.filter((v) => v !== null);
  if (known.length === 0) return undefined;
  const most = Math.max(...known);
  const full = UNDER_SHARE * (o.upper.bottom - o.upper.top);
  const width = Math.max(0.6, ((o.right - o.left) / Math.max(1, sessions.length)) * 0.7);
  const path = values
    .map((v, i) => {
      if (v === null || most === 0) return '';
      const height = (full * v) / most;
      return `M${(o.x(i) - width / 2).toFixed(1)},${o.upper.bottom.toFixed(1)}v${(-height).toFixed(1)}h${width.toFixed(1)}v${height.toFixed(1)}z`;
    })
    .join('');
  return { path, most, top: o.upper.bottom - full };
}

/** Events at the session whose return knew of them first; as many named as there is room for. */
function flagsOf(level: Level, sessions: readonly LevelSession[], x: (i: number) => number) {
  const place = new Map(sessions.map((s, i) => [s.session, i]));
  const placed = level.events.flatMap((event) => {
    const at = place.get(event.session);
    return at === undefined ? [] : [{ label: event.label, session: event.session, x: x(at) }];
  });
  const rows = labelRows(
    placed.map((p) => ({ at: p.x, text: p.label })),
    1,
  );
  return placed.map((p, i) => ({ ...p, isNamed: rows[i] !== undefined }));
}

function monthsOf(sessions: readonly LevelSession[], asOf: string, x: (i: number) => number) {
  const first = sessions.flatMap((s, i) =>
    i > 0 && s.session.slice(0, 7) !== sessions[i - 1].session.slice(0, 7) ? [{ i, session: s.session }] : [],
  );
  // Counted from January, so that the year is told where it begins.
  const every = Math.ceil(first.length / 12);
  // Few sessions are told by their days.
  if (first.length < 2) {
    const step = Math.max(1, Math.ceil(sessions.length / 6));
    return sessions.flatMap((s, i) => (i % step === 0 ? [{ x: x(i), text: dateText(s.session, asOf) }] : []));
  }
  return first
    .filter(({ session }) => (Number(session.slice(5, 7)) - 1) % every === 0)
    .map(({ i, session }) => ({ x: x(i), text: monthText(session) }));
}

/** The month, and the year where one begins. */
function monthText(session: string): string {
  const month = dateText(session, session).split(' ')[1];
  return session.slice(5, 7) === '01' ? session.slice(0, 4) : month;
}

/** Where names are looked for, shares of what is drawn: not at its ends. */
const NAMED_WITHIN = [0.06, 0.72];

/** Session at which the lines stand furthest apart, so that their names have room; a third along of a single one. */
function roomiest(lines: readonly Pick<TimeLine, 'values'>[], count: number): number {
  const [from, to] = NAMED_WITHIN.map((share) => Math.round(share * (count - 1)));
  if (lines.length < 2) return Math.round(0.3 * (count - 1));
  let [best, widest] = [from, -1];
  for (let i = from; i <= to; i++) {
    const [a, b] = [lines[0].values[i], lines[1].values[i]];
    const gap = a === null || b === null ? -1 : Math.abs(a - b);
    if (gap > widest) [best, widest] = [i, gap];
  }
  return best;
}

/** How often the past had each value: bars along the chart's own scale, below the present value and above it. */
function histogramOf(past: readonly number[], now: number | null, y: { (v: number): number; domain(): number[] }) {
  if (past.length === 0 || now === null) return undefined;
  const [least, most] = [Math.min(...past), Math.max(...past)];
  const step = (most - least) / BINS || Math.abs(most) / BINS || 1;
  const counts = Array.from({ length: BINS }, () => 0);
  for (const v of past) counts[Math.min(BINS - 1, Math.floor((v - least) / step))]++;
  const highest = Math.max(...counts);
  return {
    now,
    least: Math.min(least, now),
    most: Math.max(most, now),
    bars: counts.map((count, i) => ({
      count,
      share: count / highest,
      top: y(least + (i + 1) * step),
      bottom: y(least + i * step),
      isBelow: least + (i + 0.5) * step < now,
    })),
  };
}
