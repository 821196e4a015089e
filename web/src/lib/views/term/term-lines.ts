import type { Annotations, Data } from 'plotly.js';
import { dateText, pointsText, volatilityText } from '../../ui/format.ts';
import { expiryBefore, forwardVolatilityInto } from '../../market/index.ts';
import type { ExpiryOverview, Overview } from '../../api/picture.ts';
import type { SurfaceResource } from '../../api/surface-resource.ts';
import type { TermLine, TermScale } from './parameters.ts';
import type { Range, ScaledLine } from './term-scale.ts';
import { labelColumn } from '../../ui/label-column.ts';
import { expiryColor, type Palette } from '../../ui/palette.ts';

/** A picture beside the one that is shown, by the name its line bears. */
export interface TermBeside {
  picture: SurfaceResource;
  name: string;
}

interface Line {
  name: string;
  /** Decides the scale, instead of being cut where that ends */
  isOwner?: boolean;
  points: { days: number; value: number | null }[];
  color: string;
  /** Of its name, when the line's own is too light to read */
  textColor?: string;
  dash?: 'dot' | 'dash' | 'dashdot' | 'longdash' | 'longdashdot';
  width?: number;
  /** Whether it ends where a value is unknown, instead of going on to the next */
  isInterrupted?: boolean;
  markers?: boolean;
}

const BESIDE_DASHES = ['longdash', 'dashdot', 'dash', 'longdashdot'] as const;

/** Axis position of a number of days: square root of time. */
export const termPosition = (days: number): number => Math.sqrt(days);

/** A level, or what it stands above the same picture's at 30 days; null where either is unknown. */
export function onScale(
  level: number | null,
  { atm30 }: Pick<SurfaceResource, 'atm30'>,
  scale: TermScale,
): number | null {
  if (level === null || scale === 'level') return level;
  return atm30 === null ? null : level - atm30;
}

export interface TermLines {
  data: Data[];
  /** As they are drawn; those beside own the scale with the level */
  lines: (ScaledLine & { isOwner: boolean })[];
  /** Their names, once it is known what range is shown */
  /** @param height of the plot, pixels */
  named(range: Range, height: number): Partial<Annotations>[];
}

/** Lines of Term other than the level: what was asked for of the picture, and the levels of those beside it. */
export function termLines(
  fitted: ExpiryOverview[],
  o: { lines: readonly TermLine[]; beside: TermBeside[]; scale: TermScale; palette: Palette },
): TermLines {
  const { palette } = o;
  const pointsOf = (value: (e: ExpiryOverview) => number | null) =>
    fitted.map((e) => ({ days: e.days, value: value(e) }));
  const wing = (sign: 1 | -1) =>
    pointsOf((e) =>
      e.atm === null || e.riskReversal25 === null || e.butterfly25 === null
        ? null
        : e.atm + e.butterfly25 + 0.5 * sign * e.riskReversal25,
    );
  const lines: Line[] = [];
  // Less its own 30 days only levels say something.
  const asked = o.scale === 'level' ? o.lines : [];
  if (asked.includes('forward')) {
    // A level from the expiry before to each; where there is none the line is interrupted.
    const points = fitted.flatMap((e) => {
      const value = forwardVolatilityInto(fitted, e);
      const to = { days: e.days, value };
      return value === null ? [to] : [{ days: expiryBefore(fitted, e)?.days ?? 0, value }, to];
    });
    lines.push({
      name: 'forward volatility',
      points,
      color: palette.faint,
      textColor: palette.soft,
      dash: 'dot',
      width: 1,
      isInterrupted: true,
    });
  }
  if (asked.includes('wings')) {
    lines.push({ name: '25-delta put', points: wing(-1), color: palette.implied, dash: 'dash', width: 1 });
    lines.push({ name: '25-delta call', points: wing(1), color: palette.implied, width: 1 });
  }
  if (asked.includes('index'))
    lines.push({
      name: 'model-free',
      points: pointsOf((e) => e.index),
      color: palette.ink,
      dash: 'longdash',
      width: 1,
    });
  if (asked.includes('realized')) {
    const points = pointsOf((e) => e.realized?.volatility ?? null);
    lines.push({
      name: 'realized as long',
      points,
      color: palette.realized,
      textColor: palette.realizedText,
      width: 1.4,
      markers: true,
    });
  }
  o.beside.forEach(({ picture: other, name }, i) => {
    const inLine = other.expiries.filter((e) => e.atm !== null && e.outlier === null);
    lines.push({
      name,
      isOwner: true,
      points: inLine.map((e) => ({ days: e.days, value: onScale(e.atm, other, o.scale) })),
      color: palette.beside[i % palette.beside.length],
      dash: BESIDE_DASHES[i % BESIDE_DASHES.length],
      width: 1.3,
      markers: true,
    });
  });
  return {
    data: lines.map((line) => drawn(line, o.scale)),
    lines: lines.map(({ name, color, points, isOwner = false }) => ({
      ...{ name, color, isOwner },
      x: points.map((p) => termPosition(p.days)),
      y: points.map((p) => (p.value === null ? null : p.value * 100)),
    })),
    named: (range, height) => named(lines, fitted, range, height),
  };
}

function drawn(line: Line, scale: TermScale): Data {
  return {
    type: 'scatter',
    mode: line.markers ? 'lines+markers' : 'lines',
    x: line.points.map((p) => termPosition(p.days)),
    y: line.points.map((p) => (p.value === null ? null : p.value * 100)),
    line: { color: line.color, width: line.width ?? 1.2, dash: line.dash },
    marker: { size: 4, color: line.color },
    connectgaps: !line.isInterrupted,
    name: line.name,
    text: line.points.map((p) => (p.value === null ? '' : scaleText(p.value, scale))),
  };
}

const scaleText = (value: number, scale: TermScale) =>
  scale === 'level' ? `${volatilityText(value)} %` : `${pointsText(value)} points against its 30 days`;

/** Pixels that two names must be apart. */
const NAME_GAP = 15;

/** Each line's name to the right of its end, the names moved apart where the ends are close. */
function named(lines: Line[], fitted: ExpiryOverview[], [low, high]: Range, height: number): Partial<Annotations>[] {
  const last = fitted[fitted.length - 1]?.days ?? 0;
  const ends = lines.flatMap(({ name, points, color, textColor = color }) => {
    const end = points.filter((p) => p.value !== null && p.days <= last).at(-1);
    return end?.value == null ? [] : [{ name, color: textColor, at: Math.min(high, Math.max(low, 100 * end.value)) }];
  });
  ends.sort((a, b) => a.at - b.at);
  const gap = (NAME_GAP * (high - low)) / height;
  const heights = labelColumn(
    ends.map((end) => end.at),
    gap,
    [low + gap / 2, high - gap / 2],
  );
  return ends.map(({ name, color }, i) => ({
    x: 1,
    xref: 'paper',
    y: heights[i],
    text: name,
    showarrow: false,
    xanchor: 'left',
    xshift: 4,
    font: { size: 11.5, color },
  }));
}

/** Markers of the level: filled monthlies, hollow others, the focus larger. */
export function levelMarker(fitted: ExpiryOverview[], focus: ExpiryOverview | undefined, palette: Palette) {
  return {
    size: fitted.map((e) => (e.date === focus?.date ? 12 : 8)),
    color: fitted.map((e) => (e.isMonthly ? expiryColor(e.days, palette) : palette.paper)),
    line: { color: fitted.map((e) => expiryColor(e.days, palette)), width: 1.6 },
  };
}

/** What a pointer on an expiry reads of the level. */
export function levelText(
  picture: Overview,
  fitted: readonly ExpiryOverview[],
  e: ExpiryOverview,
  scale: TermScale,
): string {
  if (scale === 'month') {
    const above = onScale(e.atm, picture, scale);
    return above === null ? 'no 30 days to stand against' : scaleText(above, scale);
  }
  const forward = forwardVolatilityInto(fitted, e);
  const before = expiryBefore(fitted, e);
  const from = before ? ` from ${dateText(before.date, picture.asOf)}` : '';
  return `${volatilityText(e.atm)} %, forward${from} ${forward === null ? 'none' : `${volatilityText(forward)} %`}`;
}
