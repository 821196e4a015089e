<!-- Quotes of the focus expiry against theory, as a strike ladder. -->
<script lang="ts">
  import { BASES } from '$lib/api/as-of-context';
  import Choice from '$lib/ui/choice.svelte';
  import Ladder from './ladder.svelte';
  import ListedSpreads from './listed-spreads.svelte';
  import TradesTable from './trades-table.svelte';
  import ExcludedQuotes from '../../shell/excluded-quotes.svelte';
  import Figure from '../../shell/figure.svelte';
  import Reading from '../../shell/reading.svelte';
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import ViewFrame from '../../shell/view-frame.svelte';
  import { chainOptions, chainRows, type ListedOption } from '$lib/theory';
  import { currencyName, dateText, daysText, numberText, percentileText, volatilityText } from '$lib/ui/format';
  import { figureId, figureScale, figureText } from '$lib/measures';
  import { CHAIN_FILTERS, FILTER_WORDS, filteredRows, NOTHING_WORDS } from './chain-filter';
  import { chainReading } from './chain-reading';
  import { CHAIN_LAYOUTS, CHAIN_TABLES, chainParameters } from './parameters';
  import PickedFoot from '../../shell/picked-foot.svelte';
  import TwoSided from './two-sided.svelte';
  import { TheoryValues } from '$lib/theory/thread';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  const LAYOUT_WORDS: Record<(typeof CHAIN_LAYOUTS)[number], string> = {
    out: 'one side',
    both: 'both sides',
    list: 'in one list',
  };
  const view = quotedViewState();
  const own = $derived(view.address.own(chainParameters));
  const focus = $derived(view.focus);
  const options = $derived(focus ? chainOptions(focus, own.sides === 'out' ? 'out' : 'both') : []);
  const theory = new TheoryValues(
    () => focus && { parts: [{ expiry: focus, options }], inForce: view.inForce, stamp: view.theoryStamp },
  );
  const rows = $derived(focus ? chainRows(focus, options, theory.values[0] ?? []) : []);
  const filtered = $derived(focus ? filteredRows(rows, own.show, focus) : []);
  const underlying = $derived(view.picture.underlying);
  const step = ({ strike, side }: ListedOption, by: 1 | -1) =>
    focus && view.pick({ expiry: focus.date, strike, side }, by);
</script>

<ViewFrame title="Chain">
  {#snippet controls()}
    {#if focus}
      <span>
        <strong>{dateText(focus.date, view.picture.asOf)}</strong> · {daysText(focus.days)} days · forward
        <Figure
          id={figureId('forward', focus.date)}
          text={figureText(focus.forward, 'price', figureScale(view.picture))}
        /> · discount factor
        <Figure id={figureId('discountFactor', focus.date)} text={numberText(focus.discountFactor, 4)} /> · at the money
        <Figure id={figureId('atm', focus.date)} text="{volatilityText(focus.atm)} %" />{#if focus.standing}
          <span class="quiet ml-1"
            ><Figure
              id={figureId('expiryPercentile', focus.date)}
              text={percentileText(focus.standing.percentile, 'pct')}
            /> · rank <Figure
              id={figureId('expiryRank', focus.date)}
              text={focus.standing.rank === null ? '—' : String(Math.round(focus.standing.rank * 100))}
            /></span
          >
        {/if}
      </span>
      <Choice
        label="Table"
        choices={CHAIN_TABLES}
        chosen={own.table}
        onchoose={(table) => view.address.set({ table: table === 'quotes' ? undefined : table })}
      />
      {#if own.table === 'quotes'}
        <Choice
          label="Sides"
          choices={CHAIN_LAYOUTS}
          chosen={own.sides}
          words={(sides) => LAYOUT_WORDS[sides]}
          onchoose={(sides) => view.address.set({ sides: sides === 'out' ? undefined : sides })}
        />
        <Choice
          label="Quotes shown"
          choices={CHAIN_FILTERS}
          chosen={own.show}
          words={(show) => FILTER_WORDS[show]}
          onchoose={(show) => view.address.set({ show: show === 'all' ? undefined : show })}
        />
        <Choice
          label="Basis of Greeks"
          choices={BASES}
          chosen={view.context.basis}
          words={(basis) => (basis === 'share' ? basis : `contract ×${underlying.multiplier}`)}
          onchoose={(basis) => view.address.set({ basis: basis === 'share' ? undefined : basis })}
        />
        <span class="ml-auto flex items-baseline gap-3 text-[11.5px]"
          ><span class="quiet">premiums in {currencyName(underlying.currency)}</span><ExcludedQuotes
            expiries={[focus]}
          /></span
        >
        <TheoryTrouble trouble={theory.trouble} />
      {/if}
    {/if}
  {/snippet}
  {#snippet main()}
    {#if !focus}
      <p class="quiet p-8 font-serif text-[15px]">
        No expiry is in focus. Click one in the ribbon, or press <span class="kbd-mark">a</span> for all.
      </p>
    {:else}
      {#if own.table === 'spreads'}<ListedSpreads />{:else if own.table === 'trades'}<TradesTable
          {own}
        />{:else if filtered.length === 0}
        <p class="quiet p-8 font-serif text-[15px]">
          {NOTHING_WORDS[own.show]}
          {#if own.show !== 'all'}<button
              type="button"
              class="text-implied"
              onclick={() => view.address.set({ show: undefined })}>Show all.</button
            >{/if}
        </p>
      {:else if own.sides === 'both'}
        <TwoSided {focus} rows={filtered} isPending={theory.isPending} legs={view.context.legs} onpick={step} />
      {:else}
        <Ladder {focus} rows={filtered} isPending={theory.isPending} onpick={step} />
      {/if}
      <PickedFoot />
    {/if}
  {/snippet}
  {#snippet aside()}<Reading
      sentences={chainReading(view.picture, focus, view.context, theory.isPending ? undefined : rows)}
      onaction={view.act}
      excluded={focus ? [focus] : []}
      picture={view.picture}
    />{/snippet}
</ViewFrame>
