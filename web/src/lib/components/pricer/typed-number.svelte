<!-- A number to type. What is being typed stays as it is until it is taken, whatever else arrives meanwhile. -->
<script lang="ts">
  import { parseNumber } from '$lib/figures/number-input';

  interface Props {
    label: string;
    text: string;
    isOwn?: boolean;
    id?: string;
    /** Takes a finite number; what is none is given up */
    ontype: (value: number) => void;
  }
  let { label, text, isOwn = false, id, ontype }: Props = $props();
  let typed = $state<string>();

  function take(input: string): void {
    if (typed === undefined) return;
    typed = undefined;
    const value = parseNumber(input);
    if (Number.isFinite(value)) ontype(value);
  }
</script>

<input
  {id}
  type="text"
  inputmode="decimal"
  autocomplete="off"
  class="typed w-[64px] {isOwn ? 'text-own font-semibold' : ''}"
  aria-label={label}
  value={typed ?? text}
  oninput={(event) => (typed = event.currentTarget.value)}
  onchange={(event) => take(event.currentTarget.value)}
  onkeydown={(event) => {
    if (event.key === 'Enter') take(event.currentTarget.value);
    if (event.key === 'Escape') typed = undefined;
  }}
/>
