/** Width and height, pixels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** What places had last: a view that opens again mostly finds the same, and need not wait for the browser's layout. */
const lastSizes = new Map<string, Size>();

/** How much room a place has, as the browser tells it after its layout: to ask for it would have that made at once. */
export class Room {
  readonly #place: string;
  #size = $state.raw<Size>();

  /** @param place that has mostly the same room whenever the page shows it */
  constructor(place: string) {
    this.#place = place;
    this.#size = lastSizes.get(place);
  }

  /** Undefined until it is known. */
  get size(): Size | undefined {
    return this.#size;
  }

  /** Takes what the browser tells. */
  readonly tell = ({ width, height }: DOMRectReadOnly): void => {
    // What is not shown has none.
    if (width === 0 || height === 0) return;
    if (this.#size?.width === width && this.#size.height === height) return;
    this.#size = { width, height };
    lastSizes.set(this.#place, this.#size);
  };
}
