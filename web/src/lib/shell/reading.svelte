<!-- Sentences made from the numbers on the screen; each number opens its Workings. -->
<script lang="ts">
  import Figure from './figure.svelte';
  import MissingHistory from './missing-history.svelte';
  import type { Overview } from '$lib/api/picture';
  import type { Sentence, SentenceAction } from '$lib/shell/reading/sentence';

  interface Props {
    sentences: Sentence[];
    /** What a sentence may offer to do */
    onaction?: (action: SentenceAction) => void;
    /** Whose history may be missing */
    picture?: Overview;
  }
  let { sentences, onaction, picture }: Props = $props();
</script>

<section aria-label="Reading" class="space-y-3">
  <h2 class="small-caps">Reading</h2>
  {#each sentences as sentence, i (i)}
    <p class="font-serif text-[14.5px] leading-[1.5]">
      {#each sentence as part, n (n)}
        {#if typeof part === 'string'}{part}{:else if 'figure' in part}<Figure
            id={part.figure}
            text={part.text}
            isInline
          />{:else}<button
            type="button"
            class="underline decoration-dotted underline-offset-4"
            onclick={() => onaction?.(part.action)}>{part.text}</button
          >{/if}
      {/each}
    </p>
  {/each}
</section>
{#if picture}{#key picture.underlying.symbol}<MissingHistory {picture} />{/key}{/if}
