<!-- What a structure is looked at by, and under which volatility, tilt, rate and price. -->
<script lang="ts">
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { numberText, signedText } from '$lib/ui/format';
  import { ABOVE_ZERO } from '$lib/ui/number-input';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { SMILE_MOVES, type StructureParameters } from './parameters';
  import { SMILE_MOVE_WORDS } from './assumed-shift';
  import { LEAST_RANGE } from './profile';
  import { measureWords, SHOWN_MEASURES } from './structure-measure';

  interface Props {
    own: StructureParameters;
    /** On every volatility, under the hand too */
    points: number;
    /** Price that is looked at */
    at: number;
    /** Prices that are drawn */
    range: readonly [number, number];
    decimals: number;
  }
  let { own, points, at, range, decimals }: Props = $props();
  const view = quotedViewState();
  const unless = (value: string | number, usual: string | number) => (value === usual ? undefined : String(value));
  const SCRUBS = [
    { id: 'shift', words: 'volatility', label: 'Points on every volatility', within: [-50, 100] },
    {
      id: 'tilt',
      words: 'tilt',
      label: 'Points of volatility more for a strike a tenth below its forward',
      within: [-20, 20],
    },
    { id: 'rate', words: 'rate', label: 'Points on the rate', within: [-10, 20] },
  ] as const;
</script>

<div class="mb-1 flex flex-wrap items-center gap-x-3 gap-y-1 text-[12.5px]" data-testid="scrubs">
  <select
    class="select select-xs w-[104px]"
    aria-label="Measure"
    value={own.measure}
    onchange={(event) => view.address.set({ measure: unless(event.currentTarget.value, 'profit') })}
  >
    {#each SHOWN_MEASURES as measure (measure)}<option value={measure}>{measureWords(measure)}</option>{/each}
  </select>
  {#each SCRUBS as scrub (scrub.id)}
    <span class="flex items-baseline gap-1">
      <span class="quiet">{scrub.words}</span>
      <TypedNumber
        label={scrub.label}
        text={signedText(scrub.id === 'shift' ? points : own[scrub.id], 1)}
        isOwn={own[scrub.id] !== 0}
        within={scrub.within}
        ontype={(typed) => view.address.set({ [scrub.id]: unless(typed, 0) })}
      />
    </span>
  {/each}
  <label class="flex items-baseline gap-1"
    ><input
      type="checkbox"
      class="checkbox checkbox-xs translate-y-0.5"
      checked={own.rooted === 'yes'}
      onchange={() => view.address.set({ rooted: own.rooted === 'yes' ? undefined : 'yes' })}
    />near more</label
  >
  <span class="flex items-baseline gap-1">
    <span class="quiet">smile</span>
    <select
      class="select select-xs w-[148px]"
      aria-label="How the smile goes with the price"
      value={own.smile}
      onchange={(event) => view.address.set({ smile: unless(event.currentTarget.value, 'strike') })}
    >
      {#each SMILE_MOVES as move (move)}<option value={move}>{SMILE_MOVE_WORDS[move]}</option>{/each}
    </select>
  </span>
  <span class="flex items-baseline gap-1">
    <span class="quiet">price</span>
    <TypedNumber
      label="Price that is looked at, typed"
      text={numberText(at, decimals)}
      isOwn={own.at !== undefined}
      within={ABOVE_ZERO}
      ontype={(price) => view.address.set({ at: String(price) })}
    />
  </span>
  <span class="flex items-baseline gap-1">
    <span class="quiet">from</span>
    <TypedNumber
      label="Lowest price that is drawn"
      text={numberText(range[0], decimals)}
      isOwn={own.from !== undefined}
      within={[Number.MIN_VALUE, range[1] / LEAST_RANGE]}
      ontype={(price) => view.address.set({ from: String(price) })}
    />
    <span class="quiet">to</span>
    <TypedNumber
      label="Highest price that is drawn"
      text={numberText(range[1], decimals)}
      isOwn={own.to !== undefined}
      within={[range[0] * LEAST_RANGE, 1e9]}
      ontype={(price) => view.address.set({ to: String(price) })}
    />
  </span>
  <label class="flex items-baseline gap-1"
    ><input
      type="checkbox"
      class="checkbox checkbox-xs translate-y-0.5"
      checked={own.each === 'yes'}
      onchange={() => view.address.set({ each: own.each === 'yes' ? undefined : 'yes' })}
    />legs</label
  >
</div>
