<!-- A number to type. What is being typed stays as it is until it is taken, whatever else arrives meanwhile. -->
<script lang="ts">
  import { readWithin } from './number-input';

  interface Props {
    label: string;
    text: string;
    isOwn?: boolean;
    id?: string;
    placeholder?: string;
    /** Least and most that it may be; what lies beyond stays typed, and the range is said */
    within?: readonly [least: number, most: number];
    isWhole?: boolean;
    isNonzero?: boolean;
    /** Whether it is in percent: then a percent sign says nothing else */
    isPercent?: boolean;
    /** Takes a number that may be; of any other nothing changes */
    ontype: (value: number) => void;
    /** Takes that nothing is typed any more; without it a number is needed */
    onclear?: () => void;
  }
  let {
    label,
    text,
    isOwn = false,
    id,
    placeholder,
    within,
    isWhole,
    isNonzero,
    isPercent,
    ontype,
    onclear,
  }: Props = $props();
  let typed = $state<string>();
  let wrong = $state<string>();
  const uid = $props.id();

  function take(input: string): void {
    if (typed === undefined || input === text) return;
    if (onclear && input.trim() === '') {
      typed = undefined;
      wrong = undefined;
      onclear();
      return;
    }
    const read = readWithin(input, { within, isWhole, isNonzero, isPercent });
    wrong = read.ok ? undefined : read.wrong;
    // What is wrong stays to be mended.
    if (!read.ok) return;
    typed = undefined;
    ontype(read.value);
  }
</script>

<input
  {id}
  {placeholder}
  type="text"
  inputmode="decimal"
  autocomplete="off"
  class="typed w-[64px] {isOwn ? 'text-own font-semibold' : ''}"
  aria-label={label}
  aria-invalid={wrong !== undefined}
  aria-describedby={wrong ? `${uid}-wrong` : undefined}
  value={typed ?? text}
  onfocus={() => (typed ??= text)}
  onblur={() => {
    if (!wrong) typed = undefined;
  }}
  oninput={(event) => {
    typed = event.currentTarget.value;
    wrong = undefined;
  }}
  onchange={(event) => take(event.currentTarget.value)}
  onkeydown={(event) => {
    if (event.key === 'Enter') take(event.currentTarget.value);
    if (event.key === 'Escape') {
      typed = undefined;
      wrong = undefined;
    }
  }}
/>
{#if wrong}<span id="{uid}-wrong" class="text-loss block text-[11.5px]" role="alert">{wrong}</span>{/if}
