<!-- One input as a slider with its typed value. What is the user's own is plum, and can be given back to the market. -->
<script lang="ts">
  import RotateCcw from '@lucide/svelte/icons/rotate-ccw';

  interface Props {
    label: string;
    unit: string;
    /** The value as it is written */
    text: string;
    /** Slider position and ends; without ends there is no slider */
    value?: number;
    min?: number;
    max?: number;
    step?: number;
    isOwn: boolean;
    /** Takes what was typed; returns what is wrong with it, if anything */
    ontype: (text: string) => string | undefined;
    onslide?: (value: number) => void;
    onreset: () => void;
    hint?: string;
  }
  let { label, unit, text, value, min, max, step, isOwn, ontype, onslide, onreset, hint }: Props = $props();
  let wrong = $state<string>();
  let typed = $state<string>();
  const id = $props.id();

  function take(input: string): void {
    if (typed === undefined || input === text) return;
    wrong = ontype(input);
    // What is wrong stays to be mended.
    typed = wrong ? input : undefined;
  }
</script>

<div class="group relative grid h-[29px] grid-cols-[74px_1fr_84px_34px_16px] items-center gap-x-1.5">
  <label for={id} class="quiet truncate">{label}</label>
  {#if min !== undefined && max !== undefined && onslide}
    <input
      type="range"
      class="slider"
      class:own={isOwn}
      {min}
      {max}
      {step}
      {value}
      aria-label="{label}, slider"
      oninput={(event) => {
        wrong = typed = undefined;
        onslide(event.currentTarget.valueAsNumber);
      }}
    />
  {/if}
  <input
    {id}
    type="text"
    inputmode="decimal"
    autocomplete="off"
    spellcheck="false"
    class="typed {isOwn ? 'text-own font-semibold' : ''} {min === undefined ? 'col-span-2 col-start-2' : ''}"
    value={typed ?? text}
    aria-invalid={wrong !== undefined}
    aria-describedby={wrong ? `${id}-wrong` : hint ? `${id}-hint` : undefined}
    onfocus={() => (typed ??= text)}
    onblur={() => {
      if (!wrong) typed = undefined;
    }}
    oninput={(event) => (typed = event.currentTarget.value)}
    onchange={(event) => take(event.currentTarget.value)}
    onkeydown={(event) => {
      if (event.key === 'Enter') take(event.currentTarget.value);
      if (event.key === 'Escape') wrong = typed = undefined;
    }}
  />
  <span class="quiet text-[11.5px]">{unit}</span>
  {#if hint}
    <p id="{id}-hint" class="tooltip-words absolute top-full left-20 hidden group-focus-within:block group-hover:block">
      {hint}
    </p>
  {/if}
  {#if isOwn}
    <button type="button" class="text-own" aria-label="{label}: back to the market's" onclick={onreset}
      ><RotateCcw size={12} /></button
    >
  {/if}
</div>
{#if wrong}
  <p id="{id}-wrong" class="text-loss -mt-0.5 pb-1 pl-20 text-[11.5px]" role="alert">{label}: {wrong}</p>
{/if}
