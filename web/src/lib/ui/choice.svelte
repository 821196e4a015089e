<!-- One of a few, all in sight. -->
<script lang="ts" generics="Choice extends string | number">
  interface Props {
    /** What is chosen, for those who hear it */
    label: string;
    choices: readonly Choice[];
    chosen: Choice | undefined;
    /** What a choice is called, where that is not itself */
    words?: (choice: Choice) => string;
    onchoose: (choice: Choice) => void;
    isDisabled?: (choice: Choice) => boolean;
    class?: string;
  }
  let { label, choices, chosen, words = String, onchoose, isDisabled, class: tone = '' }: Props = $props();
</script>

<div class="segment {tone}" role="group" aria-label={label}>
  {#each choices as choice (choice)}
    <button
      type="button"
      aria-pressed={chosen === choice}
      disabled={isDisabled?.(choice)}
      onclick={() => onchoose(choice)}>{words(choice)}</button
    >
  {/each}
</div>
