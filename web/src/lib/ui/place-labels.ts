/** A label that wants to stand beside a point; positions and sizes in pixels. */
export interface WantedLabel {
  x: number;
  y: number;
  width: number;
}

/** What labels must leave free: lines by their points, one after another, NaN where a line is broken. */
export interface DrawnLine {
  x: readonly number[];
  y: readonly number[];
}

/** Where labels may stand, pixels. */
export interface LabelFrame {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Left end and middle height of a label, and whether it had to leave its point so far that a line must lead back to it. */
export interface PlacedLabel {
  x: number;
  y: number;
  isLed: boolean;
}

/** Between a point and its label, pixels. */
const GAP = 5;
/** Steps to the side that are tried, pixels. */
const ASIDE = [0, 16, 36, 60, 90, 130, 180, 240, 320];
/** Heights up and down that are tried, in heights of a label. */
const MOST_ROWS = 30;
/** A label farther from its point than this many heights is led back to it. */
const LED_AFTER = 1;
/** A step to the side is dearer than one up or down: names at the ends of lines read as a column. */
const ASIDE_COST = 1.3;

/** Places to try relative to a point, nearest first; half heights let a label slip between two others. */
const OFFSETS = ASIDE.flatMap((aside) => {
  const rows = Array.from({ length: 4 * MOST_ROWS + 1 }, (_, i) => (i - 2 * MOST_ROWS) / 2);
  return rows.flatMap((row) => [1, -1].map((direction) => ({ aside, row, direction })));
});

/**
 * Places labels beside their points so that none covers another, nor a line that is drawn: each goes to the nearest free
 * place, first to the right of its point, else farther away with a line that leads back. Earlier labels have precedence.
 * Where nothing is free, a label stays clear of the others alone.
 * @param o.height of every label, pixels
 */
export function placeLabels(
  wanted: readonly WantedLabel[],
  o: { height: number; lines?: readonly DrawnLine[]; frame?: LabelFrame },
): PlacedLabel[] {
  const { height, lines = [], frame } = o;
  const half = height / 2;
  const drawn = new DrawnSegments(lines);
  const order = nearestFirst(height);
  const placed: (PlacedLabel & { width: number })[] = [];
  for (const label of wanted) {
    const at = ({ aside, row, direction }: (typeof OFFSETS)[number]) => ({
      x: direction > 0 ? label.x + GAP + aside : label.x - GAP - aside - label.width,
      y: label.y + row * height,
    });
    const isInside = ({ x, y }: { x: number; y: number }) =>
      !frame ||
      (x >= frame.left && x + label.width <= frame.right && y - half >= frame.top && y + half <= frame.bottom);
    const isClear = ({ x, y }: { x: number; y: number }) =>
      placed.every((p) => x >= p.x + p.width || p.x >= x + label.width || Math.abs(p.y - y) >= height - 1e-6);
    const isOffLines = ({ x, y }: { x: number; y: number }) =>
      !drawn.meets({ left: x, right: x + label.width, top: y - half, bottom: y + half });
    // Place by place, nearest first: most labels find theirs among the first.
    let clear: { x: number; y: number } | undefined;
    let place: { x: number; y: number } | undefined;
    for (const offset of order) {
      const tried = at(offset);
      if (!isInside(tried) || !isClear(tried)) continue;
      clear ??= tried;
      if (!isOffLines(tried)) continue;
      place = tried;
      break;
    }
    place ??= clear ?? at(order[0]);
    const isFar = Math.abs(place.y - label.y) > LED_AFTER * height;
    const isAside = Math.abs(place.x - (label.x + GAP)) > height && place.x > label.x;
    const isBefore = place.x < label.x && label.x - place.x - label.width > height;
    placed.push({ ...place, width: label.width, isLed: isFar || isAside || isBefore });
  }
  return placed.map(({ x, y, isLed }) => ({ x, y, isLed }));
}

/** Orders by height of a label: charts have one or two, and ordering takes longer than placing. */
const orders = new Map<number, (typeof OFFSETS)[number][]>();

function nearestFirst(height: number): (typeof OFFSETS)[number][] {
  const known = orders.get(height);
  if (known) return known;
  const order = [...OFFSETS].sort((a, b) => cost(a, height) - cost(b, height));
  orders.set(height, order);
  return order;
}

function cost({ aside, row, direction }: (typeof OFFSETS)[number], height: number): number {
  // To the left of a point stands its own line.
  return Math.hypot(ASIDE_COST * aside, row * height) + (direction < 0 ? 2 * height : 0);
}

/** Sides of the cells that segments are kept by, pixels: about a letter's height. */
const CELL = 16;

/** Segments of lines by where they pass, so that a box is held against those near it alone. */
class DrawnSegments {
  readonly #cells = new Map<number, number[]>();
  readonly #ends: number[] = [];

  constructor(lines: readonly DrawnLine[]) {
    for (const { x, y } of lines) {
      for (let i = 1; i < x.length; i++) this.#add(x[i - 1], y[i - 1], x[i], y[i]);
    }
  }

  #add(x0: number, y0: number, x1: number, y1: number): void {
    // Where a line is broken there is nothing.
    if (!Number.isFinite(x0 + y0 + x1 + y1)) return;
    const place = this.#ends.length;
    this.#ends.push(x0, y0, x1, y1);
    const box = { left: Math.min(x0, x1), right: Math.max(x0, x1), top: Math.min(y0, y1), bottom: Math.max(y0, y1) };
    for (const key of cellsOf(box)) {
      const cell = this.#cells.get(key);
      if (cell) cell.push(place);
      else this.#cells.set(key, [place]);
    }
  }

  /** Whether one passes through a box. */
  meets(box: LabelFrame): boolean {
    const ends = this.#ends;
    for (const key of cellsOf(box)) {
      for (const i of this.#cells.get(key) ?? []) {
        const [x0, y0, x1, y1] = [ends[i], ends[i + 1], ends[i + 2], ends[i + 3]];
        if (Math.max(x0, x1) < box.left || Math.min(x0, x1) > box.right) continue;
        if (Math.max(y0, y1) < box.top || Math.min(y0, y1) > box.bottom) continue;
        if (meets(x0, y0, x1, y1, box)) return true;
      }
    }
    return false;
  }
}

/** Cells far beyond any screen hold nothing that is seen. */
const FARTHEST_CELL = 1000;

/** Keys of the cells that a box touches. */
function cellsOf(box: LabelFrame): number[] {
  const cell = (v: number) => Math.min(FARTHEST_CELL, Math.max(-FARTHEST_CELL, Math.floor(v / CELL)));
  const keys: number[] = [];
  for (let column = cell(box.left); column <= cell(box.right); column++) {
    for (let row = cell(box.top); row <= cell(box.bottom); row++) keys.push(column * 4 * FARTHEST_CELL + row);
  }
  return keys;
}

/** Whether a segment meets a box whose bounds overlap its own: some corner lies on either side of it. */
function meets(x0: number, y0: number, x1: number, y1: number, box: LabelFrame): boolean {
  const side = (x: number, y: number) => Math.sign((x1 - x0) * (y - y0) - (y1 - y0) * (x - x0));
  const sides = [
    side(box.left, box.top),
    side(box.right, box.top),
    side(box.left, box.bottom),
    side(box.right, box.bottom),
  ];
  return !(sides.every((s) => s > 0) || sides.every((s) => s < 0));
}

/**
 * Places for numbers over, under or right of their points, clear of each other and of what is drawn; undefined where none is
 * free: a number is left out rather than written over a line. Earlier ones have precedence.
 * @param o.away distance of a number's middle from its point, pixels
 */
export function placeNumbers(
  wanted: readonly WantedLabel[],
  o: { height: number; away: number; lines: readonly DrawnLine[]; frame: LabelFrame },
): ({ x: number; y: number } | undefined)[] {
  const { height, away, lines, frame } = o;
  const drawn = new DrawnSegments(lines);
  const taken: LabelFrame[] = [];
  return wanted.map(({ x, y, width }) => {
    const side = width / 2 + away - 4;
    const places = [
      { x, y: y + away },
      { x, y: y - away },
      { x: x + side, y: y + away / 2 },
      { x: x + side, y: y - away / 2 },
      { x: x - side, y: y + away / 2 },
      { x: x - side, y: y - away / 2 },
      { x, y: y + 2 * away },
      { x, y: y - 2 * away },
    ];
    const boxOf = (p: { x: number; y: number }): LabelFrame => ({
      ...{ left: p.x - width / 2, right: p.x + width / 2 },
      ...{ top: p.y - height / 2, bottom: p.y + height / 2 },
    });
    const isFree = (box: LabelFrame) =>
      box.left >= frame.left &&
      box.right <= frame.right &&
      box.top >= frame.top &&
      box.bottom <= frame.bottom &&
      taken.every((t) => box.left >= t.right || t.left >= box.right || box.top >= t.bottom || t.top >= box.bottom) &&
      !drawn.meets(box);
    const place = places.find((p) => isFree(boxOf(p)));
    if (place) taken.push(boxOf(place));
    return place;
  });
}
