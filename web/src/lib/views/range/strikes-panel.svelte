<!-- Strikes for odds: where put and call have the chance that is asked for, what is listed beside, and what safety costs. -->
<script lang="ts">
  import { page as route } from '$app/state';
  import AnswerTrouble from '$lib/shell/answer-trouble.svelte';
  import PickOption from '$lib/shell/pick-option.svelte';
  import ValueTable from '$lib/shell/value-table.svelte';
  import Choice from '$lib/ui/choice.svelte';
  import TypedNumber from '$lib/ui/typed-number.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { strikesRoute } from '$lib/api/contract/views';
  import { derivingQuery } from '$lib/api/as-of-context';
  import { type OddsStrike, STRIKE_GOALS } from '$lib/api/range';
  import type { ExpiryPicture } from '$lib/api/picture';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { countText, dateText, numberText, probabilityText, strikeText } from '$lib/ui/format';
  import { sessionOutEarned } from '$lib/theory';
  import type { RangeParameters } from './parameters';
  import PremiumCurve from './premium-curve.svelte';

  interface Props {
    own: RangeParameters;
    expiry: ExpiryPicture;
    decimals: number;
    premiumDecimals: number;
    currency: string;
  }
  let { own, expiry, decimals, premiumDecimals, currency }: Props = $props();
  const view = quotedViewState();
  const GOAL_NAMES = { itm: 'to end in the money', touch: 'to be touched', delta: 'of delta' } as const;
  const asked = $derived.by(() => {
    const query = derivingQuery(route.url.searchParams);
    query.set('asOf', view.live.minute);
    query.set('expiry', expiry.date);
    query.set('probability', String(own.chance));
    query.set('kind', own.goal);
    if (own.drift !== 0) query.set('drift', String(own.drift));
    return { parameters: { symbol: view.picture.underlying.symbol }, query };
  });
  const fetched = new Fetched(strikesRoute, () => asked);

  interface Row extends OddsStrike {
    side: 'put' | 'call';
  }
  const rows = $derived(
    (['put', 'call'] as const).flatMap((side): Row[] => {
      const strike = fetched.answer?.[side];
      return strike ? [{ side, ...strike }] : [];
    }),
  );
  const missing = $derived(fetched.answer ? (['put', 'call'] as const).filter((side) => !fetched.answer?.[side]) : []);
  const premium = (value: number | null) => numberText(value, premiumDecimals);
  const outEarned = (r: Row, change: number) => sessionOutEarned(expiry, r, change)?.probability ?? null;
  /** The listed strike on one side of the chance, and what it costs. */
  const listedColumns = (end: 'below' | 'above'): TableColumn<Row>[] => {
    const strike = (r: Row) => (end === 'below' ? r.listedBelow : r.listedAbove);
    const worth = (r: Row) => (end === 'below' ? r.premiumBelow : r.premiumAbove);
    return [
      {
        id: end,
        head: `listed ${end}`,
        width: 104,
        definition: '+ and − pick it.',
        value: strike,
        text: (r) => strikeText(strike(r) ?? NaN),
        cell: end === 'below' ? pickBelow : pickAbove,
      },
      {
        id: end === 'below' ? 'premiumBelow' : 'premiumAbove',
        head: 'theory',
        width: 62,
        value: worth,
        text: (r) => premium(worth(r)),
      },
    ];
  };
  const columns = $derived<TableColumn<Row>[]>([
    { id: 'side', head: 'side', isFixed: true, width: 44, align: 'left', value: (r) => r.side, text: (r) => r.side },
    {
      id: 'strike',
      head: 'strike',
      width: 66,
      definition: 'Where the chance is exactly as asked for, listed or not.',
      value: (r) => r.strike,
      text: (r) => numberText(r.strike, decimals),
    },
    {
      id: 'premium',
      head: 'theory there',
      width: 76,
      value: (r) => r.premium,
      text: (r) => premium(r.premium),
    },
    ...listedColumns('below'),
    ...listedColumns('above'),
    {
      id: 'outEarned',
      head: 'gains in a session',
      width: 104,
      definition:
        "Chance that the next session's move brings its value above today's after what the session takes, its volatility kept.",
      value: (r) => outEarned(r, 0),
      text: (r) => probabilityText(outEarned(r, 0)),
    },
    {
      id: 'outEarnedLower',
      head: 'a point lower',
      width: 82,
      definition: 'The same where its volatility is one point lower by then.',
      value: (r) => outEarned(r, -0.01),
      text: (r) => probabilityText(outEarned(r, -0.01)),
    },
  ]);
</script>

{#snippet listed(side: 'put' | 'call', strike: number | null)}
  {#if strike === null}—{:else}<PickOption option={{ expiry: expiry.date, strike, side }} />{/if}
{/snippet}
{#snippet pickBelow(r: Row)}{@render listed(r.side, r.listedBelow)}{/snippet}
{#snippet pickAbove(r: Row)}{@render listed(r.side, r.listedAbove)}{/snippet}

<div class="flex flex-wrap items-baseline gap-x-2 gap-y-1 text-[12.5px]">
  <span class="quiet">strikes with</span>
  <TypedNumber
    label="Chance, percent"
    text={numberText(own.chance * 100, 0)}
    isOwn
    isPercent
    within={[0.1, 99.9]}
    ontype={(percent) => view.address.set({ chance: String(percent / 100) })}
  />
  <span class="quiet">%</span>
  <Choice
    label="Of what"
    choices={STRIKE_GOALS}
    chosen={own.goal}
    words={(goal) => GOAL_NAMES[goal]}
    onchoose={(goal) => view.address.set({ goal: goal === 'itm' ? undefined : goal })}
  />
  <span class="quiet"
    >by {dateText(expiry.date, view.picture.asOf)}, fitted smile; premium in {currency}, contract of {countText(
      view.picture.underlying.multiplier,
    )}</span
  >
</div>
{#if fetched.error !== undefined}<AnswerTrouble what="The strikes" of={fetched} />{/if}
<div class={fetched.isLoading ? 'opacity-60' : ''} aria-busy={fetched.isLoading}>
  <ValueTable
    name="{view.picture.underlying.symbol} strikes for odds, {expiry.date}"
    storage="range-strikes-columns"
    {columns}
    {rows}
    rowKey={(r) => r.side}
    testid="odds-strikes"
    class="mt-1 text-[12.5px]"
  />
  {#each missing as side (side)}<p class="quiet">No {side} has such a chance by this expiry.</p>{/each}
</div>
<PremiumCurve
  {expiry}
  chance={own.chance}
  {premiumDecimals}
  {currency}
  onchance={(chance) => view.address.set({ chance: String(chance) })}
/>
