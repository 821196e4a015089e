<!-- How far can it go, and how likely? The price's past into the fan that options imply, and one price by every source of odds. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import PickedFoot from '$lib/shell/picked-foot.svelte';
  import PickOption from '$lib/shell/pick-option.svelte';
  import AnswerTrouble from '$lib/shell/answer-trouble.svelte';
  import Reading from '$lib/shell/reading.svelte';
  import ViewFrame from '$lib/shell/view-frame.svelte';
  import { derivingQuery } from '$lib/api/as-of-context';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { barsRoute, frozenRoute, interestRecordRoute, probabilityRoute } from '$lib/api/contract/views';
  import { surfaceAgain } from '$lib/market';
  import { explainRangeFigure, premiumDecimals, underlyingDecimals } from '$lib/measures';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { listedAround, rangeBetween, rangeOf, sourcesOf, toldMove } from '$lib/theory';
  import { currencyName, dateText, daysText, numberText, tickDecimals } from '$lib/ui/format';
  import { PALETTES } from '$lib/ui/palette';
  import FrozenPanel from './frozen-panel.svelte';
  import InterestChart from './interest-chart.svelte';
  import MovesTable from './moves-table.svelte';
  import OddsMatrix from './odds-matrix.svelte';
  import { oddsRows, type ToldOdds } from './odds-rows';
  import { FAN_SPANS, RANGE_PANELS, rangeParameters } from './parameters';
  import Choice from '$lib/ui/choice.svelte';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import RangeControls from './range-controls.svelte';
  import RangeFan from './range-fan.svelte';
  import { fanLaws } from './range-fan';
  import { rangeReading } from './range-reading';
  import { FAN_DAYS, FAN_NAMES } from './range-words';
  import RecordPanel from './record-panel.svelte';
  import StrikesPanel from './strikes-panel.svelte';

  /** Sessions of the price's past that are drawn. */
  const SESSIONS = 90;
  const PANEL_NAMES = {
    odds: 'odds and moves',
    strikes: 'strike for odds',
    interest: 'open interest',
    frozen: 'frozen levels',
    record: 'record',
  } as const;
  const view = quotedViewState();
  const page = pageState();
  const own = $derived(view.address.own(rangeParameters));
  const palette = $derived(PALETTES[page.theme]);
  const { symbol } = $derived(view.picture.underlying);
  const decimals = $derived(underlyingDecimals(view.scale));
  const tick = $derived(view.picture.underlying.underlyingTick ?? 10 ** -decimals);
  const currency = $derived(currencyName(view.picture.underlying.currency));
  const focus = $derived(view.focus && view.focus.smile ? view.focus : undefined);

  /** Lines under the hand, before the address has them. */
  let held = $state.raw<{ symbol: string; levels: readonly number[] }>();
  /** A deviation below the forward of the expiry in focus, on a round price, where no line was put. */
  const usual = $derived.by(() => {
    if (!focus || focus.atm === null) return view.picture.price;
    const below = focus.forward * Math.exp(-focus.atm * Math.sqrt(focus.years));
    const round = 10 ** Math.floor(Math.log10(Math.max(view.picture.price / 100, tick)));
    return Math.max(tick, Math.round(below / round) * round);
  });
  const levels = $derived(
    held?.symbol === symbol
      ? held.levels
      : own.level.length > 0
        ? own.level
        : [Number(usual.toFixed(tickDecimals(tick)))],
  );
  function setLevels(next: readonly number[], isFinal: boolean): void {
    held = { symbol, levels: next };
    if (!isFinal) return;
    const text = next.map((l) => String(Number(l.toFixed(tickDecimals(tick))))).join(',');
    void view.address.set({ level: text }).then(() => (held = undefined));
  }

  /** What the fan reaches; the one in focus is always on it. */
  const fanned = $derived(view.shown.filter((e) => e.days <= FAN_DAYS[own.ahead] || e.date === view.focus?.date));
  const laws = $derived(fanLaws(fanned, own.drift));
  const ranges = $derived(
    view.shown.filter((e) => e.smile).map((expiry) => rangeOf(view.picture, expiry, [own.coverage])),
  );
  /** By a day between expiries; null before the first and after the last. */
  const between = $derived(
    own.between === undefined ? undefined : rangeBetween(view.picture, own.between, [own.coverage]),
  );
  const brackets = $derived(
    new Map(
      ranges.flatMap((range) => {
        const told = toldMove(range, own.move);
        return told ? [[range.date, told] as const] : [];
      }),
    ),
  );

  const barsAsked = $derived.by(() => {
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', view.live.minute);
    query.set('sessions', String(SESSIONS));
    return { parameters: { symbol }, query };
  });
  const bars = new Fetched(barsRoute, () => barsAsked);
  const shownBars = $derived(bars.answer?.symbol === symbol ? bars.answer.bars : []);

  const frozenAsked = $derived.by(() => {
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', view.live.minute);
    return { parameters: { symbol }, query };
  });
  const frozen = new Fetched(frozenRoute, () => frozenAsked);
  const interest = new Fetched(interestRecordRoute, () => (own.panel === 'interest' ? frozenAsked : undefined));
  const shownFrozen = $derived(frozen.answer?.symbol === symbol ? frozen.answer.frozen : []);

  /** Odds that take a while are asked for where the lines rest. */
  const RESTS = 60;
  let rested = $state.raw<readonly number[]>([]);
  $effect(() => {
    const next = levels;
    const timer = setTimeout(() => (rested = next), RESTS);
    return () => clearTimeout(timer);
  });
  const [level, second] = $derived(levels);
  const side = $derived(focus && level >= focus.forward ? ('above' as const) : ('below' as const));
  const askedOf = (kind: string, about: readonly number[]) => {
    if (!focus || about.length === 0) return undefined;
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', view.live.minute);
    query.set('expiry', focus.date);
    query.set('kind', kind);
    for (const l of about) query.append('level', String(l));
    if (own.drift !== 0) query.set('drift', String(own.drift));
    const { typedVolatility } = view.context;
    if (typedVolatility !== undefined) query.set('volatility', String(typedVolatility));
    return { parameters: { symbol }, query };
  };
  const finish = new Fetched(probabilityRoute, () =>
    askedOf(focus && rested[0] >= focus.forward ? 'above' : 'below', rested.slice(0, 1)),
  );
  const touch = new Fetched(probabilityRoute, () => askedOf('touch', rested.slice(0, 1)));
  const betweenOdds = new Fetched(probabilityRoute, () => (rested.length > 1 ? askedOf('between', rested) : undefined));
  const told = $derived<ToldOdds>({
    level: finish.isLoading || touch.isLoading ? NaN : rested[0],
    finish: finish.answer?.results,
    touch: touch.answer?.results,
  });
  const forecast = $derived(finish.answer?.results.find((r) => r.source === 'forecast'));
  const expected = $derived(forecast?.volatility ?? null);
  const smile30 = $derived(surfaceAgain(view.picture)?.smileAt(30 / 365));
  const sources = $derived(
    focus
      ? sourcesOf({
          expiry: focus,
          index30: view.picture.index30,
          forecast: expected === null ? null : { volatility: expected, model: forecast?.reason ? 'ewma' : 'garch' },
          history: null,
          typed: view.context.typedVolatility ?? null,
          drift: own.drift,
        })
      : [],
  );
  const rows = $derived(focus ? oddsRows(focus, sources, { level, side, told, smile30, drift: own.drift }) : []);
  const focusRange = $derived(ranges.find((r) => r.date === focus?.date));
  const explained = $derived({
    picture: view.picture,
    expiries: view.picture.expiries,
    ranges,
    rows: rows.map((row) => ({ ...row, level, side })),
    focus,
    drift: own.drift,
  });
  view.explainAlso('range', (id) => explainRangeFigure(explained, id));
  /** Listed strikes next to the line. */
  const listedThere = $derived(
    focus ? [...new Set(listedAround(focus.strikes, level).filter((strike) => strike !== null))] : [],
  );
  const betweenText = $derived.by(() => {
    if (second === undefined || !focus) return undefined;
    const smile = sources.find((s) => s.source === 'smile')?.odds;
    if (!smile) return undefined;
    const [low, high] = [Math.min(level, second), Math.max(level, second)];
    return { low, high, inside: smile.below(high) - smile.below(low) };
  });
</script>

<ViewFrame title="Range">
  {#snippet controls()}
    <RangeControls {own} {levels} {decimals} onlevels={(next) => setLevels(next, true)} />
  {/snippet}
  {#snippet main()}
    {#if bars.error !== undefined}<AnswerTrouble what="The bars" of={bars} />{/if}
    <div
      class="relative {own.panel === 'strikes' || own.panel === 'interest' ? 'h-[240px]' : 'h-[330px]'}"
      data-testid="range"
      data-stamp="{symbol} {view.picture.asOf}"
    >
      <RangeFan
        picture={view.picture}
        expiries={fanned}
        {laws}
        bars={shownBars}
        focus={focus?.date}
        {brackets}
        {levels}
        {tick}
        {decimals}
        {currency}
        {palette}
        frozen={shownFrozen}
        onlevel={(index, price, isFinal) =>
          setLevels(
            levels.map((l, i) => (i === index ? price : l)),
            isFinal,
          )}
      >
        {#snippet beside()}
          <label class="flex items-baseline gap-1"
            >ahead
            <select
              class="select select-xs w-[84px]"
              value={own.ahead}
              onchange={(event) =>
                view.address.set({
                  ahead: event.currentTarget.value === 'half' ? undefined : event.currentTarget.value,
                })}
            >
              {#each FAN_SPANS as span (span)}<option value={span}>{FAN_NAMES[span]}</option>{/each}
            </select></label
          >
        {/snippet}
      </RangeFan>
    </div>
    <Choice
      label="Below the chart"
      choices={RANGE_PANELS}
      chosen={own.panel}
      words={(panel) => PANEL_NAMES[panel]}
      onchoose={(panel) => view.address.set({ panel: panel === 'odds' ? undefined : panel })}
      class="mt-2"
    />
    {#if !focus}
      <p class="quiet mt-3 font-serif text-[14.5px]">
        No expiry in focus has a smile, so no source can tell odds. Pick another expiry, or put quotes back.
      </p>
    {:else if own.panel === 'odds'}
      <div class="mt-2 flex gap-6 max-[1100px]:flex-col">
        <div class="w-[56%] shrink-0 max-[1100px]:w-full">
          <h3 class="mb-1 text-[13px]">
            {side === 'below' ? 'Below' : 'Above'}
            <span class="text-own font-semibold">{numberText(level, decimals)}</span> by {dateText(
              focus.date,
              view.picture.asOf,
            )}, by source
          </h3>
          <p class="mb-1 flex flex-wrap items-baseline gap-x-3 text-[12.5px]" data-testid="nearest-strikes">
            <span class="quiet">{side === 'below' ? 'puts' : 'calls'} listed there</span>
            {#each listedThere as strike (strike)}
              <PickOption option={{ expiry: focus.date, strike, side: side === 'below' ? 'put' : 'call' }} />
            {/each}
          </p>
          {#if finish.error !== undefined}<AnswerTrouble what="The odds" of={finish} />{/if}
          {#if touch.error !== undefined}<AnswerTrouble what="The odds of touching" of={touch} />{/if}
          <OddsMatrix {symbol} {rows} {side} expiry={focus.date} />
          {#if betweenText}
            <p class="mt-1 text-[12.5px]" data-testid="between">
              Between {numberText(betweenText.low, decimals)} and {numberText(betweenText.high, decimals)}:
              {#each betweenOdds.answer?.results ?? [] as row (row.source)}
                {#if row.source === 'smile' || row.source === 'history'}
                  <span class="mr-2">
                    {row.source === 'smile' ? 'smile' : 'own history'}
                    <span class="font-semibold"
                      >{numberText((row.source === 'smile' ? betweenText.inside : (row.probability ?? NaN)) * 100, 0)} %</span
                    >
                  </span>
                {/if}
              {/each}
            </p>
          {/if}
        </div>
        <div class="min-w-0 flex-1">
          <h3 class="mb-1 text-[13px]">Expected move</h3>
          <p class="mb-1 flex items-baseline gap-1 text-[12.5px]">
            <span class="quiet">and in</span>
            <TypedNumber
              label="Days ahead whose expected move is told, on which nothing expires"
              text={own.between === undefined ? '' : daysText(own.between)}
              isOwn={own.between !== undefined}
              within={[Number.MIN_VALUE, 20_000]}
              ontype={(days) => view.address.set({ between: String(days) })}
            />
            <span class="quiet">days, from the surface</span>
            {#if own.between !== undefined}
              <button
                type="button"
                class="text-implied ml-2 min-h-6"
                onclick={() => view.address.set({ between: undefined })}>remove</button
              >
            {/if}
          </p>
          {#if between === null}
            <p class="text-event text-[12.5px]" role="status">
              In {daysText(own.between ?? 0)} days is before the first expiry or after the last: nothing tells it.
            </p>
          {/if}
          <MovesTable
            {symbol}
            asOf={view.picture.asOf}
            {ranges}
            between={between ?? undefined}
            choice={own.move}
            focus={focus.date}
            {decimals}
          />
        </div>
      </div>
    {:else if own.panel === 'strikes'}
      <div class="mt-3">
        <StrikesPanel {own} expiry={focus} {decimals} premiumDecimals={premiumDecimals(view.scale)} {currency} />
      </div>
    {:else if own.panel === 'record'}
      <div class="mt-3"><RecordPanel {own} {palette} /></div>
    {:else if own.panel === 'frozen'}
      <div class="mt-3">
        <FrozenPanel {symbol} asOf={view.picture.asOf} {own} {frozen} shown={fanned.map((e) => e.date)} {decimals} />
      </div>
    {:else}
      <div class="mt-3">
        <InterestChart
          expiry={focus}
          asOf={view.picture.asOf}
          multiplier={view.picture.underlying.multiplier}
          {currency}
          {palette}
          past={interest.answer?.symbol === symbol ? interest.answer : undefined}
        />
        {#if interest.error !== undefined}<AnswerTrouble what="The record of past expiries" of={interest} />{/if}
      </div>
    {/if}
    <PickedFoot />
  {/snippet}
  {#snippet aside()}<Reading
      sentences={rangeReading({
        picture: view.picture,
        focus,
        range: focusRange,
        choice: own.move,
        rows,
        level,
        side,
        drift: own.drift,
        decimals,
      })}
      onaction={view.act}
      picture={view.picture}
    />{/snippet}
</ViewFrame>
