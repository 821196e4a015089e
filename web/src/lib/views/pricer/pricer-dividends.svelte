<!-- Cash dividends as a small table, typed or pasted, with the convention they are taken by. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import { escrowedPrice } from '@umwelt/core/whatif';
  import { numberText } from '$lib/ui/format';
  import { readDays, readDividends, readNumber, type TypedDividend } from '$lib/ui/number-input';
  import { optionOf } from '$lib/theory';
  import { pricerState } from './pricer-state.svelte';

  interface Props {
    /** Instant that days count from, and time of day of an expiry */
    from: number;
    expiryTime: string | undefined;
    /** Takes the list; returns what is wrong with it, if anything */
    ontake: (dividends: TypedDividend[]) => string | undefined;
  }
  let { from, expiryTime, ontake }: Props = $props();
  const pricer = pricerState();
  const { inputs } = $derived(pricer);
  const isOwn = $derived(pricer.own.dividends !== undefined);
  let wrong = $state<string>();
  /** The row that is being added, until it is whole. */
  let added = $state({ days: '', amount: '' });

  function takeAll(dividends: TypedDividend[]): void {
    wrong = ontake([...dividends].sort((a, b) => a.days - b.days));
  }

  function change(index: number, name: keyof TypedDividend, text: string): void {
    const read = name === 'days' ? readDays(text, from, expiryTime) : readNumber(text);
    wrong = read.ok ? undefined : read.wrong;
    if (read.ok) takeAll(inputs.dividends.map((d, i) => (i === index ? { ...d, [name]: read.value } : d)));
  }

  function add(): void {
    if (added.days.trim() === '' || added.amount.trim() === '') return;
    const [days, amount] = [readDays(added.days, from, expiryTime), readNumber(added.amount)];
    wrong = !days.ok ? days.wrong : !amount.ok ? amount.wrong : undefined;
    if (!days.ok || !amount.ok) return;
    takeAll([...inputs.dividends, { days: days.value, amount: amount.value }]);
    if (wrong === undefined) added = { days: '', amount: '' };
  }

  /** Rows of a sheet or a written list come all at once, in place of what is there. */
  function paste(event: ClipboardEvent): void {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!/[\n\t:;@]/.test(text.trim())) return;
    event.preventDefault();
    const read = readDividends(text, from, expiryTime);
    if (read.ok) takeAll(read.dividends);
    else ({ wrong } = read);
  }

  const within = $derived(inputs.dividends.filter((d) => d.amount > 0 && d.days < inputs.days));
  /** Call and put as textbooks value them; undefined where the dividends are worth the underlying. */
  const escrowed = $derived.by(() => {
    if (within.length === 0) return undefined;
    try {
      return (['call', 'put'] as const).map((side) => escrowedPrice(optionOf({ ...inputs, side })) * pricer.factor);
    } catch (error) {
      if (error instanceof RangeError) return undefined;
      throw error;
    }
  });
  const id = $props.id();
</script>

{#snippet cell(label: string, text: string, onvalue: (text: string) => void)}
  <input
    type="text"
    inputmode="decimal"
    autocomplete="off"
    class="typed min-h-6 w-full {isOwn ? 'text-own font-semibold' : ''}"
    aria-label={label}
    value={text}
    onpaste={paste}
    onchange={(event) => onvalue(event.currentTarget.value)}
  />
{/snippet}

<div
  class="grid grid-cols-[74px_1fr_16px] gap-x-1.5 pt-1"
  role="group"
  aria-label="dividends"
  aria-describedby="{id}-says"
>
  <span class="quiet">dividends</span>
  <div>
    <div class="quiet grid grid-cols-[1fr_1fr_24px] gap-x-2 text-right text-[11.5px]">
      <span>days or date</span><span>amount</span>
    </div>
    {#each inputs.dividends as dividend, i (i)}
      <div class="grid grid-cols-[1fr_1fr_24px] items-center gap-x-2" data-testid="dividend">
        {@render cell(`dividend ${i + 1}, days or date`, String(Number(dividend.days.toFixed(2))), (text) =>
          change(i, 'days', text),
        )}
        {@render cell(`dividend ${i + 1}, amount`, String(Number(dividend.amount.toFixed(4))), (text) =>
          change(i, 'amount', text),
        )}
        <button
          type="button"
          class="grid min-h-6 min-w-6 place-items-center"
          aria-label="Take dividend {i + 1} away"
          onclick={() => takeAll(inputs.dividends.filter((_, at) => at !== i))}><X size={12} /></button
        >
      </div>
    {/each}
    <div class="grid grid-cols-[1fr_1fr_24px] items-center gap-x-2">
      {@render cell('another dividend, days or date', added.days, (text) => {
        added.days = text;
        add();
      })}
      {@render cell('another dividend, amount', added.amount, (text) => {
        added.amount = text;
        add();
      })}
    </div>
    {#if wrong}<p class="text-loss text-[11.5px]" role="alert">dividends: {wrong}</p>{/if}
    <p id="{id}-says" class="quiet py-1 text-[11.5px] leading-4">
      The underlying falls by the amount; volatility is that of the whole underlying. Rows can be pasted.
      {#if escrowed}
        As textbooks escrow them, European:
        <span data-testid="escrowed"
          >call {numberText(escrowed[0], pricer.valueDecimals)}, put {numberText(
            escrowed[1],
            pricer.valueDecimals,
          )}</span
        >.
      {/if}
    </p>
  </div>
  {#if isOwn}
    <button
      type="button"
      class="text-own self-start"
      aria-label="dividends: back to the market's"
      onclick={() => {
        wrong = undefined;
        pricer.reset('dividends');
      }}>↺</button
    >
  {/if}
</div>
