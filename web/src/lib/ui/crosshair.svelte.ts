/** Where a pointer reads one chart of a view, for the others to mark the same place: in a unit that they share. */
export class Crosshair {
  at = $state.raw<number>();
}

/** How a chart's horizontal axis and the shared unit lead to each other. */
export interface SharedPlace {
  toShared: (x: number | string) => number;
  fromShared: (at: number) => number | string;
}
