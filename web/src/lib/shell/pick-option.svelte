<!-- A listed option by its strike, to be picked beside it: one contract more, one less. -->
<script lang="ts">
  import { pickedOf, type PickableOption } from '$lib/api/picked-legs';
  import { signedText, strikeText } from '$lib/ui/format';
  import { quotedViewState } from './view-state.svelte';

  interface Props {
    option: PickableOption;
  }
  let { option }: Props = $props();
  const view = quotedViewState();
  const count = $derived(pickedOf(view.context.legs, option));
  const name = $derived(`${strikeText(option.strike)} ${option.side}`);
</script>

<span class="inline-flex items-baseline gap-1 whitespace-nowrap">
  {strikeText(option.strike)}
  <button type="button" class="kbd-mark" aria-label="Pick one {name} more" onclick={() => view.pick(option, 1)}
    >+</button
  >
  <button type="button" class="kbd-mark" aria-label="Pick one {name} less" onclick={() => view.pick(option, -1)}
    >−</button
  >
  {#if count !== 0}<span class="text-own font-semibold" aria-label="{signedText(count, 0)} picked"
      >{signedText(count, 0)}</span
    >{/if}
</span>
