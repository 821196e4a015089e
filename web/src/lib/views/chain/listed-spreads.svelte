<!-- Listed spreads against theory. -->
<script lang="ts">
  import AnswerTrouble from '../../shell/answer-trouble.svelte';
  import TableMenu from '../../shell/table-menu.svelte';
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import { countText, instantLabel, numberText, tickDecimals } from '$lib/ui/format';
  import { spreadParts, spreadValue } from '$lib/theory';
  import { tradedText } from '$lib/market';
  import { spreadsRoute } from '$lib/api/contract/views';
  import { Fetched } from '$lib/api/client/fetched.svelte';
  import { TheoryValues } from '$lib/theory/thread';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  const view = quotedViewState();
  const symbol = $derived(view.picture.underlying.symbol);
  const decimals = $derived(tickDecimals(view.picture.underlying.optionTick));
  const fetched = new Fetched(spreadsRoute, () => ({ parameters: { symbol }, query: { asOf: view.picture.asOf } }));
  const parts = $derived(
    spreadParts(
      view.picture,
      (fetched.answer?.spreads ?? []).map((s) => s.legs),
    ),
  );
  const values = new TheoryValues(() => ({ parts, inForce: view.inForce, stamp: view.theoryStamp }));
  const rows = $derived(
    (fetched.answer?.spreads ?? []).map((spread) => {
      const theory = spreadValue(spread.legs, parts, values.values);
      const standing =
        theory === null ? null : spread.bid > theory ? 'dear' : spread.ask < theory ? 'cheap' : ('inside' as const);
      return { ...spread, theory, standing, text: tradedText(spread.kind, spread.legs, view.picture.asOf) };
    }),
  );
</script>

{#if fetched.error !== undefined}
  <AnswerTrouble what="The listed spreads" of={fetched} />
{:else if fetched.answer && rows.length === 0}
  <p class="quiet p-8 font-serif text-[15px]">
    No listed spreads are stored for this session. The demo keeps them for its today and for the days with quarter-hours
    of VM50, MERRO, TYNDA and RYE.
  </p>
{:else}
  <TableMenu name="{symbol} listed spreads" />
  <TheoryTrouble trouble={values.trouble} />
  <table class="figures text-[12.5px] {fetched.isLoading ? 'opacity-60' : ''}" data-testid="spreads">
    <thead class="bg-paper sticky top-0 z-10">
      <tr
        ><th>spread</th><th>bid</th><th>wanted</th><th>offer</th><th>offered</th><th>theory</th><th>dear / cheap</th
        ></tr
      >
    </thead>
    <tbody>
      {#each rows as row (row.text)}
        <tr class="border-hair border-b">
          <td class="font-semibold">{row.text}</td>
          <td>{numberText(row.bid, decimals)}</td>
          <td class="quiet">{countText(row.bidSize)}</td>
          <td>{numberText(row.ask, decimals)}</td>
          <td class="quiet">{countText(row.askSize)}</td>
          <td class="text-implied font-semibold {values.isProvisional ? 'opacity-50' : ''}"
            >{numberText(row.theory, decimals)}</td
          >
          <td class={values.isProvisional ? 'opacity-50' : ''}
            >{#if row.standing === 'dear'}▲ dear {numberText(row.bid - (row.theory ?? 0), decimals)}
            {:else if row.standing === 'cheap'}▼ cheap {numberText((row.theory ?? 0) - row.ask, decimals)}
            {:else}<span class="quiet">{row.standing ?? '—'}</span>{/if}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
  {#if fetched.answer?.quotedAt && fetched.answer.quotedAt !== view.picture.asOf}
    <p class="quiet mt-2">quoted {instantLabel(fetched.answer.quotedAt)}</p>
  {/if}
{/if}
