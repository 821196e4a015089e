<!-- A number to type. What is being typed stays as it is until it is taken, whatever else arrives meanwhile. -->
<script lang="ts">
  import { parseNumber } from './number-input';

  interface Props {
    label: string;
    text: string;
    isOwn?: boolean;
    id?: string;
    placeholder?: string;
    /** Takes a finite number; what is none is given up */
    ontype: (value: number) => void;
  }
  let { label, text, isOwn = false, id, placeholder, ontype }: Props = $props();
  let typed = $state<string>();
  let isWrong = $state(false);
  const uid = $props.id();

  function take(input: string): void {
    if (typed === undefined || input === text) return;
    const value = parseNumber(input);
    isWrong = !Number.isFinite(value);
    // What is wrong stays to be mended.
    if (isWrong) return;
    typed = undefined;
    ontype(value);
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
  aria-invalid={isWrong}
  aria-describedby={isWrong ? `${uid}-wrong` : undefined}
  value={typed ?? text}
  onfocus={() => (typed ??= text)}
  onblur={() => {
    if (!isWrong) typed = undefined;
  }}
  oninput={(event) => {
    typed = event.currentTarget.value;
    isWrong = false;
  }}
  onchange={(event) => take(event.currentTarget.value)}
  onkeydown={(event) => {
    if (event.key === 'Enter') take(event.currentTarget.value);
    if (event.key === 'Escape') {
      typed = undefined;
      isWrong = false;
    }
  }}
/>
{#if isWrong}<span id="{uid}-wrong" class="text-loss block text-[11.5px]" role="alert">a number is needed</span>{/if}
