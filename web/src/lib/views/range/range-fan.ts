import { lawDensity, lawQuantile, type PriceLaw } from '@umwelt/core/probability';
import { scaleLinear, type ScaleLinear } from 'd3-scale';
import { area } from 'd3-shape';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { DailyBarRow } from '../../api/range.ts';
import { expiryLaw } from '../../theory/index.ts';

/** Quantiles that bound the fan, outermost first; each with its mirror. */
const FAN_SHARES = [0.05, 0.16, 0.25] as const;
/** Around the plot, pixels; at the right stand the names of quantiles and of the lines that are dragged. */
const MARGIN = { left: 54, right: 92, top: 26, bottom: 26 };
/** Share of the width that the past takes. */
const PAST = 0.36;
/** Fewest and most pixels that a density is wide at its mode; narrower than the least it is left out. */
const DENSITY = { least: 12, most: 40 };
/** Outermost quantiles that a density is drawn between, and places between them. */
const DENSITY_REACH = 0.004;
const DENSITY_STEPS = 60;
const DAY = 86_400_000;
const PAD = 0.04;

/** An expiry of the fan. */
export interface FanExpiry {
  date: string;
  days: number;
  x: number;
  /** Outline of the density, drawn to the right; undefined where the next expiry is too near */
  density: string | undefined;
  quantiles: readonly number[];
}

/** Where everything of the fan stands, pixels. */
export interface Fan {
  x: { past: ScaleLinear<number, number>; future: ScaleLinear<number, number> };
  y: ScaleLinear<number, number>;
  now: number;
  left: number;
  right: number;
  top: number;
  bottom: number;
  bands: { path: string; share: number }[];
  expiries: FanExpiry[];
  bars: { x: number; open: number; high: number; low: number; close: number; session: string }[];
  /** Half the width of a bar */
  barWidth: number;
  /** Where the outermost expiry's quantiles end */
  ends: { share: number; y: number }[];
  months: { x: number; text: string }[];
}

/** Laws of the shown expiries that have one, by date. */
export function fanLaws(expiries: readonly ExpiryPicture[], drift: number): Map<string, PriceLaw> {
  return new Map(
    expiries.flatMap((expiry) => {
      const law = expiry.outlier === null ? expiryLaw(expiry, { drift }) : undefined;
      return law ? [[expiry.date, law] as const] : [];
    }),
  );
}

/**
 * The past of the price and the fan of what its options imply. Time to come runs by its root, on which a fan is straight: half of
 * the way to a year is three months.
 */
export function rangeFan(
  { asOf, price }: Pick<Picture, 'asOf' | 'price'>,
  expiries: readonly ExpiryPicture[],
  laws: ReadonlyMap<string, PriceLaw>,
  o: { bars: readonly DailyBarRow[]; levels: readonly number[]; width: number; height: number },
): Fan {
  const { bars, levels } = o;
  const [left, right] = [MARGIN.left, Math.max(MARGIN.left + 80, o.width - MARGIN.right)];
  const [top, bottom] = [MARGIN.top, Math.max(MARGIN.top + 40, o.height - MARGIN.bottom)];
  const now = bars.length > 0 ? left + PAST * (right - left) : left;
  const at = Date.parse(asOf);
  const first = bars.length > 0 ? Date.parse(bars[0].session) : at - DAY;
  const past = scaleLinear().domain([first, at]).range([left, now]);
  const shown = expiries.filter((e) => laws.has(e.date));
  const longest = Math.max(...shown.map((e) => e.days), 1);
  const future = scaleLinear()
    .domain([0, Math.sqrt(longest)])
    .range([now, right]);
  const placed = shown.map((e) => {
    const law = laws.get(e.date) as PriceLaw;
    const shares = [...FAN_SHARES, ...FAN_SHARES.map((s) => 1 - s).reverse()];
    return { e, law, x: future(Math.sqrt(e.days)), quantiles: shares.map((share) => lawQuantile(law, share)) };
  });
  const lows = [...bars.map((b) => b.low), ...placed.map((p) => p.quantiles[0]), price, ...levels];
  const highs = [
    ...bars.map((b) => b.high),
    ...placed.map((p) => p.quantiles[p.quantiles.length - 1]),
    price,
    ...levels,
  ];
  const [low, high] = [Math.min(...lows), Math.max(...highs)];
  const pad = PAD * (high - low || price);
  const y = scaleLinear()
    .domain([Math.max(0, low - pad), high + pad])
    .range([bottom, top]);
  const start = { x: now, quantiles: FAN_SHARES.flatMap(() => [price, price]) };
  const along = [start, ...placed];
  const bands = FAN_SHARES.map((share, i) => ({
    share,
    path:
      area<(typeof along)[number]>()
        .x((p) => p.x)
        .y0((p) => y(p.quantiles[i]))
        .y1((p) => y(p.quantiles[p.quantiles.length - 1 - i]))(along) ?? '',
  }));
  const outermost = placed[placed.length - 1];
  const sessions = bars.map((b) => ({ ...b, x: past(Date.parse(b.session)) }));
  return {
    x: { past, future },
    ...{ y, now, left, right, top, bottom, bands },
    expiries: withDensities(placed, { y, right: o.width - MARGIN.right + DENSITY.most }),
    bars: sessions,
    barWidth: Math.max(0.5, Math.min(3, (0.32 * (now - left)) / Math.max(1, bars.length))),
    ends: outermost
      ? [...FAN_SHARES, ...FAN_SHARES.map((s) => 1 - s).reverse()]
          .map((share, i) => ({ share, y: y(outermost.quantiles[i]) }))
          // From the top down.
          .reverse()
      : [],
    months: monthsOf(bars, past),
  };
}

interface Placed {
  e: ExpiryPicture;
  law: PriceLaw;
  x: number;
  quantiles: number[];
}

/** Expiries with their densities, where there is room before the next one that has one; the farthest first. */
function withDensities(placed: readonly Placed[], o: { y: ScaleLinear<number, number>; right: number }): FanExpiry[] {
  let next = o.right;
  return [...placed]
    .reverse()
    .map(({ e, law, x, quantiles }): FanExpiry => {
      const room = Math.min(DENSITY.most, next - x - 4);
      const common = { date: e.date, days: e.days, x, quantiles };
      // A level has no shape of its own to show.
      if (room < DENSITY.least || e.smile?.model === 'flat') return { ...common, density: undefined };
      next = x;
      return { ...common, density: densityPath(law, { x, room, y: o.y }) };
    })
    .reverse();
}

/** Density over price, drawn sideways from the expiry. */
function densityPath(law: PriceLaw, o: { x: number; room: number; y: ScaleLinear<number, number> }): string {
  const [low, high] = [lawQuantile(law, DENSITY_REACH), lawQuantile(law, 1 - DENSITY_REACH)];
  const places = Array.from({ length: DENSITY_STEPS + 1 }, (_, i) => low + ((high - low) * i) / DENSITY_STEPS);
  const densities = places.map((price) => Math.max(0, lawDensity(law, price)));
  const most = Math.max(...densities);
  return (
    area<number>()
      .y((_, i) => o.y(places[i]))
      .x0(o.x)
      .x1((d) => o.x + (o.room * d) / most)(densities) ?? ''
  );
}

function monthsOf(bars: readonly DailyBarRow[], past: ScaleLinear<number, number>): { x: number; text: string }[] {
  const names = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
  return bars.flatMap((bar, i) => {
    const month = bar.session.slice(0, 7);
    if (i === 0 || bars[i - 1].session.slice(0, 7) === month) return [];
    return [{ x: past(Date.parse(bar.session)), text: names[Number(month.slice(5)) - 1] }];
  });
}
