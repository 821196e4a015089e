<!-- What early exercise and theory rest on: known, inferred from the quotes, or typed; inferred carry can be taken over and given back. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import { numberText } from '$lib/ui/format';
  import { readNumber } from '$lib/ui/number-input';
  import { type AsOfContext } from '$lib/api/as-of-context';
  import { borrowRate, CARRY_CHOICES, financingRate } from '$lib/api/carry';
  import { viewState } from './view-state.svelte';
  import CarryTakeover from './carry-takeover.svelte';

  type CarryChoice = AsOfContext['carry'];
  const view = viewState();
  const carry = $derived(view.picture.carry);
  let trouble = $state<string>();

  const notes: Record<CarryChoice, string> = {
    inferred: 'What is known, unless the quotes of all expiries together contradict it',
    known: 'Curve and dividends as they are stored, whatever the quotes say',
    typed: 'Financing beside the curve and cost to borrow as you type them',
  };

  function take(choice: CarryChoice): void {
    const { inferred } = carry;
    const typed =
      choice === 'typed'
        ? {
            financing: String(view.context.financing ?? rounded(inferred?.financing.value)),
            borrowCost: String(view.context.borrowCost ?? rounded(inferred?.borrow.value)),
          }
        : { financing: undefined, borrowCost: undefined };
    void view.address.set({ carry: choice === 'inferred' ? undefined : choice, ...typed });
  }

  function rounded(value = 0): number {
    return Math.round(value * 1e5) / 1e5;
  }

  function type(name: 'financing' | 'borrowCost', text: string): void {
    const read = readNumber(text);
    if (!read.ok) {
      trouble = `${name === 'financing' ? 'Financing' : 'Borrow'}: ${read.wrong}.`;
      return;
    }
    const value = read.value / 100;
    const rule = name === 'financing' ? financingRate : borrowRate;
    const isRight = rule.safeParse(value).success;
    const range = name === 'financing' ? '−50 and 50' : '−50 and 200';
    trouble = isRight
      ? undefined
      : `${name === 'financing' ? 'Financing' : 'Borrow'} must lie between ${range} % a year.`;
    if (isRight) void view.address.set({ carry: 'typed', [name]: String(value) });
  }
</script>

<fieldset class="mt-3">
  <legend class="small-caps">Dividends, borrow, financing</legend>
  <Choice
    label="Dividends, borrow, financing"
    class="mt-1"
    choices={CARRY_CHOICES}
    chosen={view.context.carry}
    onchoose={take}
  />
  <p class="quiet mt-1 text-[11.5px]">{notes[view.context.carry]}.</p>
  {#if view.context.carry === 'typed'}
    <div class="mt-1 flex gap-4 text-[12.5px]">
      {#each [['financing', 'financing', view.context.financing], ['borrowCost', 'borrow', view.context.borrowCost]] as const as [name, label, value] (name)}
        <label
          >{label}
          <input
            class="text-own border-line w-14 border-b bg-transparent text-right"
            aria-label="{label}, % a year"
            inputmode="decimal"
            value={numberText(100 * (value ?? 0), 2)}
            onchange={(event) => type(name, event.currentTarget.value)}
          /> %</label
        >
      {/each}
    </div>
    {#if trouble}<p class="text-loss mt-1 text-[11.5px]">{trouble}</p>{/if}
  {/if}
  <CarryTakeover />
</fieldset>
