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
  import { currencyName, dateText, signedText } from '$lib/ui/format';
  import { PALETTES } from '$lib/ui/palette';
  import NeutralizePanel from './neutralize-panel.svelte';
  import { STRUCTURE_PANELS, structureParameters } from './parameters';
  import ChancesPanel from './chances-panel.svelte';
  import { structureProfile } from './profile';
  import type { ProfitMapInput } from './profit-map';
  import ProfitMapChart from './profit-map-chart.svelte';
  import { MapAnswers } from './map-answers.svelte';
  import ProfileChart from './profile-chart.svelte';
  import { built, times, turnedRound } from './structure-edit';
  import StructureFigures from './structure-figures.svelte';
  import StructureLegs from './structure-legs.svelte';
  import { structureReading } from './structure-reading';
  import { sceneSums, structureScene } from './structure-scene';
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
  const front = $derived(scene.on(Infinity, own.shift === 0 ? undefined : { parallel: own.shift / 100 }));
  const sums = $derived(sceneSums(scene, underlying.multiplier));
  const last = $derived(scene.front ? Math.floor(scene.front.days) : 0);
  /** The day under the hand, before the address has it. */
  let held = $state<number>();
  const day = $derived(Math.min(held ?? own.day ?? Math.round(last / 2), last));
  const dateAfter = (days: number) => new Date(Date.parse(asOf) + days * 86_400_000).toISOString().slice(0, 10);
  const profile = $derived(
    structureProfile(scene, {
      ...{ shift: own.shift / 100, multiplier: underlying.multiplier },
      lines: [
        { id: 'now', name: 'now', days: 0 },
        ...(day > 0 ? [{ id: 'day' as const, name: dateText(dateAfter(day), asOf), days: day }] : []),
        { id: 'front', name: scene.front ? dateText(scene.front.date, asOf) : 'any day', days: Infinity },
      ],
    }),
  );
  const PANEL_NAMES = { legs: 'legs', chances: 'chance by source', neutralize: 'neutralize' } as const;

  const mapInput = $derived<ProfitMapInput | undefined>(
    scene.front && scene.valued
      ? {
          ...{ picture: view.picture, legs, held: own.held, paid: own.paid, shift: own.shift / 100 },
          values: legTheory(legs, parts, values.values),
          multiplier: underlying.multiplier,
          prices: [profile.prices[0], profile.prices[profile.prices.length - 1]],
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
      <span class="flex items-baseline gap-1 text-[12.5px]">
        <span class="quiet">volatility</span>
        <TypedNumber
          label="Points on every volatility"
          text={signedText(own.shift, 1)}
          isOwn={own.shift !== 0}
          ontype={(points) =>
            view.address.set({ shift: points === 0 ? undefined : String(Math.max(-50, Math.min(100, points))) })}
        /><span class="quiet">points</span>
      </span>
      <button
        type="button"
        class="quiet min-h-6"
        onclick={() => keep([], { held: undefined, paid: undefined, day: undefined })}>clear</button
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
      {#if profile.lines.length > 0}<div
          class="relative h-[250px] {values.isProvisional ? 'opacity-60' : ''}"
          data-testid="profile"
          data-stamp="{underlying.symbol} {asOf}"
        >
          <ProfileChart
            {profile}
            price={scene.underlyingPrice}
            label="Profit of the {structureWords(scene.name)}, {underlying.symbol}"
            {decimals}
            {currency}
            {palette}
          />
        </div>{/if}
      {#if last > 0 && profile.lines.length > 0}
        <div class="relative mt-1 h-[184px] {isMapOld ? 'opacity-60' : ''}" data-testid="profit-map">
          <ProfitMapChart
            map={shownMap}
            {last}
            {day}
            {asOf}
            {currency}
            events={view.picture.events}
            {palette}
            onday={(next, isFinal) => {
              held = next;
              if (isFinal) void view.address.set({ day: String(next) }).then(() => (held = undefined));
            }}
          />
        </div>
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
      <StructureFigures
        {scene}
        {sums}
        {front}
        {day}
        shift={own.shift / 100}
        multiplier={underlying.multiplier}
        {decimals}
        {asOf}
        {currency}
      />
      <div class="h-4"></div>
    {/if}
    <Reading
      sentences={structureReading({
        ...{ scene, sums, front, currency, asOf, decimals },
        multiplier: underlying.multiplier,
        events: view.picture.events,
      })}
      onaction={view.act}
      picture={view.picture}
    />
  {/snippet}
</ViewFrame>
