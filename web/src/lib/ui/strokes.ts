import type { Shape } from 'plotly.js';

/** Straight pieces of one name, such as whiskers: points one after another, null where a piece ends. */
export interface Strokes {
  name: string;
  x: readonly (number | null)[];
  y: readonly (number | null)[];
  /** Vertical axis that they stand on */
  yaxis: 'y' | 'y2';
  color: string;
  width: number;
}

/** Strokes as one shape below the lines: of a trace Plotly makes an element for every piece. */
export function strokesShape({ x, y, yaxis, color, width }: Strokes): Partial<Shape> {
  let path = '';
  let isOpen = false;
  for (const [i, across] of x.entries()) {
    const up = y[i];
    const isDrawn = across !== null && up !== null && Number.isFinite(across + up);
    if (isDrawn) path += `${isOpen ? 'L' : 'M'}${across},${up}`;
    isOpen = isDrawn;
  }
  return { type: 'path', path, xref: 'x', yref: yaxis, layer: 'below', line: { color, width } };
}
