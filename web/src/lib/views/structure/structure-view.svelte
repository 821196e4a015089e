<!-- What would I put on, and how does it behave? Legs, and their profit by price, day and volatility. -->
<script lang="ts">
  import Reading from '$lib/shell/reading.svelte';
  import TheoryTrouble from '$lib/shell/theory-trouble.svelte';
  import ViewFrame from '$lib/shell/view-frame.svelte';
  import { legsText } from '$lib/api/picked-legs';
  import { underlyingDecimals } from '$lib/measures';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { legTheory, spreadParts } from '$lib/theory';
  import { TheoryValues } from '$lib/theory/thread';
  import Choice from '$lib/ui/choice.svelte';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { currencyName, dateText, numberText, signedText, strikeText } from '$lib/ui/format';
  import { PALETTES } from '$lib/ui/palette';
  import NeutralizePanel from './neutralize-panel.svelte';
  import { MAP_AXES, STRUCTURE_PANELS, structureParameters } from './parameters';
  import ChancesPanel from './chances-panel.svelte';
  import { profileRange, structureProfile } from './profile';
  import type { StructureMapInput } from './structure-map';
  import StructureMapChart from './structure-map-chart.svelte';
  import { MapAnswers } from './map-answers.svelte';
  import ProfileChart from './profile-chart.svelte';
  import { built, times, turnedRound } from './structure-edit';
  import StructureFigures from './structure-figures.svelte';
  import StructureLegs from './structure-legs.svelte';
  import { structureReading } from './structure-reading';
  import { type MeasureScale, measureWords, SHOWN_MEASURES, shiftOf } from './structure-measure';
  import { sceneSums, structureScene } from './structure-scene';
  import { explainStructureFigure, type FiguredStructure } from './structure-workings';
  import { OFFERED, structureName, structureWords } from './structure-words';

  const view = quotedViewState();
  const page = pageState();
  const own = $derived(view.address.own(structureParameters));
  const palette = $derived(PALETTES[page.theme]);
  const { legs } = $derived(view.context);
  const { underlying, asOf } = $derived(view.picture);
  const decimals = $derived(underlyingDecimals(view.scale));
  const currency = $derived(currencyName(underlying.currency));
  const parts = $derived(spreadParts(view.picture, [legs]));
  const values = new TheoryValues(() => ({ parts, inForce: view.inForce, stamp: view.theoryStamp }));
  const scene = $derived(
    structureScene(view.picture, legs, {
      ...{ held: own.held, paid: own.paid },
      values: legTheory(legs, parts, values.values),
    }),
  );
  const isEmpty = $derived(legs.length === 0 && own.held === 0);
  const sums = $derived(sceneSums(scene, underlying.multiplier));
  const last = $derived(scene.front ? Math.floor(scene.front.days) : 0);
  /** What is under the hand, before the address has it. */
  let held = $state<{ day?: number; at?: number; shift?: number }>({});
  const day = $derived(Math.min(held.day ?? own.day ?? Math.round(last / 2), last));
  const points = $derived(held.shift ?? own.shift);
  const at = $derived(held.at ?? own.at ?? scene.underlyingPrice);
  const shift = $derived(shiftOf({ ...own, shift: points }));
  const front = $derived(scene.on(Infinity, shift));
  const dateAfter = (days: number) => new Date(Date.parse(asOf) + days * 86_400_000).toISOString().slice(0, 10);
  const scale = $derived<MeasureScale>({
    multiplier: underlying.multiplier,
    cost: sums.cost === null ? NaN : sums.cost / underlying.multiplier,
    model: scene.front?.model ?? 'spot',
  });
  const range = $derived(profileRange(scene, own));
  const profile = $derived(
    structureProfile(scene, {
      ...{ range, shift, scale, measure: own.measure },
      lines: [
        { id: 'now', name: 'now', days: 0 },
        ...(day > 0 ? [{ id: 'day' as const, name: dateText(dateAfter(day), asOf), days: day }] : []),
        { id: 'front', name: scene.front ? dateText(scene.front.date, asOf) : 'any day', days: Infinity },
      ],
      legs:
        own.each === 'yes'
          ? legs.map(({ ratio, strike, side }) => `${signedText(ratio, 0)} ${strikeText(strike)} ${side}`)
          : undefined,
    }),
  );
  const figured = $derived<FiguredStructure>({
    ...{ symbol: underlying.symbol, asOf, scene, sums, front, at, multiplier: underlying.multiplier },
    riskReversal: view.picture.shape?.riskReversal25.value ?? null,
  });
  view.explainAlso('structure', (id) => explainStructureFigure(figured, id));
  const PANEL_NAMES = {
    ...{ legs: 'legs', chances: 'chance by source', reach: 'target and limit', decay: 'decay' },
    ...{ neutralize: 'neutralize', compare: 'compare', shelf: 'Shelf' },
  } as const;

  // What is moved down the map is not moved beside it.
  const mapShift = $derived(shiftOf({ ...own, shift: own.down === 'day' ? points : 0 }));
  const mapInput = $derived<StructureMapInput | undefined>(
    scene.front && scene.valued
      ? {
          ...{ picture: view.picture, legs, held: own.held, paid: own.paid, shift: mapShift, scale },
          values: legTheory(legs, parts, values.values),
          ...{ measure: own.measure, prices: range, down: own.down },
          day: own.down === 'day' ? 0 : day,
        }
      : undefined,
  );
  const maps = new MapAnswers(() => mapInput);
  const shownMap = $derived(
    maps.answer?.request.picture.underlying.symbol === underlying.symbol ? maps.answer.value : undefined,
  );
  const isMapOld = $derived(maps.answer?.request !== mapInput);

  function begin(name: string): void {
    const chosen = OFFERED.find((n) => n === name);
    if (!chosen || !view.focus) return;
    const made = built(chosen, 'call', view.focus, view.shown);
    if (!made) return;
    void view.address.set({
      legs: legsText(made.legs),
      held: made.held === 0 ? undefined : String(made.held),
      paid: undefined,
      day: undefined,
    });
  }
  const unless = (value: string | number, usual: string | number) => (value === usual ? undefined : String(value));
  const clamped = (value: number, [least, most]: readonly [number, number]) => Math.max(least, Math.min(most, value));
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
  const isMoved = $derived(
    shift !== undefined || own.at !== undefined || own.from !== undefined || own.to !== undefined,
  );
  /** What a hand moves is drawn at once, and goes into the address where it lets go. */
  function follow(moved: typeof held, isFinal: boolean): void {
    held = { ...held, ...moved };
    if (!isFinal) return;
    const changes = Object.fromEntries(
      Object.entries(moved).map(([name, value]) => [name, name === 'shift' && value === 0 ? undefined : String(value)]),
    );
    void view.address.set(changes).then(() => (held = {}));
  }
  const keep = (next: typeof legs, changes: Record<string, string | undefined> = {}) =>
    view.address.set({ legs: legsText(next), ...changes });
</script>

<ViewFrame title="Structure">
  {#snippet controls()}
    {#if !isEmpty}<strong data-testid="structure-name">{structureWords(scene.name)}</strong>{/if}
    <select
      class="select select-xs w-[132px]"
      aria-label="Begin with a structure by its name"
      value=""
      disabled={!view.focus}
      onchange={(event) => {
        begin(event.currentTarget.value);
        event.currentTarget.value = '';
      }}
    >
      <option value="" disabled>begin with…</option>
      {#each OFFERED as name (name)}<option value={name}>{structureName(name)}</option>{/each}
    </select>
    {#if !isEmpty}
      <button
        type="button"
        class="text-implied min-h-6"
        onclick={() => keep(turnedRound(legs), { held: own.held === 0 ? undefined : String(-own.held) })}
        >reverse</button
      >
      <span class="flex items-baseline gap-1 text-[12.5px]">
        <span class="quiet">times</span>
        <TypedNumber
          label="Times as many of every leg"
          text="1"
          ontype={(factor) => {
            const whole = Math.round(factor);
            if (whole > 0)
              void keep(times(legs, whole), { held: own.held === 0 ? undefined : String(own.held * whole) });
          }}
        />
      </span>
      <button
        type="button"
        class="quiet min-h-6"
        onclick={() => keep([], { held: undefined, paid: undefined, day: undefined, at: undefined })}>clear</button
      >
    {/if}
  {/snippet}
  {#snippet main()}
    {#if isEmpty}
      <div class="mt-6 max-w-[560px] font-serif text-[15px]">
        <p>No legs yet.</p>
        <p class="mt-2">
          Pick options on <a
            class="text-implied underline underline-offset-2"
            href={view.address.href({}).replace('/structure/', '/chain/')}>Chain</a
          >
          with + and −, or begin with:
        </p>
        <p class="mt-2 flex flex-wrap gap-2 font-sans">
          {#each OFFERED as name (name)}
            <button type="button" class="btn btn-xs" disabled={!view.focus} onclick={() => begin(name)}
              >{structureName(name)}</button
            >
          {/each}
        </p>
      </div>
    {:else}
      {#if scene.trouble}<p class="text-event mb-1 text-[12.5px]" role="status">{scene.trouble}</p>{/if}
      <TheoryTrouble trouble={values.trouble} />
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
              ontype={(typed) => view.address.set({ [scrub.id]: unless(clamped(typed, scrub.within), 0) })}
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
        <label class="flex items-baseline gap-1"
          ><input
            type="checkbox"
            class="checkbox checkbox-xs translate-y-0.5"
            checked={own.each === 'yes'}
            onchange={() => view.address.set({ each: own.each === 'yes' ? undefined : 'yes' })}
          />legs</label
        >
        <span class="flex items-baseline gap-1">
          <span class="quiet">price</span>
          <TypedNumber
            label="Price that is looked at, typed"
            text={numberText(at, decimals)}
            isOwn={own.at !== undefined}
            ontype={(price) => view.address.set({ at: price > 0 ? String(price) : undefined })}
          />
        </span>
        <span class="flex items-baseline gap-1">
          <span class="quiet">from</span>
          <TypedNumber
            label="Lowest price that is drawn"
            text={numberText(range[0], decimals)}
            isOwn={own.from !== undefined}
            ontype={(price) => view.address.set({ from: price > 0 ? String(price) : undefined })}
          />
          <span class="quiet">to</span>
          <TypedNumber
            label="Highest price that is drawn"
            text={numberText(range[1], decimals)}
            isOwn={own.to !== undefined}
            ontype={(price) => view.address.set({ to: price > 0 ? String(price) : undefined })}
          />
        </span>
        {#if isMoved}<button
            type="button"
            class="quiet min-h-6"
            onclick={() =>
              view.address.set({
                ...{ shift: undefined, tilt: undefined, rate: undefined, rooted: undefined },
                ...{ at: undefined, from: undefined, to: undefined },
              })}>as it is</button
          >{/if}
      </div>
      {#if profile.lines.length > 0}<div
          class="relative h-[250px] {values.isProvisional ? 'opacity-60' : ''}"
          data-testid="profile"
          data-stamp="{underlying.symbol} {asOf}"
        >
          <ProfileChart
            {profile}
            measure={own.measure}
            price={scene.underlyingPrice}
            {at}
            label="{measureWords(own.measure)} of the {structureWords(scene.name)}, {underlying.symbol}"
            onat={(price, isFinal) => follow({ at: price }, isFinal)}
            {decimals}
            {currency}
            {palette}
          />
        </div>{/if}
      {#if last > 0 && profile.lines.length > 0}
        <div class="relative mt-1 h-[184px] {isMapOld ? 'opacity-60' : ''}" data-testid="structure-map">
          <StructureMapChart
            map={shownMap}
            {last}
            {day}
            {asOf}
            {currency}
            events={view.picture.events}
            {palette}
            measure={own.measure}
            axis={own.down}
            {points}
            onday={(next, isFinal) => follow({ day: next }, isFinal)}
            onpoints={(next, isFinal) => follow({ shift: next }, isFinal)}
          />
        </div>
      {/if}
      {#if last > 0 && profile.lines.length > 0}
        <Choice
          label="What runs down"
          choices={MAP_AXES}
          chosen={own.down}
          words={(axis) => `by ${axis}`}
          onchoose={(axis) => view.address.set({ down: unless(axis, 'day') })}
          class="mt-2 mr-3"
        />
      {/if}
      <Choice
        label="Below the chart"
        choices={STRUCTURE_PANELS}
        chosen={own.panel}
        words={(panel) => PANEL_NAMES[panel]}
        onchoose={(panel) => view.address.set({ panel: panel === 'legs' ? undefined : panel })}
        class="mt-2"
      />
      <div class="mt-2">
        {#if own.panel === 'legs'}
          <StructureLegs {scene} {own} isProvisional={values.isProvisional} />
        {:else if own.panel === 'chances'}
          {#if front && scene.front && front.breakEvens.length > 0}
            <ChancesPanel {front} expiry={scene.front.date} />
          {:else}<p class="quiet text-[12.5px]">
              Without a break-even no source is needed: it always pays, or never does.
            </p>{/if}
        {:else}
          <NeutralizePanel {own} {sums} multiplier={underlying.multiplier} />
        {/if}
      </div>
    {/if}
  {/snippet}
  {#snippet aside()}
    {#if !isEmpty}
      <StructureFigures {figured} {day} {shift} {scale} {decimals} {currency} />
      <div class="h-4"></div>
    {/if}
    <Reading
      sentences={structureReading({
        ...{ figured, currency, decimals, scale: view.scale },
        events: view.picture.events,
      })}
      onaction={view.act}
      picture={view.picture}
    />
  {/snippet}
</ViewFrame>
