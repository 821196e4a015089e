<!-- The edge of a column, by which it is made wider: dragged, or stepped by keys; up and down lead to the other edges. -->
<script lang="ts">
  import { LEAST_WIDTH, limitedWidth, MOST_WIDTH } from './table-column';

  interface Props {
    label: string;
    /** Pixels */
    width: number;
    isReached: boolean;
    /** While it is dragged; undefined once that ends */
    ondrag: (width: number | undefined) => void;
    onresize: (width: number) => void;
  }
  let { label, width, isReached, ondrag, onresize }: Props = $props();
  const STEP = 8;
  let handle = $state<HTMLElement>();
  /** Where the left edge of the column is while it is dragged. */
  let left: number | undefined;
  // What is asked for may be less than the table has room for.
  const drawnWidth = () => handle?.closest('th')?.getBoundingClientRect().width ?? width;

  function onpointerdown(event: PointerEvent): void {
    handle?.setPointerCapture(event.pointerId);
    left = event.clientX - drawnWidth();
    event.preventDefault();
    // The cells are not selected by it.
    event.stopPropagation();
  }
  function end(event: PointerEvent): void {
    if (left !== undefined && event.type === 'pointerup') onresize(event.clientX - left);
    left = undefined;
    ondrag(undefined);
  }
  function onkeydown(event: KeyboardEvent): void {
    if (event.altKey) return;
    const next = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const now = drawnWidth();
    const to = { ArrowLeft: now - STEP, ArrowRight: now + STEP, Home: LEAST_WIDTH, End: MOST_WIDTH }[event.key];
    if (to !== undefined) onresize(to);
    else if (next !== undefined) {
      const handles = [...(handle?.closest('thead')?.querySelectorAll<HTMLElement>('[role=slider]') ?? [])];
      handles.at((handles.indexOf(event.currentTarget as HTMLElement) + next) % handles.length)?.focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<span
  bind:this={handle}
  class="width-handle"
  role="slider"
  tabindex={isReached ? 0 : -1}
  aria-label="Width of {label}"
  aria-orientation="horizontal"
  aria-valuemin={LEAST_WIDTH}
  aria-valuemax={MOST_WIDTH}
  aria-valuenow={Math.round(width)}
  aria-valuetext="{Math.round(width)} pixels"
  {onpointerdown}
  onpointermove={(event) => {
    if (left !== undefined) ondrag(limitedWidth(event.clientX - left));
  }}
  onpointerup={end}
  onpointercancel={end}
  {onkeydown}
></span>
