/** Follows a pointer that is down until it is up, or the browser takes it for something else. */
export function followDrag(over: (move: PointerEvent) => void, end: () => void): void {
  const dragging = new AbortController();
  const { signal } = dragging;
  const stop = () => {
    dragging.abort();
    end();
  };
  addEventListener('pointermove', over, { signal });
  addEventListener('pointerup', stop, { signal });
  addEventListener('pointercancel', stop, { signal });
}
