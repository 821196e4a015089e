<!-- What would I put on, and how does it behave? Legs, and their profit by price, day and volatility. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import Reading from '$lib/shell/reading.svelte';
  import TheoryTrouble from '$lib/shell/theory-trouble.svelte';
  import ViewFrame from '$lib/shell/view-frame.svelte';
  import { legsText, MOST_CONTRACTS } from '$lib/api/picked-legs';
  import { underlyingDecimals } from '$lib/measures';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { settlementsRoute } from '$lib/api/contract/views';
  import { hasEnded } from '$lib/market';
  import { legTheory, spreadParts } from '$lib/theory';
  import { TheoryValues } from '$lib/theory/thread';
  import Choice from '$lib/ui/choice.svelte';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import { currencyName, dateText, signedText, strikeText } from '$lib/ui/format';
  import { PALETTES } from '$lib/ui/palette';
  import NeutralizePanel from './neutralize-panel.svelte';
  import { MAP_AXES, MOST_HELD, STRUCTURE_PANELS, structureParameters } from './parameters';
  import { shiftOf } from './assumed-shift';
  import ChancesPanel from './chances-panel.svelte';
  import ComparePanel from './compare-panel.svelte';
  import ShelfPanel from './shelf-panel.svelte';
  import { Shelf } from './shelf.svelte';
  import { profileRange, structureProfile } from './profile';
  import type { StructureMap, StructureMapInput } from './structure-map';
  import StructureMapChart from './structure-map-chart.svelte';
  import DecayPanel from './decay-panel.svelte';
  import ReachPanel from './reach-panel.svelte';
  import { StructureAnswers } from './structure-answers.svelte';
  import type { StructureInput } from './structure-input';
  import ProfileChart from './profile-chart.svelte';
  import { built, times, timesOver, turnedRound } from './structure-edit';
  import StructureFigures from './structure-figures.svelte';
  import StructureScrubs from './structure-scrubs.svelte';
  import StructureLegs from './structure-legs.svelte';
  import { structureReading } from './structure-reading';
  import { type MeasureScale, measureWords } from './structure-measure';
  import { type SceneSums, sceneSums, type StructureScene, structureScene } from './structure-scene';
  import type { FiguredStructure } from './figured-structure';
  import { explainStructureFigure } from './structure-workings';
  import { OFFERED, structureName, structureWords } from './structure-words';

  const view = quotedViewState();
  const page = pageState();
  const own = $derived(view.address.own(structureParameters));
  const palette = $derived(PALETTES[page.theme]);
  const { legs } = $derived(view.context);
  const { underlying, asOf } = $derived(view.picture);
  const decimals = $derived(underlyingDecimals(view.scale));
  const currency = $derived(currencyName(underlying.currency));
  const shelf = new Shelf();
  const needsShelf = $derived(
    (legs.length === 0 && own.held === 0) || own.panel === 'shelf' || own.panel === 'compare' || own.with.length > 0,
  );
  $effect(() => {
    if (needsShelf && !untrack(() => shelf.kept)) void shelf.load();
  });
  const keptHere = $derived(shelf.kept?.filter((k) => k.symbol === underlying.symbol));
  /** Those that are drawn beside it, in the order that they were chosen. */
  const besides = $derived(own.with.flatMap((id) => keptHere?.find((k) => k.id === id) ?? []));
  const parts = $derived(spreadParts(view.picture, [legs, ...besides.map((k) => k.legs)]));
  const values = new TheoryValues(() => ({
    ...{ parts, inForce: view.inForce, stamp: view.theoryStamp },
    isSecondOrder: own.panel === 'neutralize',
  }));
  const ended = $derived([
    ...new Set(
      [legs, ...besides.map((k) => k.legs)]
        .flat()
        .flatMap((leg) => (hasEnded(view.picture, leg.expiry) ? [leg.expiry] : [])),
    ),
  ]);
  const settled = new Fetched(settlementsRoute, () =>
    ended.length === 0
      ? undefined
      : { parameters: { symbol: underlying.symbol }, query: { asOf, ended: ended.sort().join(',') } },
  );
  const settlements = $derived(
    new Map(
      settled.answer?.symbol === underlying.symbol
        ? settled.answer.settlements.map(({ expiry, price }) => [expiry, price] as const)
        : [],
    ),
  );
  /** Until the closes at which legs ended are there, nothing is known of them. */
  const isSettling = $derived(
    ended.length > 0 && settled.error === undefined && !ended.every((date) => settlements.has(date)),
  );
  const scene = $derived(
    structureScene(view.picture, legs, {
      ...{ held: own.held, paid: own.paid, take: own.take, settlements },
      values: legTheory(legs, parts, values.values),
    }),
  );
  const isEmpty = $derived(legs.length === 0 && own.held === 0);
  /** Units of the underlying that figures are of, for each contract of the smallest leg or all of them. */
  const unitsOf = (of: typeof legs) =>
    own.per === 'position' ? underlying.multiplier : (own.per === 'share' ? 1 : underlying.multiplier) / timesOver(of);
  /** How many of the smallest it is, and may be. */
  const over = $derived(timesOver(legs, own.held));
  const mostOver = $derived(
    Math.floor(
      Math.min(
        ...legs.map(({ ratio }) => (MOST_CONTRACTS * over) / Math.abs(ratio)),
        own.held === 0 ? Infinity : (MOST_HELD * over) / Math.abs(own.held),
      ),
    ),
  );
  const multiplier = $derived(unitsOf(legs));
  const sums = $derived(sceneSums(scene, multiplier));
  const last = $derived(scene.front ? Math.floor(scene.front.days) : 0);
  /** What is under the hand, before the address has it. */
  let held = $state<{ day?: number; at?: number; shift?: number }>({});
  const day = $derived(Math.min(held.day ?? own.day ?? Math.round(last / 2), last));
  const points = $derived(held.shift ?? own.shift);
  const at = $derived(held.at ?? own.at ?? scene.underlyingPrice);
  const shift = $derived(shiftOf({ ...own, shift: points }));
  const front = $derived(scene.on(Infinity, shift));
  const dateAfter = (days: number) => new Date(Date.parse(asOf) + days * 86_400_000).toISOString().slice(0, 10);
  const frontDay = $derived(
    front && scene.front && { structure: front, years: scene.front.years, forward: scene.front.forward },
  );
  const lookedDay = $derived.by(() => {
    const structure = day > 0 ? scene.on(day, shift) : undefined;
    const market = scene.marketOn(day);
    const isBefore = scene.front !== undefined && day < scene.front.days;
    if (!structure || !market || !isBefore) return undefined;
    return { structure, years: market.years, forward: market.forward, name: `in ${day} days` };
  });
  const scaleOf = (of: StructureScene, { cost }: SceneSums, units: number): MeasureScale => ({
    multiplier: units,
    cost: cost === null ? NaN : cost / units,
    model: of.front?.model ?? 'spot',
  });
  const scale = $derived(scaleOf(scene, sums, multiplier));
  const others = $derived(
    besides.map((k, i) => {
      const of = structureScene(view.picture, k.legs, {
        ...{ held: k.held, paid: k.paid, take: own.take, settlements },
        values: legTheory(k.legs, parts, values.values),
      });
      const units = unitsOf(k.legs);
      const ofSums = sceneSums(of, units);
      return {
        ...{ name: k.name, color: palette.beside[i], scene: of, scale: scaleOf(of, ofSums, units) },
        figured: figuredOf(of, ofSums, units),
        days: Infinity,
      };
    }),
  );
  const range = $derived(profileRange(scene, own));
  const profile = $derived(
    structureProfile(scene, {
      ...{ range, shift, scale, measure: own.measure },
      lines: [
        { id: 'now', name: 'now', days: 0 },
        ...(day > 0 ? [{ id: 'day' as const, name: dateText(dateAfter(day), asOf), days: day }] : []),
        { id: 'front', name: scene.front ? dateText(scene.front.date, asOf) : 'any day', days: Infinity },
      ],
      others,
      legs:
        own.each === 'yes'
          ? legs.map(({ ratio, strike, side }) => `${signedText(ratio, 0)} ${strikeText(strike)} ${side}`)
          : undefined,
    }),
  );
  const figured = $derived(figuredOf(scene, sums, multiplier));
  function figuredOf(of: StructureScene, ofSums: SceneSums, units: number): FiguredStructure {
    return {
      ...{ symbol: underlying.symbol, asOf, scene: of, sums: ofSums, at, multiplier: units },
      front: of.on(Infinity, shift),
      riskReversal: view.picture.shape?.riskReversal25.value ?? null,
    };
  }
  view.explainAlso('structure', (id) => explainStructureFigure(figured, id));
  const LEGLESS_PANELS = ['shelf', 'neutralize'] as const;
  /** Why a panel has nothing to look at. */
  const unseen = $derived(
    values.isPending ? 'Theory is being worked out.' : (scene.trouble ?? 'Without options there is no first expiry.'),
  );
  const PANEL_NAMES = {
    ...{ legs: 'legs', chances: 'chance by source', reach: 'target and limit', decay: 'decay' },
    ...{ neutralize: 'neutralize', compare: 'compare', shelf: 'Shelf' },
  } as const;

  // What is moved down the map is not moved beside it.
  const mapShift = $derived(shiftOf({ ...own, shift: own.down === 'day' ? points : 0 }));
  const input = $derived<StructureInput>({
    ...{ picture: view.picture, legs, held: own.held, paid: own.paid, take: own.take, shift, scale, settlements },
    values: legTheory(legs, parts, values.values),
  });
  const mapInput = $derived<StructureMapInput | undefined>(
    scene.front && scene.valued
      ? {
          ...{ ...input, shift: mapShift, measure: own.measure, prices: range, down: own.down },
          day: own.down === 'day' ? 0 : day,
        }
      : undefined,
  );
  const maps = new StructureAnswers<StructureMapInput, StructureMap | undefined>(
    () => mapInput,
    (thread, request) => thread.structureMap(request),
  );
  const shownMap = $derived(
    maps.answer?.request.picture.underlying.symbol === underlying.symbol ? maps.answer.value : undefined,
  );
  /** Why a chart over all days has nothing to draw. */
  const UNSEEN_DAY = 'Not drawn: on some day no volatility gives a leg the value that it has today.';
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
  const isMoved = $derived(
    shift !== undefined || own.at !== undefined || own.from !== undefined || own.to !== undefined,
  );
  /** Volatility, tilt, rate and prices as the market has them. */
  const asItIs = () =>
    view.address.set({
      ...{ shift: undefined, tilt: undefined, rate: undefined, rooted: undefined, smile: undefined },
      ...{ at: undefined, from: undefined, to: undefined },
    });
  /** What a hand moves is drawn at once, and goes into the address where it lets go. */
  function follow(moved: typeof held, isFinal: boolean): void {
    held = { ...held, ...moved };
    if (!isFinal) return;
    const changes = Object.fromEntries(
      Object.entries(moved).map(([name, value]) => [name, name === 'shift' && value === 0 ? undefined : String(value)]),
    );
    void view.address.set(changes).then(() => (held = {}));
  }
  const keepable = $derived(
    isEmpty
      ? undefined
      : {
          ...{ symbol: underlying.symbol, asOf, legs: [...legs], held: own.held, paid: [...own.paid] },
          cost: sceneSums(scene, underlying.multiplier).cost,
          price: scene.underlyingPrice,
        },
  );
  const keptName = $derived(
    `${structureWords(scene.name)}${scene.front ? ` ${dateText(scene.front.date, asOf)}` : ''} ${legs.map((l) => strikeText(l.strike)).join('/')}`.slice(
      0,
      80,
    ),
  );
  const keep = (next: typeof legs, changes: Record<string, string | undefined> = {}) =>
    view.address.set({ legs: legsText(next), ...changes });
</script>

{#snippet neutralizing()}
  <NeutralizePanel
    {own}
    sums={sceneSums(scene, underlying.multiplier)}
    multiplier={underlying.multiplier}
    price={scene.underlyingPrice}
  />
{/snippet}

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
          label="How many times the smallest structure"
          text={String(over)}
          isWhole
          within={[1, mostOver]}
          ontype={(many) =>
            keep(times(legs, many / over), { held: own.held === 0 ? undefined : String((own.held * many) / over) })}
        />
      </span>
      <button
        type="button"
        class="quiet min-h-6"
        onclick={() => keep([], { held: undefined, paid: undefined, day: undefined, at: undefined })}>clear</button
      >
      {#if isMoved}<button type="button" class="quiet min-h-6" onclick={asItIs}>as it is</button>{/if}
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
      <Choice
        label="Without legs"
        choices={LEGLESS_PANELS}
        chosen={own.panel === 'neutralize' ? 'neutralize' : 'shelf'}
        words={(panel) => (panel === 'neutralize' ? 'neutralize what is held elsewhere' : PANEL_NAMES[panel])}
        onchoose={(panel) => view.address.set({ panel: panel === 'neutralize' ? panel : undefined })}
        class="mt-6"
      />
      <div class="mt-2">
        {#if own.panel === 'neutralize'}{@render neutralizing()}
        {:else}<ShelfPanel {shelf} {own} current={undefined} usualName="" />{/if}
      </div>
    {:else}
      {#if values.isPending}{:else if isSettling}<p class="quiet mb-1 text-[12.5px]" aria-busy="true">
          Looking for the closes at which legs ended.
        </p>
      {:else if scene.trouble}<p class="text-event mb-1 text-[12.5px]" role="status">{scene.trouble}</p>{/if}
      {#if settled.error}<p class="text-loss mb-1 text-[12.5px]" role="alert">{settled.error}</p>{/if}
      <TheoryTrouble trouble={values.trouble} />
      <StructureScrubs {own} {points} {at} {range} {decimals} />
      {#if values.isPending}
        <div class="h-[236px]" aria-busy="true"></div>
        {#if last > 0}<div class="mt-1 h-[184px]" aria-busy="true"></div>{/if}
      {:else if profile.lines.length > 0}<div
          class="relative h-[236px]"
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
            absence={maps.trouble ?? (maps.answer && !isMapOld && !shownMap ? UNSEEN_DAY : undefined)}
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
          onchoose={(axis) => view.address.set({ down: axis === 'day' ? undefined : axis })}
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
          <StructureLegs {scene} {own} isPending={values.isPending} />
        {:else if own.panel === 'chances'}
          {#if frontDay && scene.front}
            <ChancesPanel front={frontDay} expiry={scene.front.date} day={lookedDay} {scale} />
          {:else}<p class="quiet text-[12.5px]">{unseen}</p>{/if}
        {:else if own.panel === 'reach' || own.panel === 'decay'}
          {#if !scene.front || !scene.valued}
            <p class="quiet text-[12.5px]">{unseen}</p>
          {:else if own.panel === 'reach'}
            <ReachPanel {own} {input} {figured} {currency} />
          {:else}
            <DecayPanel
              absence={UNSEEN_DAY}
              {input}
              measure={own.measure}
              {at}
              {asOf}
              {decimals}
              {currency}
              {palette}
            />
          {/if}
        {:else if own.panel === 'compare'}
          <ComparePanel
            {own}
            kept={keptHere}
            structures={[{ name: structureWords(scene.name), color: palette.ink, figured }, ...others]}
          />
        {:else if own.panel === 'shelf'}
          <ShelfPanel {shelf} {own} current={keepable} usualName={keptName} />
        {:else if own.panel === 'neutralize'}
          {@render neutralizing()}
        {/if}
      </div>
    {/if}
  {/snippet}
  {#snippet aside()}
    {#if !isEmpty && values.isPending}
      <p class="quiet text-[12.5px]" aria-busy="true">Theory is being worked out.</p>
    {:else if !isEmpty}
      <StructureFigures {figured} {day} {shift} {scale} {decimals} {currency} per={own.per} />
      <div class="h-4"></div>
    {/if}
    <Reading
      sentences={values.isPending
        ? []
        : structureReading({
            ...{ figured, currency, decimals, scale: view.scale },
            events: view.picture.events,
          })}
      onaction={view.act}
      picture={view.picture}
    />
  {/snippet}
</ViewFrame>
